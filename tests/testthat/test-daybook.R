test_that("a daybook reads its dates and says what it holds", {
  book <- daybook(few_orders(), date = on, calendars = fiscal_calendar("July"))
  expect_s3_class(book, "drystack_daybook")
  expect_identical(book$as_of, as.integer(as.Date("2025-03-10")))
  expect_output(print(book), "6 order lines, dated by on")
  expect_output(print(book), "15 January 2024 to 10 March 2025")
})

test_that("dates, date-times and ISO text give the same figures", {
  orders <- few_orders()
  reference <- plain(rollup(daybook(orders, on), month, sales = sum(amount)))
  text <- transform(orders, on = format(on))
  factor <- transform(orders, on = factor(format(on)))
  whole <- orders
  storage.mode(whole$on) <- "integer"
  times <- transform(orders, on = as.POSIXct(paste(format(on), "23:30"), tz = "America/New_York"))
  for (other in list(text, factor, whole, times)) {
    expect_identical(plain(rollup(daybook(other, on), month, sales = sum(amount))), reference)
  }
})

test_that("the date column may be named by text or by a variable", {
  column <- "on"
  told <- function(book) format(book)
  expect_identical(told(daybook(few_orders(), "on")), told(daybook(few_orders(), on)))
  expect_identical(told(daybook(few_orders(), column)), told(daybook(few_orders(), on)))
})

test_that("a date order that could be read two ways is not guessed", {
  orders <- few_orders()
  orders$on <- c("03/04/2026", "05/06/2026", "07/08/2026", "", "01/02/2026", NA)
  expect_raised(
    daybook(orders, on), "date", "not guessed", "\"03/04/2026\"",
    "date_order = \"dmy\" or date_order = \"mdy\""
  )
  dmy <- daybook(orders, on, date_order = "dmy")
  expect_identical(as.Date(engine_of(dmy)$days[1L], origin = "1970-01-01"), as.Date("2026-04-03"))
  expect_identical(dmy$undated, 2)
  mdy <- daybook(orders, on, date_order = "mdy")
  expect_identical(as.Date(engine_of(mdy)$days[1L], origin = "1970-01-01"), as.Date("2026-03-04"))
  orders$on[2L] <- "25/12/2026"
  settled <- daybook(orders, on)
  expect_identical(as.Date(engine_of(settled)$days[1L], origin = "1970-01-01"), as.Date("2026-04-03"))
  expect_match(settled$made$told, "\"on\" read as day, month, year, as \"25/12/2026\" says", fixed = TRUE)
  expect_raised(daybook(orders, on, date_order = "mdy"), "date", "25/12/2026", "row 2")
})

test_that("texts that stand for no date can be named", {
  orders <- few_orders()
  orders$on <- c(format(orders$on)[1:5], "tbc")
  expect_raised(daybook(orders, on), "date", "\"tbc\" at row 6")
  expect_identical(daybook(orders, on, undated = "tbc")$undated, 1)
})

test_that("what is no date column is an error that names it", {
  expect_raised(daybook(few_orders(), depot), "date", "holds no dates", "Skelby")
  expect_raised(daybook(few_orders(), amount), "date", "\"amount\" holds no dates")
  expect_raised(daybook(few_orders(), ordred_on), "column", "ordred_on")
  expect_raised(daybook(few_orders(), depott), "column", "Did you mean \"depot\"?")
  expect_raised(daybook(few_orders()), "argument", "must name a column")
  nothing <- transform(few_orders(), on = as.Date(NA))
  expect_raised(daybook(nothing, on), "date", "No order line has a date")
  old <- transform(few_orders(), on = replace(on, 2L, as.Date("0204-02-29")))
  expect_raised(daybook(old, on), "date", "between 1900-01-01 and 2200-12-31", "row 2")
})

test_that("orders must be a data frame with rows and distinct, free names", {
  expect_raised(daybook(few_orders()[0L, ], on), "orders", "no rows")
  expect_raised(daybook(list(on = Sys.Date()), on), "orders", "must be a data frame")
  taken <- few_orders()
  taken$month <- 1
  expect_raised(daybook(taken, on), "column", "\"month\"", "order_month")
  twice <- few_orders()
  names(twice)[2:3] <- "a"
  expect_raised(daybook(twice, on), "column", "\"a\"")
})

test_that("calendars are one, or several with names", {
  expect_raised(daybook(few_orders(), on, calendars = "July"), "calendar", "named list of calendars")
  expect_raised(daybook(few_orders(), on, calendars = list(civil_calendar())),
    "calendar", "its own name")
  book <- daybook(few_orders(), on, calendars = list(trade = fiscal_calendar("July"),
    civil = civil_calendar()))
  expect_named(plain(rollup(book, c(year, civil$year), n = count())), c("year", "civil_year", "n", ".role"))
})

test_that("as_of() takes a day from the first order on", {
  book <- daybook(few_orders(), on)
  expect_identical(as_of(book, "2024-08-01")$as_of, as.integer(as.Date("2024-08-01")))
  expect_identical(as_of(book, as.POSIXct("2024-08-01 23:00", tz = "Asia/Tokyo")), as_of(book, "2024-08-01"))
  expect_raised(as_of(book, "2023-12-31"), "date", "before the first order",
    "15 January 2024 to 10 March 2025")
  expect_raised(as_of(book, "soon"), "date", "\"soon\"", "year-month-day")
  expect_raised(as_of(few_orders(), "2024-08-01"), "argument", "must be a daybook")
})

test_that("work_out() adds columns in order and only() limits", {
  book <- daybook(few_orders(), on) |>
    work_out(part = amount / 2, both = part + amount) |>
    only(status != "cancelled", both > 0)
  expect_identical(plain(rollup(book, sales = sum(both)))$sales, 1.5 * (10 + 20 + 40 + 50.5))
})

test_that("a daybook is a value: the old one stays as it was", {
  book <- daybook(few_orders(), on)
  only(work_out(book, x = 1), amount > 20)
  expect_identical(names(book$columns), names(few_orders()))
  expect_length(book$scope, 0L)
})

test_that("work_out() and only() say what is wrong", {
  book <- daybook(few_orders(), on)
  expect_raised(work_out(book, amount * 2), "argument", "needs a name")
  expect_raised(work_out(book, month = amount), "column", "name of a period")
  expect_raised(work_out(book, on = amount), "column", "cannot be replaced")
  expect_raised(only(book, amout > 1), "column", "Did you mean \"amount\"?")
  expect_raised(only(book, amount), "expression", "must be TRUE or FALSE")
})

test_that("the order lines come back with their periods", {
  book <- daybook(few_orders(), on, list(fiscal = fiscal_calendar("July"), civil = civil_calendar()))
  lines <- as.data.frame(book, periods = c(year, civil$quarter))
  expect_named(lines, c(names(few_orders()), "year", "civil_quarter"))
  expect_identical(lines$civil_quarter, as_period(few_orders()$on, quarter))
  expect_identical(as.data.frame(book), few_orders())
  expect_raised(as.data.frame(book, periods = depot), "column", "takes periods only")
})

test_that("columns that do not hold one value for each row are refused at the door", {
  orders <- data.frame(on = as.Date("2026-01-05") + 0:3, amount = 1:4)
  with_column <- function(x) {
    orders <- unclass(orders)
    orders$odd <- x
    structure(orders, class = "data.frame", row.names = 1:4)
  }
  odd <- list(
    structure(c(1L, 2L, 9L, 1L), levels = c("a", "b"), class = "factor"),
    structure(c(0L, 1L, 1L, 1L), levels = "a", class = "factor"),
    matrix(1:8, 4L), 1:3, data.frame(a = 1:4)
  )
  for (x in odd) {
    expect_raised(daybook(with_column(x), date = on), "column", "\"odd\"", "one value for each row")
    lookup <- with_column(x)
    names(lookup)[1:2] <- c("born", "key")
    expect_raised(enrich(daybook(orders, date = on), lookup, by = c(amount = "key")), "column", "\"odd\"")
  }
  expect_s3_class(daybook(with_column(factor(c(NA, "a", "b", NA))), date = on), "drystack_daybook")
})

test_that("a day and a time of day in two columns are read as one, in memory, in files and in a database", {
  set.seed(3)
  hour <- sample(0:23, 80L, TRUE)
  minute <- sample(0:59, 80L, TRUE)
  ways <- list(
    sprintf("%02d:%02d", hour, minute), sprintf("%d.%02d%s", ifelse(hour %% 12 == 0, 12L, hour %% 12), minute,
      ifelse(hour < 12, "am", "pm")), sprintf("%02d:%02d:30", hour, minute), hour * 100 + minute,
    (hour + minute / 60) / 24, as.difftime(hour * 60 + minute, units = "mins")
  )
  v <- seq_len(80L)
  expected <- unname(c(tapply(v, factor(hour, 0:23), sum)))
  for (time in ways) {
    orders <- data.frame(Day = as.Date("2026-02-01") + v %% 50L, Time = time, v = v)
    x <- rollup(daybook(orders, date = c(Day, Time)), by = hour_of_day, s = sum(v))
    expect_equal(as.data.frame(x)$s, expected[!is.na(expected)])
    expect_identical(nrow(behind(x, row = 1L)), sum(hour == min(hour)))
    expect_identical(daybook(orders, date = "Day + Time")$date, "Day")
  }
  orders$Time <- ways[[2L]]
  file <- withr::local_tempfile(fileext = ".csv")
  utils::write.csv(orders, file, row.names = FALSE)
  from_file <- rollup(daybook(file, date = "Day + Time"), by = hour_of_day, s = sum(v))
  expect_equal(as.data.frame(from_file)$s, expected[!is.na(expected)])
  db <- DBI::dbConnect(RSQLite::SQLite(), ":memory:")
  withr::defer(DBI::dbDisconnect(db))
  DBI::dbWriteTable(db, "o", transform(orders, Day = format(Day)))
  there <- rollup(daybook(orders_in(db, "o"), date = c(Day, Time)), by = hour_of_day, s = sum(v))
  expect_equal(as.data.frame(there)$s, expected[!is.na(expected)])
  # A report says it as it was said.
  report <- withr::local_tempfile(fileext = ".yml", tmpdir = dirname(file))
  suppressMessages(as_standing(from_file, report))
  expect_match(readLines(report), "date: \"Day + Time\"", fixed = TRUE, all = FALSE)
  expect_identical(hour_of(c("24:00", "7:5", "noon", NA, "12am", "12 pm", "13pm", "7")), c(NA, NA, NA, NA,
    0, 12, NA, 7))
  expect_raised(daybook(orders, date = c(Day, Tim)), "column", "Time")
})
