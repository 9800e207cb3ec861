# Which days a cell has: cyclic parts, single days, other dates, limits.

daily <- function(from = "2023-01-03", to = "2026-09-18") {
  days <- seq(as.Date(from), as.Date(to), by = 1L)
  data.frame(on = days, v = 1 + seq_along(days) %% 7, g = c("a", "b")[1L + seq_along(days) %% 2L])
}

test_that("days counted within a cyclic part are that part's own", {
  orders <- daily()
  orders <- orders[orders$on != as.Date("2024-05-06"), ] # a Monday without sales
  book <- daybook(orders, on, calendars = trading(civil_calendar(), closed = "Sunday"))
  lt <- as.POSIXlt(orders$on)
  whole <- seq(as.Date("2023-01-03"), as.Date("2026-09-18"), by = 1L)
  x <- plain(rollup(book, day_of_week, all = mean(each(day, sum(v), days = "all")),
    n = count(each(day, sum(v), days = "all"))))
  expect_identical(x$n, as.vector(table(weekdays_of(whole))[weekday_names]) + 0)
  monday <- sum(orders$v[lt$wday == 1L]) / sum(as.POSIXlt(whole)$wday == 1L)
  expect_equal(x$all[1L], monday)
  open <- plain(rollup(book, day_of_week, n = count(each(day, sum(v), days = "trading"))))
  expect_identical(open$n, c(x$n[1:6], 0))
  months <- plain(rollup(book, month_of_year, n = count(each(day, sum(v), days = "all"))))
  expect_identical(months$n, as.vector(table(as.POSIXlt(whole)$mon)) + 0)
  both <- plain(rollup(book, c(day_of_week, month_of_year), n = count(each(day, sum(v), days = "all")),
    totals = "all"))
  line <- both[both$.role == "line", ]
  expect_identical(line$n, as.vector(table(factor(as.POSIXlt(whole)$mon),
    factor(weekdays_of(whole), weekday_names))) + 0)
  expect_identical(both$n[both$.role == "total"], length(whole) + 0)
  weeks <- plain(rollup(book, day_of_week, n = count(each(month, sum(v), days = "all"))))
  expect_identical(weeks$n, rep(45, 7L))
  crossed <- plain(crosstab(book, year, day_of_week, n = count(each(day, sum(v), days = "all"))))
  expect_identical(crossed$Monday,
    as.vector(tapply(weekdays_of(whole) == "Monday", as.POSIXlt(whole)$year, sum)) + 0)
})

test_that("a cell of a cyclic part outside the record, or after the as-of date, is unknown", {
  book <- daybook(daily("2023-03-05", "2026-09-18"), on) |> as_of("2026-08-15")
  x <- plain(crosstab(book, year, month_of_year, s = sum(v), n = count(), totals = "grand"))
  s <- as.matrix(x[1:4, paste(month.abb, "s")])
  known <- !is.na(s)
  expect_identical(unname(known[1L, ]), month.abb %in% month.abb[3:12])
  expect_true(all(known[2:3, ]))
  expect_identical(unname(known[4L, ]), month.abb %in% month.abb[1:8])
  expect_identical(is.na(as.matrix(x[1:4, paste(month.abb, "n")])), is.na(s), ignore_attr = TRUE)
  long <- crosstab(book, year, month_of_year, s = sum(v))
  data <- as.data.frame(long, shape = "long")
  part <- data$year == as_period("2026", year) & data$month_of_year %in% c("Aug", month.abb[9:12])
  expect_identical(long$part_way[data$year != as_period("2026", year)], rep(FALSE, 36L))
  expect_identical(which(long$part_way), which(part))
  sheet <- as_sheet(crosstab(book, year, month_of_year, s = sum(v)))
  texts <- vapply(sheet$columns, function(column) column$text[4L], "")
  expect_identical(which(startsWith(texts, "* ")), 9L)
  expect_match(texts[1L], "2026 *", fixed = TRUE)
  weekdays <- plain(crosstab(daybook(daily("2026-09-02", "2026-09-07"), on), week, day_of_week, s = sum(v)))
  expect_identical(names(weekdays)[2:7], c("Monday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"))
  expect_identical(unname(is.na(as.matrix(weekdays[2:7]))),
    rbind(c(TRUE, rep(FALSE, 5L)), c(FALSE, rep(TRUE, 5L))))
})

test_that("disregarding the daybook's own date column disregards the dates", {
  book <- daybook(daily(), on) |> only(on >= "2026-01-01", g == "a")
  x <- plain(rollup(book, s = count(), by_name = regardless(count(), on),
    by_word = regardless(count(), dates)))
  expect_identical(x$by_name, x$by_word)
  expect_identical(x$by_name, sum(daily()$g == "a") + 0)
})

test_that("a single day moved by months or years keeps its day of the month", {
  book <- daybook(daily("2023-01-01", "2025-02-28"), on)
  at <- function(day, by) {
    x <- plain(rollup(within_dates(book, day, day), day, f = prior(first(on), !!as.name(by))))
    format(x$f)
  }
  expect_identical(at("2025-02-28", "year"), "2024-02-28")
  expect_identical(at("2025-02-28", "month"), "2025-01-28")
  expect_identical(at("2024-02-29", "year"), "2023-02-28")
  expect_identical(at("2024-03-31", "month"), "2024-02-29")
  expect_identical(at("2024-04-30", "quarter"), "2024-01-30")
  alone <- plain(rollup(within_dates(book, "2025-02-28", "2025-02-28"), f = prior(first(on), year)))
  expect_identical(format(alone$f), "2024-02-28")
  months <- plain(rollup(book, month, s = count(), p = prior(s, year)))
  expect_identical(months$p[months$month == as_period("2025-02", month)], 29)
})

test_that("orders read off another date answer one question in lines and totals", {
  orders <- data.frame(
    on = as.Date(c("2026-03-10", "2026-03-20", "2026-04-02", NA, "2026-04-20", "2026-05-05")),
    shipped = as.Date(c("2026-03-05", "2026-03-25", "2026-04-03", "2026-04-04", "2026-05-01", "2026-05-20")),
    v = c(1, 2, 4, 8, 16, 32), g = c("a", "b", "a", "b", NA, "a")
  )
  book <- daybook(orders, on) |> as_of("2026-05-10")
  x <- rollup(book, month, s = on(sum(v), shipped), totals = "grand")
  expect_identical(plain(x)$s, c(2, 4, 16, 22))
  expect_true(all(tie_out(x)$ok %in% c(TRUE, NA)))
  by_g <- rollup(book, c(g, month), s = on(sum(v), shipped), totals = "all")
  expect_true(all(tie_out(by_g)$ok %in% c(TRUE, NA)))
  expect_identical(sum(plain(by_g)$s[plain(by_g)$.role == "line"]), 22)
  parts <- plain(rollup(book, day_of_week, s = on(sum(v), shipped)))
  expect_false("(none)" %in% parts$day_of_week)
})

test_that("a comparison keeps the days that are comparable when limits of dates are disregarded", {
  book <- daybook(daily(), on) |> as_of("2026-08-10")
  x <- plain(rollup(within_dates(book, latest(1, month)), month,
    s = count(), p = prior(regardless(s, dates), month)))
  expect_identical(c(x$s, x$p), c(10, 10))
  limited <- within_dates(book, "2026-07-15", "2026-08-05")
  y <- plain(rollup(limited, month, s = count(), all = regardless(s, dates),
    before = prior(regardless(s, dates), month)))
  expect_identical(y$s, c(17, 5))
  expect_identical(y$all, c(31, 10))
  expect_identical(y$before, c(30, 10))
})

test_that("an index is 100 in its base period, also where the dates shown cut it", {
  book <- daybook(daily(), on) |> within_dates("2026-05-10", "2026-07-31")
  x <- plain(rollup(book, month, s = sum(v), i = index(s, "2026-05")))
  expect_identical(x$i[1L], 100)
  expect_equal(x$i, 100 * x$s / x$s[1L])
  expect_raised(rollup(book, month, i = prior(index(sum(v), "2026-05"), year)),
    "expression", "index", "lens on time")
})

test_that(
  "running figures of a comparison have no holes in weeks, and totals are known where lines are", {
  retail <- week_calendar("4-4-5", ends = "last Saturday of January")
  book <- daybook(daily(), on, calendars = retail)
  x <- plain(rollup(book, month, s = sum(v), p = prior(s, month),
    run = running(p), two = prior(s, month, n = 2), totals = "grand"))
  line <- x[x$.role == "line", ]
  expect_false(anyNA(line$run[-1L]))
  expect_false(is.unsorted(line$run[-1L]))
  expect_false(is.na(x$two[x$.role == "total"]))
  weeks <- plain(rollup(book, week, run = running(prior(sum(v), month))))
  expect_false(anyNA(utils::tail(weeks$run, -10L)))
})

test_that("a partial window may begin before the table of a custom calendar", {
  seasons <- custom_calendar(data.frame(
    start = c("2025-01-01", "2025-03-01", "2025-05-01"), end = c("2025-02-28", "2025-04-30", "2025-06-30"),
    half = c("A", "B", "C")
  ), name = "season")
  book <- daybook(daily("2025-01-01", "2025-06-30"), on, calendars = seasons)
  x <- plain(rollup(book, half, n = count(), m = moving(n, 2), partial = moving(n, 2, partial = TRUE)))
  expect_identical(x$partial, c(59, 120, 122))
  expect_identical(x$m, c(NA, 120, 122))
})
