book <- daybook(data.frame(on = as.Date("2025-01-01") + 0:595, amount = 1), on) # to 19 August 2026
shown <- function(book, by = month, ...) {
  rows <- plain(rollup(book, by, n = count(), ...))
  stats::setNames(rows$n, format(rows[[1L]], "key"))
}

test_that("the latest periods are the one that holds the as-of date and those before it", {
  expect_identical(
    shown(within_dates(book, latest(3, month)), "month"), c("2026-06" = 30, "2026-07" = 31, "2026-08" = 19)
  )
  expect_identical(
    names(shown(as_of(within_dates(book, latest(2, quarter)), "2026-03-31"), "month")), sprintf(
      "%d-%02d", rep(2025:2026, each = 3L), c(10:12, 1:3)
    )
  )
  expect_identical(
    shown(within_dates(book, latest(2, month, complete = TRUE)), "month"), c("2026-06" = 30, "2026-07" = 31)
  )
  on_the_last_day <- as_of(book, "2026-07-31")
  expect_identical(
    names(shown(within_dates(on_the_last_day, latest(2, month, complete = TRUE)), "month")),
    c("2026-06", "2026-07")
  )
})

test_that("lenses still see the orders before the dates shown", {
  limited <- within_dates(book, "2026-05-01")
  rows <- plain(rollup(limited, month, ytd = ytd(count()), ly = prior(count(), year), totals = "grand"))
  expect_identical(rows$ytd[1L], 151)
  expect_identical(rows$ly, c(31, 30, 31, 19, 111))
  removed <- plain(rollup(only(book, on >= "2026-05-01"), month,
    ytd = ytd(count()), ly = prior(count(), year)))
  expect_identical(removed$ytd[1L], 31)
  expect_true(all(is.na(removed$ly)))
})

test_that("periods that the limits cut are marked and compared over the same days", {
  table <- rollup(within_dates(book, "2026-06-21", "2026-08-10"), month, n = count(), ly = prior(n, year))
  expect_identical(plain(table)$n, c(10, 31, 10))
  expect_identical(plain(table)$ly, c(10, 31, 10))
  expect_identical(table$part_way, c(TRUE, FALSE, TRUE))
  expect_output(print(table, width = 200),
    "2026-06 Jun is part-way: 10 of 30 days, from 21 June 2026 to 30 June 2026")
  expect_output(print(table, width = 200), "21 June 2026 to 10 August 2026")
})

test_that("complete = TRUE shows finished periods of the table's own period only", {
  expect_identical(utils::tail(names(shown(within_dates(book, complete = TRUE), "quarter")), 1L), "2026-Q2")
  both <- within_dates(book, "2026-02-10", "2026-06-15", complete = TRUE)
  expect_identical(shown(both, "month"), c("2026-03" = 31, "2026-04" = 30, "2026-05" = 31))
})

test_that("limits may be periods, and total what they show", {
  quarter <- within_dates(book, as_period("2026 Q1", quarter))
  rows <- plain(rollup(quarter, month, n = count(), totals = "grand"))
  expect_identical(rows$n, c(31, 28, 31, 90))
})

test_that("a table without a period shows the days shown", {
  expect_identical(plain(rollup(within_dates(book, latest(30, day)), n = count()))$n, 30)
})

test_that("limits that leave nothing, or are no dates, are errors", {
  expect_raised(within_dates(book, "2026-05-01", "2026-04-01"), "date", "No day is left")
  expect_raised(rollup(within_dates(book, "2027-01-01"), n = count()), "date", "No day is left to show")
  expect_raised(within_dates(book, "1/5/2026"), "date", "year-month-day")
  expect_raised(latest(0, month), "argument", "at least 1")
  expect_raised(within_dates(book, latest(3, fortnight)), "calendar", "no unit \"fortnight\"")
  expect_raised(within_dates(book, latest(3, month), "2026-01-01"), "argument", "already says the last day")
})

test_that("the same ask by another calendar", {
  two <- daybook(as.data.frame(book), on, list(fiscal = fiscal_calendar("July"), civil = civil_calendar()))
  expect_identical(names(shown(two, "year")), c("FY2025", "FY2026", "FY2027"))
  expect_identical(names(shown(first_calendar(two, civil), "year")), c("2025", "2026"))
  expect_raised(first_calendar(two, lunar), "calendar", "no calendar \"lunar\"")
})

test_that("year-to-date by two calendars says from which day each counts", {
  two <- daybook(as.data.frame(book), on, list(fiscal = fiscal_calendar("July"), civil = civil_calendar()))
  table <- rollup(two, sales = sum(amount), fiscal_ytd = ytd(sales), civil_ytd = ytd(sales, civil))
  expect_identical(unlist(plain(table)[2:3]), c(fiscal_ytd = 50, civil_ytd = 231))
  expect_output(
    print(table, width = 300),
    paste(
      "fiscal ytd counts from 1 July 2026 \\(fiscal calendar\\)",
      "and civil ytd counts from 1 January 2026 \\(civil"
    )
  )
})

test_that("days are said in the same words everywhere, and become the dates of the day they are said on", {
  book <- daybook(few_orders(), on, calendars = fiscal_calendar("July"))
  months_before <- function(day, n) seq(as.Date(format(day, "%Y-%m-01")), by = paste0("-", n, " months"),
    length.out = 2L)[2L]
  for (today in as.list(as.Date(c("2025-03-31", "2024-02-29", "2025-07-01", "2025-01-15", "2024-12-31")))) {
    book$today <- today
    said <- function(text, edge = "end") as_day_date(said_day(text, "date", book, edge))
    first <- as.Date(format(today, "%Y-%m-01"))
    year <- as.Date(paste0(as.integer(format(today, "%Y")) - (as.integer(format(today, "%m")) < 7L),
      "-07-01"))
    quarter <- months_before(today, (as.integer(format(today, "%m")) - 1L) %% 3L)
    monday <- today - (as.integer(format(today, "%u")) - 1L)
    expect_identical(said("today"), today)
    expect_identical(said(" Yesterday "), today - 1)
    expect_identical(said("last month end"), first - 1)
    expect_identical(said("end of last month"), first - 1)
    expect_identical(said("first day of last month"), months_before(today, 1L))
    expect_identical(said("last month", "start"), months_before(today, 1L))
    expect_identical(said("start of this quarter"), quarter)
    expect_identical(said("last day of the last quarter"), quarter - 1)
    expect_identical(said("this year", "start"), year)
    expect_identical(said("end of last year"), year - 1)
    expect_identical(said("last week end"), monday - 1)
    expect_identical(said("10 days ago"), today - 10)
    expect_identical(said("2 weeks ago"), today - 14)
    expect_identical(said("13 months ago"), min(months_before(today, 13L) + as.integer(format(today,
      "%d")) - 1L,
      months_before(today, 12L) - 1L))
    expect_identical(said("last order"), max(few_orders()$on, na.rm = TRUE))
  }
  book$today <- as.Date("2025-03-20")
  shown <- within_dates(book, "last month")$shown
  expect_identical(as_day_date(c(shown$from, shown$to)), as.Date(c("2025-02-01", "2025-02-28")))
  expect_identical(as_day_date(as_of(book, "yesterday")$as_of), as.Date("2025-03-19"))
  expect_raised(as_of(book, "last closed month"), "argument", "closing rule")
  expect_identical(as_day_date(as_of(closing(book, after = 14), "last closed month")$as_of),
    as.Date("2025-02-28"))
  expect_raised(as_of(book, "last mouth"), "date", "must be one date", "last month end")
  expect_false(moves_by_day(c("2025-01-01", "last order", "12")))
  expect_true(moves_by_day("end of last half"))
})
