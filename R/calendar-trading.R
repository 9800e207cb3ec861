#' Trading days
#'
#' `trading()` gives a calendar weekly closing days and holidays; `trading_days()` counts the days
#' between, on which the trade is open. What the periods of the calendar are does not change.
#'
#' @param calendar A calendar.
#' @param closed Weekdays on which the trade is closed every week, by name or number (Monday is 1).
#' @param holidays Days on which it is closed: Dates or ISO text, or the path of a CSV file
#'   whose first column holds them.
#' @param x A period vector, or Dates: the first days of intervals whose last days are `to`.
#' @param to For Dates: the last days, as many as `x` or one.
#' @return `trading()`: the calendar. `trading_days()`: whole numbers, as many as `x`; without
#'   closing days and holidays all days are counted.
#' @section Errors: `drystack_error_calendar` for a weekday that is none, `drystack_error_date`
#'   for a holiday that is no date (its place in the list is named), `drystack_error_file` for a
#'   file that cannot be read.
#' @seealso [closing()] for when periods close; `each(day, days = "trading")` and `prior(trading =
#'   TRUE)` of the [measure_language].
#' @examples
#' yard <- trading(fiscal_calendar("July"), closed = "Sunday",
#'   holidays = c("2026-12-25", "2026-12-26")
#' )
#' trading_days(as_period("2026-12-01", month, yard))
#' trading_days(as.Date("2026-12-21"), as.Date("2026-12-31"), calendar = yard)
#' @export
trading <- function(calendar, closed = character(), holidays = as.Date(character())) {
  own_setting()
  check_calendar(calendar)
  weekdays <- vapply(as.list(closed), match_name, 1L, names = weekday_names, name = "closed")
  calendar$trading <- list(closed = sort(unique(as.integer(weekdays))),
    holidays = holiday_days(holidays))
  calendar
}

# How many open days lie before each known day: a difference counts any interval.
open_before <- function(calendar) c(0L, cumsum(open_days(calendar)))

# Which of the known days are open.
open_days <- function(calendar) {
  days <- first_known_day:last_known_day
  !weekday_of(days) %in% calendar$trading$closed & !days %in% calendar$trading$holidays
}

count_trading <- function(from, to, calendar) {
  before <- open_before(calendar)
  at <- function(day) {
    before[pmin(pmax(day, first_known_day), last_known_day + 1L) - first_known_day + 1L]
  }
  pmax(at(to + 1L) - at(from), 0L)
}

holiday_days <- function(holidays) {
  if (is.character(holidays) && length(holidays) == 1L && is.na(iso_days(holidays)) &&
    file.exists(holidays)) {
    holidays <- read_calendar_csv(holidays)[[1L]]
  }
  days <- if (inherits(holidays, "Date")) as.integer(floor(as.numeric(holidays)))
    else iso_days(as.character(holidays))
  bad <- which(is.na(days))
  if (length(bad) > 0L) {
    raise("date", c(
      "A holiday is not a date.",
      "x" = paste0(
        "{examples_of(as.character(holidays[bad]))} at {length(bad)} place{?s} of the list: ",
        "{utils::head(bad, 5)}."
      ),
      ">" = "Write dates as year-month-day: \"2026-12-25\"; or name a CSV file that is there."
    ))
  }
  check_years(days, "holidays")
  sort(unique(days))
}
