book <- daybook(few_orders(), on)

test_that("the period axis has no gaps, for every member that occurs, in the order of time", {
  rows <- plain(rollup(book, c(depot, quarter), sales = sum(amount)))
  expect_identical(unique(rows$depot), c("Skelby", "Thornmoor", "(none)"))
  each <- format(rows$quarter[rows$depot == "Skelby"], "key")
  expect_identical(each, c("2024-Q1", "2024-Q2", "2024-Q3", "2024-Q4", "2025-Q1"))
  expect_identical(rows$sales[rows$depot == "(none)"], c(0, 0, 0, 0, 50.5))
  expect_identical(rows$.role, rep("line", 15L))
})

test_that("the axes order the rows, the first slowest", {
  rows <- plain(rollup(book, c(year, depot), sales = sum(amount)))
  expect_identical(format(rows$year), rep(c("2024", "2025"), each = 3L))
  expect_identical(rows$depot, rep(c("Skelby", "Thornmoor", "(none)"), 2L))
})

test_that("a table by nested periods keeps both", {
  rows <- plain(rollup(book, c(year, month), sales = sum(amount), ytd = ytd(sales)))
  expect_identical(format(as_period(rows$month, year)), format(rows$year))
  expect_identical(rows$ytd[format(rows$month, "key") == "2024-12"], 60)
})

test_that("periods of two calendars cut each other", {
  two <- daybook(few_orders(), on, list(fiscal = fiscal_calendar("July"), civil = civil_calendar()))
  rows <- plain(rollup(two, c(year, civil$year), sales = sum(amount)))
  expect_identical(format(rows$year), c("FY2024", "FY2025", "FY2025"))
  expect_identical(format(rows$civil_year), c("2024", "2024", "2025"))
  expect_identical(rows$sales, c(30, 30, 85.5))
})

test_that("totals are cells like any other: subtotals of each leading group, and one grand total", {
  rows <- plain(rollup(book, c(depot, year), sales = sum(amount), n = count(), totals = "all"))
  expect_identical(rows$.role, c(rep(c("line", "line", "subtotal"), 3L), "total"))
  expect_identical(rows$sales[rows$.role == "subtotal"], c(80, 15, 50.5))
  expect_identical(is.na(rows$year), rows$.role != "line")
  expect_identical(is.na(rows$depot), rows$.role == "total")
  grand <- plain(rollup(book, c(depot, year), sales = sum(amount), totals = "grand"))
  expect_identical(grand$sales[grand$.role == "total"], 145.5)
  expect_identical(sum(grand$.role == "total"), 1L)
})

test_that("a row of a member is the same ask on a daybook limited to it", {
  all <- plain(rollup(book, c(depot, month), s = sum(amount), y = ytd(s),
    p = prior(s, year), m = mean(amount)))
  one <- plain(
    rollup(only(book, depot == "Skelby"), month, s = sum(amount),
      y = ytd(s), p = prior(s, year), m = mean(amount))
  )
  mine <- all[all$depot == "Skelby", names(one)]
  rownames(mine) <- NULL
  expect_identical(mine, one)
})

test_that(
  "orders after the as-of date are never seen, and a part-way period is compared over the same days", {
  orders <- data.frame(
    on = as.Date(c("2025-08-10", "2025-08-20", "2026-08-05", "2026-08-15", "2026-08-25")),
    amount = c(1, 2, 4, 8, 16)
  )
  table <- rollup(as_of(daybook(orders, on), "2026-08-15"), month,
    sales = sum(amount), ly = prior(sales, year))
  last <- plain(table)[13L, ]
  expect_identical(last$sales, 12)
  expect_identical(last$ly, 1)
  expect_output(
    print(table, width = 200),
    "2026-08 Aug is part-way: 15 of 31 days, to 15 August 2026; comparatives cover the same days"
  )
  expect_output(print(table), "left out: 1 line after 15 August 2026")
})

test_that("an as-of date after the last order gives empty periods, not unknown ones", {
  rows <- plain(rollup(as_of(book, "2025-06-30"), quarter, sales = sum(amount), mean = mean(amount)))
  expect_identical(rows$sales[6L], 0)
  expect_identical(rows$mean[6L], NA_real_)
})

test_that("before the record there is nothing to know; inside it there is nothing sold", {
  rows <- plain(rollup(book, quarter, ly = prior(sum(amount), year), n = prior(count(), quarter)))
  expect_identical(rows$ly, c(NA, NA, NA, NA, 30))
  expect_identical(rows$n, c(NA, 2, 0, 1, 0))
})

test_that("a condition on the date moves the beginning of the record; one on anything else does not", {
  later <- plain(rollup(only(book, on >= "2024-07-01"), quarter, ly = prior(sum(amount), quarter)))
  expect_identical(format(later$quarter[1L]), "2024 Q3")
  expect_identical(later$ly, c(NA, 30, 0))
  other <- plain(rollup(only(book, amount > 25), quarter, ly = prior(sum(amount), quarter)))
  expect_identical(other$ly, c(NA, 0, 0, 30, 0))
  expect_raised(rollup(only(book, on > "2030-01-01"), n = count()),
    "date", "leave no orders", "10 March 2025")
})

test_that("without axes the table is one row", {
  row <- plain(rollup(book, sales = sum(amount), ytd = ytd(sales), totals = "all"))
  expect_identical(nrow(row), 1L)
  expect_identical(row$ytd, 85.5)
})

test_that("a scope that leaves no orders gives an empty table, or zeros without a dimension", {
  none <- only(book, amount > 1000)
  expect_identical(nrow(plain(rollup(none, depot, sales = sum(amount)))), 0L)
  expect_identical(plain(rollup(none, year, sales = sum(amount)))$sales, c(0, 0))
  expect_output(print(rollup(none, depot, sales = sum(amount))), "no rows")
})

test_that("one order is enough", {
  one <- rollup(
    daybook(few_orders()[2L, ], on), c(depot, month), sales = sum(amount),
    ly = prior(sales, year), totals = "all"
  )
  expect_identical(plain(one)$sales, c(20, 20, 20))
})

test_that("dimensions of every type have their members in order", {
  orders <- data.frame(
    on = as.Date("2026-01-01") + 0:4, amount = 1:5,
    size = factor(c("Small", "Large", "Small", "Medium", NA), levels = c("Small", "Medium", "Large", "Huge")),
    number = c(10, 9, 100000, 2.5, NA), whole = c(3L, 20L, 100L, NA, 100000L),
    flag = c(TRUE, FALSE, NA, TRUE, FALSE), day_sent = as.Date("2026-01-05") - 0:4,
    text = c("b", "B", "a", "\u00e9", NA)
  )
  book <- daybook(orders, on)
  members <- function(axis) as.character(plain(rollup(book, axis, n = count()))[[1L]])
  expect_identical(members("size"), c("Small", "Medium", "Large", "(none)"))
  expect_s3_class(plain(rollup(book, size, n = count()))$size, "factor")
  expect_identical(members("number"), c("2.5", "9", "10", "100000", "(none)"))
  expect_identical(members("whole"), c("3", "20", "100", "100000", "(none)"))
  expect_identical(members("flag"), c("FALSE", "TRUE", "(none)"))
  expect_identical(members("day_sent"), format(as.Date("2026-01-01") + 0:4))
  expect_identical(members("text"), c("B", "a", "b", "\u00e9", "(none)"))
})

test_that("the same text in two encodings is one member", {
  orders <- data.frame(on = as.Date("2026-01-01") + 0:1, amount = 1:2, who = c("caf\u00e9", "caf\u00e9"))
  orders$who[1L] <- iconv(orders$who[1L], "UTF-8", "latin1")
  Encoding(orders$who[1L]) <- "latin1"
  expect_identical(plain(rollup(daybook(orders, on), who, s = sum(amount)))$s, 3)
})

test_that("a member named like the missing one stays apart from it in the figures", {
  orders <- data.frame(on = as.Date("2026-01-01") + 0:1, amount = 1:2, who = c("(none)", NA))
  expect_identical(plain(rollup(daybook(orders, on), who, s = sum(amount)))$s, c(1, 2))
})

test_that("the axes may be given by text and by a variable", {
  mine <- c("depot", "year")
  expect_identical(plain(rollup(book, mine, n = count())), plain(rollup(book, c(depot, year), n = count())))
  expect_identical(
    plain(rollup(book, c("depot", "year"), n = count())), plain(rollup(book, c(depot, year), n = count()))
  )
})

test_that("wrong asks are errors that say how to mend them", {
  expect_raised(rollup(book, deport, n = count()), "column", "Did you mean \"depot\"?")
  expect_raised(rollup(book, c(depot, depot), n = count()), "argument", "same axis twice")
  expect_raised(rollup(book, depot, depot = count()), "argument", "name of an axis")
  expect_raised(rollup(book, depot, n = count(), totals = "some"), "argument", "\"none\"")
  expect_raised(rollup(few_orders(), depot, n = count()), "argument", "must be a daybook")
  expect_raised(rollup(book, week, x = prior(count(), year)), "period", "does not hold whole weeks")
})

test_that("a table counts every order line once: used, or left out for one reason", {
  orders <- untidy_orders(2000L, 1L)
  book <- only(as_of(daybook(orders, on), "2024-06-30"), paid, amount > 0)
  facts <- rollup(book, n = count())$facts
  expect_identical(facts$used + sum(facts$left_out$lines), 2000)
  expect_identical(facts$used, plain(rollup(book, n = count()))$n)
})
