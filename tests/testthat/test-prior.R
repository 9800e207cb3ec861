# Each case of position matching with its answer: which days a prior figure looks at.

matched <- function(from, to, by, n = 1L, calendar = civil_calendar()) {
  cells <- interval_cells(as.integer(as.Date(from)), as.integer(as.Date(to)))
  moved <- shift_cells(cells, by, n, calendar)
  format(as.Date(c(moved$from, moved$to), origin = "1970-01-01"))
}

part_of <- function(unit, to, by, n = 1L, calendar = civil_calendar()) {
  day <- as.integer(as.Date(to))
  start <- period_start(day, unit, calendar)
  cells <- period_cells(start, day, unit, calendar, start, period_end(day, unit, calendar))
  moved <- shift_cells(cells, by, n, calendar)
  format(as.Date(c(moved$from, moved$to), origin = "1970-01-01"))
}

test_that("complete periods go to complete periods, whatever their length", {
  expect_identical(part_of("month", "2024-02-29", "year"), c("2023-02-01", "2023-02-28"))
  expect_identical(part_of("month", "2025-02-28", "year"), c("2024-02-01", "2024-02-29"))
  expect_identical(part_of("month", "2026-03-31", "month"), c("2026-02-01", "2026-02-28"))
  expect_identical(part_of("quarter", "2026-06-30", "quarter"), c("2026-01-01", "2026-03-31"))
  expect_identical(part_of("year", "2025-12-31", "year", 3L), c("2022-01-01", "2022-12-31"))
})

test_that("part-way periods are cut at the matching day", {
  expect_identical(part_of("month", "2026-09-18", "year"), c("2025-09-01", "2025-09-18"))
  expect_identical(part_of("month", "2026-03-30", "month"), c("2026-02-01", "2026-02-28"))
  expect_identical(part_of("month", "2024-02-28", "year"), c("2023-02-01", "2023-02-28"))
  expect_identical(part_of("month", "2025-02-27", "year"), c("2024-02-01", "2024-02-27"))
  expect_identical(part_of("quarter", "2026-08-31", "quarter"), c("2026-04-01", "2026-05-31"))
  expect_identical(part_of("year", "2024-02-29", "year"), c("2023-01-01", "2023-02-28"))
  expect_identical(part_of("year", "2026-02-28", "year", 2L), c("2024-01-01", "2024-02-29"))
  expect_identical(part_of("year", "2026-09-18", "year", 1L, fiscal_calendar("July")),
    c("2025-07-01", "2025-09-18"))
})

test_that("without a period both ends move", {
  expect_identical(matched("2026-01-15", "2026-03-31", "month"), c("2025-12-15", "2026-02-28"))
  expect_identical(matched("2023-01-03", "2024-02-29", "year"), c("2022-01-03", "2023-02-28"))
  expect_identical(matched("2026-09-07", "2026-09-09", "week"), c("2026-08-31", "2026-09-02"))
  expect_identical(matched("2026-09-07", "2026-09-09", "day", 7L), c("2026-08-31", "2026-09-02"))
})

test_that("a negative number of periods moves forward, and there and back is the same complete period", {
  expect_identical(part_of("month", "2024-01-31", "month", -1L), c("2024-02-01", "2024-02-29"))
  for (calendar in list(civil_calendar(), fiscal_calendar("April"))) {
    for (unit in c("month", "quarter", "half", "year")) {
      starts <- calendar_grid(calendar)[[unit]]$starts
      starts <- starts[starts > day_of(1920L, 1L) & starts < day_of(2180L, 1L)]
      moved <- shift_periods(starts, unit, "year", 7L, calendar)
      expect_identical(shift_periods(moved, unit, "year", -7L, calendar), starts)
    }
  }
})

test_that("a unit that does not hold whole periods is an error", {
  expect_raised(part_of("quarter", "2026-08-31", "month"), "period", "does not hold whole quarters")
  expect_raised(part_of("week", "2026-08-31", "month"), "period", "does not hold whole weeks")
})

test_that("beyond the calendar there is no period", {
  expect_identical(shift_periods(day_of(1900L, 1L), "month", "year", 5L, civil_calendar()), NA_integer_)
})

# The rows of the page's table: each a list of its cells.
documented_cases <- function() {
  lines <- readLines(file.path(source_root(), "R", "measure-matching.R"))
  rows <- grep("^#'   \\| (civil|fiscal|week) ", lines, value = TRUE)
  lapply(strsplit(sub("^#'   \\| ", "", rows), " *\\| *"), trimws)
}

test_that("the page's table tells each case with its answer", {
  calendars <- list(civil = civil_calendar(), fiscal = fiscal_calendar("July"), week = week_calendar())
  cases <- documented_cases()
  expect_gt(length(cases), 15L)
  for (case in cases) {
    calendar <- calendars[[case[1L]]]
    day <- as.integer(as.Date(case[3L]))
    start <- period_start(day, case[2L], calendar)
    cells <- period_cells(start, day, case[2L], calendar, start, period_end(day, case[2L], calendar))
    moved <- if (case[5L] == "weekday") {
      shift_weekdays(cells, case[4L], 1L)
    } else {
      tryCatch(shift_cells(cells, case[4L], 1L, calendar),
        drystack_error_period = function(e) rlang::cnd_message(e))
    }
    answer <- if (is.character(moved)) {
      paste0(
        "error: ", if (grepl("a month does not hold whole quarters", moved))
          "a month does not hold whole quarters"
      )
    } else if (is.na(moved$from)) {
      "none: a week 53 has no partner"
    } else {
      paste(as.Date(c(moved$from, moved$to), origin = "1970-01-01"), collapse = " to ")
    }
    expect_identical(answer, case[6L], label = paste(case[1:5], collapse = " "))
  }
})

test_that("there and back again is the same complete period in a calendar of weeks, but for a week 53", {
  retail <- week_calendar()
  for (unit in c("month", "quarter", "half", "year")) {
    starts <- calendar_grid(retail)[[unit]]$starts
    starts <- starts[starts > day_of(1920L, 1L) & starts < day_of(2180L, 1L)]
    for (n in c(1L, 9L)) {
      expect_identical(shift_periods(shift_periods(starts, unit, "year", n, retail),
        unit, "year", -n, retail), starts)
    }
  }
})
