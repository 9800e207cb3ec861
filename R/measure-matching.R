#' Which days a comparison looks at
#'
#' `prior(m, unit, n)` moves a cell by position in the calendar. A complete period goes to
#' a complete period, whatever its length. A part-way period is cut at the matching day: the
#' same day of the month (29 February goes to the 28th, the last day of a month to the last
#' day of the matching month), in a calendar of weeks the same weekday of the same week. With
#' `match = "weekday"` it moves by whole weeks instead: 364 days for a year, 182 for a half, 91 for
#' a quarter, 28 for a month.
#'
#' @section Each case with its answer: A row of the given unit that ends on the given day
#'   (part-way where the period goes on), compared with the unit before. The week year is
#'   `week_calendar("4-4-5", "last Saturday of January")`, in which FY2026 has 53 weeks; its extra
#'   week is the last of the year.
#'
#'   | calendar | row | up to | by | match | looks at |
#'   |---|---|---|---|---|---|
#'   | civil | month | 2026-08-31 | year | position | 2025-08-01 to 2025-08-31 |
#'   | civil | month | 2024-02-29 | year | position | 2023-02-01 to 2023-02-28 |
#'   | civil | month | 2025-02-28 | year | position | 2024-02-01 to 2024-02-29 |
#'   | civil | month | 2026-03-31 | month | position | 2026-02-01 to 2026-02-28 |
#'   | civil | month | 2026-03-30 | month | position | 2026-02-01 to 2026-02-28 |
#'   | civil | month | 2026-09-18 | year | position | 2025-09-01 to 2025-09-18 |
#'   | civil | day | 2024-02-29 | year | position | 2023-02-28 to 2023-02-28 |
#'   | civil | quarter | 2026-08-31 | quarter | position | 2026-04-01 to 2026-05-31 |
#'   | civil | year | 2024-02-29 | year | position | 2023-01-01 to 2023-02-28 |
#'   | civil | week | 2026-09-06 | week | position | 2026-08-24 to 2026-08-30 |
#'   | civil | month | 2026-08-31 | year | weekday | 2025-08-02 to 2025-09-01 |
#'   | fiscal | year | 2026-09-18 | year | position | 2025-07-01 to 2025-09-18 |
#'   | week | week | 2026-02-07 | year | position | 2025-01-26 to 2025-02-01 |
#'   | week | week | 2026-01-31 | year | position | none: a week 53 has no partner |
#'   | week | week | 2026-01-31 | year | weekday | 2025-01-26 to 2025-02-01 |
#'   | week | month | 2026-01-31 | year | position | 2024-12-22 to 2025-01-25 |
#'   | week | month | 2027-01-30 | year | position | 2025-12-21 to 2026-01-31 |
#'   | week | month | 2026-02-10 | year | position | 2025-01-26 to 2025-02-04 |
#'   | civil | quarter | 2026-08-31 | month | position | error: a month does not hold whole quarters |
#'
#' @name prior_matching
#' @seealso [measure_language]
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on) |> as_of("2026-08-15")
#' rollup(within_dates(book, latest(2, month)), by = month,
#'   sales = sum(amount), by_day = prior(sales, year),
#'   by_weekday = prior(sales, year, match = "weekday")
#' )
NULL
