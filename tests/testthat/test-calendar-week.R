retail <- week_calendar("4-4-5", ends = "last Saturday of January")
nearest <- week_calendar("4-5-4", ends = "Saturday nearest the end of January", named_by = "start")

# Worked out by hand from printed calendars: the last days of the years that
# end early in 2010 to 2030.
last_saturdays <- as.Date(c(
  "2010-01-30", "2011-01-29", "2012-01-28", "2013-01-26", "2014-01-25",
  "2015-01-31", "2016-01-30", "2017-01-28", "2018-01-27", "2019-01-26",
  "2020-01-25", "2021-01-30", "2022-01-29", "2023-01-28", "2024-01-27", "2025-01-25",
  "2026-01-31", "2027-01-30", "2028-01-29", "2029-01-27", "2030-01-26"
))
nearest_saturdays <- as.Date(c(
  "2010-01-30", "2011-01-29", "2012-01-28", "2013-02-02", "2014-02-01",
  "2015-01-31", "2016-01-30", "2017-01-28", "2018-02-03", "2019-02-02",
  "2020-02-01", "2021-01-30", "2022-01-29", "2023-01-28", "2024-02-03", "2025-02-01",
  "2026-01-31", "2027-01-30", "2028-01-29", "2029-02-03", "2030-02-02"
))

test_that("years end on the days of a hand-made list, and have 52 or 53 weeks", {
  years <- as_period(last_saturdays, year, retail)
  expect_identical(end_of(years), last_saturdays)
  expect_identical(format(years), paste0("FY", 2010:2030))
  expect_identical(as.numeric(diff(last_saturdays)), 7 * ifelse(2011:2030 %in% c(2015, 2021, 2026), 53, 52))
  years <- as_period(nearest_saturdays, year, nearest)
  expect_identical(end_of(years), nearest_saturdays)
  expect_identical(format(years), paste0("FY", 2009:2029))
})

test_that("every year of every pattern has 52 or 53 whole weeks that tile, and nested periods", {
  calendars <- list(
    retail, nearest, week_calendar("5-4-4", "last Friday in December"), iso_week_calendar(),
    week_calendar("13x4", "last Sunday of June"),
    week_calendar("4-4-5", "last Saturday of January", extra_week = 1)
  )
  for (calendar in calendars) {
    grid <- calendar_grid(calendar)
    lengths <- (grid$year$ends - grid$year$starts + 1L) / 7L
    expect_in_set(lengths, c(52L, 53L))
    for (unit in calendar$units) {
      table <- grid[[unit]]
      expect_identical(table$ends[-length(table$ends)] + 1L, table$starts[-1L])
      expect_lte(table$starts[1L], first_known_day)
      expect_gte(table$ends[length(table$ends)], last_known_day)
      expect_true(nests_in(unit, "year", calendar))
      keys <- period_labels(table$starts[1000:1600 %% length(table$starts) + 1L] |>
        sort(), unit, calendar, "key")
      expect_false(is.unsorted(order(keys, method = "radix")))
    }
  }
})

test_that("the weeks of a quarter go to its months by the pattern, and the extra week where it is said", {
  weeks <- function(calendar, day) {
    rows <- calendar_table(
      calendar, start_of(as_period(as.Date(day), year, calendar)),
      end_of(as_period(as.Date(day), year, calendar)), month
    )
    rows$days / 7
  }
  expect_identical(weeks(retail, "2026-06-01"), rep(c(4, 4, 5), 4L))
  expect_identical(weeks(retail, "2025-06-01"), c(rep(c(4, 4, 5), 3L), 4, 4, 6))
  expect_identical(weeks(nearest, "2026-06-01"), rep(c(4, 5, 4), 4L))
  first <- week_calendar("4-4-5", "last Saturday of January", extra_week = 1)
  expect_identical(weeks(first, "2025-06-01")[1L], 5)
  expect_identical(weeks(week_calendar("13x4", "last Sunday of June"), "2026-08-01"), rep(4, 13L))
})

test_that("ISO weeks agree with the C library for every day from 1900 to 2200", {
  days <- as.Date(first_known_day:last_known_day, origin = "1970-01-01")
  calendar <- iso_week_calendar()
  expect_identical(format(as_period(days, week, calendar)), format(days, "%G-W%V"))
  expect_identical(format(as_period(days, year, calendar)), format(days, "%G"))
})

test_that("labels are read back as the same period", {
  days <- as.Date("2025-01-20") + seq(0L, 800L, by = 3L)
  for (calendar in list(retail, nearest, iso_week_calendar())) {
    for (unit in calendar$units) {
      periods <- as_period(days, unit, calendar)
      for (style in c("label", "key")) expect_identical(as_period(format(periods, style),
        unit, calendar), periods)
    }
  }
})

test_that("a week 53 has no partner by position, and one by weekday", {
  orders <- data.frame(on = as.Date("2024-02-01") + 0:800, amount = 1)
  book <- daybook(orders, on, retail) |> within_dates("2026-01-18", "2026-02-07")
  table <- rollup(book, week, days = count(), ly = prior(days, year),
    wd = prior(days, year, match = "weekday"))
  rows <- plain(table)
  expect_identical(format(rows$week), c("FY2026 W52", "FY2026 W53", "FY2027 W01"))
  expect_identical(rows$ly, c(7, NA, 7))
  expect_identical(rows$wd, c(7, 7, 7))
  expect_output(print(table, width = 200), "FY2026 W53 has no partner in the year compared with: unknown")
})

test_that("a part-way month is compared up to the same week and weekday", {
  start <- as.integer(as.Date("2026-02-01"))
  cells <- period_cells(start, start + 9L, "month", retail, start, start + 27L)
  moved <- shift_cells(cells, "year", 1L, retail)
  expect_identical(as.Date(c(moved$from, moved$to), origin = "1970-01-01"),
    as.Date(c("2025-01-26", "2025-02-04")))
})

test_that("rules that make no calendar are errors", {
  expect_raised(week_calendar("4-4-4"), "calendar", "does not make 52 weeks", "4-4-5")
  expect_raised(week_calendar("fortnights"), "calendar", "does not make 52 weeks")
  expect_raised(week_calendar(ends = "end of January"), "calendar", "needs a weekday and a month")
  expect_raised(week_calendar(ends = "last Saturday"), "calendar", "needs a weekday and a month")
  expect_raised(week_calendar(ends = "last Satday of January"),
    "calendar", "Satday", "Did you mean \"Saturday\"?")
  expect_raised(week_calendar(ends = "Saturday nearest the end of Janury"),
    "calendar", "Did you mean \"January\"?")
  expect_raised(week_calendar(extra_week = 13), "argument", "extra_week", "from 1 to 12")
  expect_raised(as_period(Sys.Date(), quarter, iso_week_calendar()), "calendar", "has no unit \"quarter\"")
  expect_raised(as_period(Sys.Date(), half, week_calendar("13x4")), "calendar", "has no unit \"half\"")
})
