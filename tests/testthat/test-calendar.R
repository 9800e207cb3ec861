calendars_tried <- list(
  civil_calendar(), fiscal_calendar("July"), fiscal_calendar(4, named_by = "start"), fiscal_calendar("Dec")
)

test_that("periods of each unit tile the days from 1900 to 2200", {
  for (calendar in calendars_tried) {
    for (unit in calendar$units) {
      table <- calendar_grid(calendar)[[unit]]
      expect_identical(table$ends[-length(table$ends)] + 1L, table$starts[-1L])
      expect_lte(table$starts[1L], first_known_day)
      expect_gte(table$ends[length(table$ends)], last_known_day)
    }
  }
})

test_that("months, quarters and halves nest in years; weeks do not", {
  for (calendar in calendars_tried) {
    for (unit in c("day", "month", "quarter", "half")) expect_true(nests_in(unit, "year", calendar))
    expect_false(nests_in("week", "year", calendar))
    expect_false(nests_in("quarter", "month", calendar))
  }
})

test_that("periods begin and end where base R's dates say", {
  days <- as.Date("2023-01-01") + seq(0L, 1500L, by = 17L)
  for (starts in c(1L, 4L, 7L, 12L)) {
    calendar <- fiscal_calendar(starts)
    for (unit in c("day", "week", "month", "quarter", "half", "year")) {
      periods <- as_period(days, unit, calendar)
      expect_identical(
        start_of(periods), as.Date(vapply(days, base_start, 0, unit = unit, starts = starts),
          origin = "1970-01-01")
      )
      expect_identical(
        end_of(periods), as.Date(vapply(days, base_end, 0, unit = unit, starts = starts),
          origin = "1970-01-01")
      )
    }
  }
})

test_that("a fiscal year is named by the year it ends or starts", {
  day <- as.Date("2026-08-31")
  expect_identical(format(as_period(day, year, fiscal_calendar("July"))), "FY2027")
  expect_identical(format(as_period(day, year, fiscal_calendar("July", named_by = "start"))), "FY2026")
  expect_identical(format(as_period(day, year, fiscal_calendar("January"))), "FY2026")
  expect_identical(format(as_period(day, quarter, fiscal_calendar(7))), "FY2027 Q1")
  expect_identical(format(as_period(day, half, civil_calendar())), "2026 H2")
})

test_that("keys sort as text in the order of time", {
  for (calendar in calendars_tried) {
    for (unit in calendar$units) {
      keys <- format(as_period(as.Date("1998-01-01") + 0:1500, unit, calendar), "key")
      expect_identical(order(unique(keys), method = "radix"), seq_along(unique(keys)))
    }
  }
})

test_that("ISO weeks agree with the C library", {
  days <- as.Date("1999-12-20") + 0:4000
  expect_identical(format(as_period(days, week)), format(days, "%G-W%V"))
})

test_that("labels, keys and long forms are read back as the same period", {
  for (calendar in c(calendars_tried, list(week_calendar("5-4-4"), iso_week_calendar()))) {
    for (unit in calendar$units) {
      periods <- as_period(as.Date(first_known_day:last_known_day, origin = "1970-01-01"), unit, calendar)
      periods <- unique(periods)
      if (unit == "day") periods <- periods[seq(1L, length(periods), by = 17L)]
      for (style in c("label", "key", "long")) {
        if (unit == "day" && style == "long") next
        expect_identical(as_period(format(periods, style), unit, calendar), periods)
      }
    }
  }
})

test_that("a calendar says what it is", {
  expect_match(
    format(fiscal_calendar("July")),
    "^fiscal year, July to June, named by the year it ends; FY20[0-9]{2} began on 1 July"
  )
  expect_output(print(civil_calendar()), "civil year, January to December")
})

test_that("a wrong first month is an error that offers the right one", {
  expect_raised(fiscal_calendar("Jully"), "calendar", "Jully", "Did you mean \"July\"?")
  expect_raised(fiscal_calendar(13), "argument", "13", "from 1 to 12")
  expect_raised(fiscal_calendar("July", named_by = "ends"), "argument", "Did you mean \"end\"?")
})
