days <- as.Date("2026-06-28") + 0:13

test_that("parts are factors in the order of the trade", {
  expect_identical(levels(cyclic_part(days, month_of_year))[1L], "Jan")
  expect_identical(levels(cyclic_part(days, "month_of_year", fiscal_calendar("July")))[c(1L, 12L)],
    c("Jul", "Jun"))
  expect_identical(
    as.character(cyclic_part(days, quarter_of_year, fiscal_calendar("July"))), rep(c("Q4", "Q1"), c(3L, 11L))
  )
  expect_identical(as.character(cyclic_part(days, day_of_week)), weekdays_of(days))
  expect_identical(
    levels(cyclic_part(days, day_of_week, civil_calendar(week_begins = "Sunday")))[1:2], c("Sunday", "Monday")
  )
  expect_identical(as.character(cyclic_part(days, day_of_month)), format(days, "%e") |> trimws())
  expect_identical(as.character(cyclic_part(days, week_of_year)), format(days, "W%V"))
  expect_identical(as.character(cyclic_part(days[7L], month_of_year, week_calendar())), "P06")
  expect_identical(levels(cyclic_part(days, day_of_week, civil_calendar(language = "de")))[1L], "Montag")
})

test_that("hours are those of the clock where the order was taken", {
  times <- as.POSIXct("2026-03-29 00:30", tz = "UTC") + 3600 * 0:2
  attr(times, "tzone") <- "Europe/London"
  expect_identical(as.character(cyclic_part(times, hour_of_day)), c("00", "02", "03"))
  expect_raised(cyclic_part(days, hour_of_day), "period", "Only date-times have hours")
})

test_that("a table by a part is in order, and says how many years it puts together", {
  orders <- data.frame(on = as.Date("2024-12-30") + 0:500, amount = 1)
  book <- daybook(orders, on, fiscal_calendar("July"))
  table <- rollup(book, month_of_year, n = count())
  expect_identical(
    as.character(plain(table)$month_of_year),
    levels(cyclic_part(days, month_of_year, fiscal_calendar("July")))
  )
  expect_identical(sum(plain(table)$n), 501)
  expect_output(print(table), "Month of the year combines 2024 to 2026")
  by_both <- plain(rollup(book, c(year, day_of_week), n = count()))
  expect_identical(as.character(by_both$day_of_week[1:7]), weekday_names)
})

test_that("orders by the hour come from date-times only", {
  orders <- data.frame(on = as.POSIXct("2026-01-01 08:15", tz = "UTC") + 3600 * c(0, 1, 1, 5), amount = 1:4)
  rows <- plain(rollup(daybook(orders, on), hour_of_day, s = sum(amount)))
  expect_identical(as.character(rows$hour_of_day), c("08", "09", "13"))
  expect_identical(rows$s, c(1, 5, 4))
  expect_raised(rollup(daybook(few_orders(), on), hour_of_day, n = count()),
    "period", "Only date-times have hours")
})

test_that("several years put together take no lens on time", {
  book <- daybook(few_orders(), on)
  expect_raised(rollup(book, day_of_week, s = sum(amount), y = ytd(s)),
    "expression", "takes no lens on time", "\"y\"")
  expect_raised(cyclic_part(days, day_of_year), "argument", "Did you mean")
})

test_that("calendars speak the language asked for", {
  french <- fiscal_calendar("July", language = "fr")
  p <- as_period(as.Date("2026-08-31"), month, french)
  expect_identical(format(p), "2026-08 ao\u00fbt")
  expect_identical(format(p, "long", language = "de"), "August 2026")
  expect_identical(as_period("ao\u00fbt 2026", month, french), p)
  expect_raised(civil_calendar(language = "xx"), "argument", "\"en\"")
  for (language in names(month_words)) {
    expect_length(unique(month_words[[language]]$name), 12L)
    expect_length(unique(month_words[[language]]$short), 12L)
    expect_length(unique(weekday_words[[language]]), 7L)
  }
})

test_that("weeks may begin on any day", {
  sunday <- civil_calendar(week_begins = "Sunday")
  p <- as_period(as.Date("2026-08-31"), week, sunday)
  expect_identical(format(p), "week of 2026-08-30")
  expect_identical(as_period(format(p), week, sunday), p)
  expect_raised(civil_calendar(week_begins = "Sundey"), "calendar", "Did you mean \"Sunday\"?")
})

test_that("how often a part came round is counted from the first order to where the orders end", {
  orders <- data.frame(on = as.Date(c("2024-01-03", "2024-03-04", "2025-09-18")), v = 1,
    depot = c("Skelby", "Garrick", "Skelby"))
  book <- as_of(daybook(orders, on), "2025-11-30")
  record <- seq(orders$on[1L], orders$on[3L], by = 1L)
  weekday <- plain(rollup(book, day_of_week, n = occurrences(), totals = "grand"))
  shown <- as.character(weekday$day_of_week[weekday$.role == "line"])
  expect_identical(weekday$n, c(unname(as.numeric(table(weekdays_of(record))[shown])), length(record) + 0))
  by_month <- plain(rollup(book, c(depot, month_of_year), n = occurrences(), d = occurrences(day)))
  months <- unique(data.frame(year = format(record, "%Y"), month = month.abb[as.POSIXlt(record)$mon + 1L]))
  expect_identical(by_month$n, unname(as.numeric(table(months$month)[as.character(by_month$month_of_year)])))
  of_part <- table(month.abb[as.POSIXlt(record)$mon + 1L])
  expect_identical(by_month$d, unname(as.numeric(of_part[as.character(by_month$month_of_year)])))
  both <- plain(rollup(book, c(day_of_week, month_of_year), n = occurrences()))
  expect_identical(both$n, vapply(seq_len(nrow(both)), function(i) {
    sum(weekdays_of(record) == both$day_of_week[i] &
      month.abb[as.POSIXlt(record)$mon + 1L] == both$month_of_year[i]) + 0
  }, 0))
  expect_identical(plain(rollup(book, quarter, n = occurrences(month)))$n[c(1L, 7L, 8L)], c(3, 3, NA))
  expect_raised(rollup(book, depot, n = occurrences()), "expression", "occurrences(day)")
  expect_output(print(explain(rollup(book, day_of_week, n = occurrences()), 1)), "came round")
})
