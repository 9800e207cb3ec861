#' The day to which the orders are whole
#'
#' An export reaches to its last order: what lies between that day and a later as-of date is not
#' known to be without sales. Periods there are marked as not covered, growth to them is unknown,
#' and [closed_period()] does not go beyond the orders. Where the shop sells nothing on some days,
#' `covered_to()` says to which day the export is known to be whole.
#'
#' @param book A daybook.
#' @param date One date, as for [as_of()]; not before the last order.
#' @return A daybook that is covered to this date.
#' @section Errors: `drystack_error_date` for something that is no date, or a
#'   date before the last order.
#' @seealso [as_of()] sees the orders up to a day; [closing()] says when periods close.
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on) |>
#'   as_of("2026-09-30")
#' rollup(book, by = month, sales = sum(amount)) |> tail(1)
#' covered_to(book, "2026-09-30") |> rollup(by = month, sales = sum(amount)) |> tail(1)
#' @export
covered_to <- function(book, date) {
  own_setting()
  check_daybook(book)
  day <- said_day(date, "date", book)
  if (day < book$last) {
    raise("date", c(
      "The orders cannot be complete only to {day_words(day)}.",
      "i" = "The last one is dated {day_words(book$last)}.",
      ">" = "Give that day or a later one; {.code as_of()} leaves out later orders."
    ))
  }
  book$covered <- day
  book
}

# The last day to which figures are known.
covered_day <- function(book) min(max(book$last, book$covered), book$as_of)

# Days years before or after nine in ten of the order lines, as placeholders for unknown dates are.
# list(count, days: as ISO texts) or NULL.
lone_dates <- function(engine, facts) {
  years <- 366L
  if (facts$last - facts$first < 10L * years || engine$rows < 20L) {
    return(NULL)
  }
  counted <- days_counted(engine)
  known <- !is.na(counted$days) & counted$days <= facts$last
  days <- as.integer(counted$days[known])
  lines <- counted$lines[known][order(days)]
  days <- sort(days)
  reached <- cumsum(lines) / sum(lines)
  usual <- c(days[which(reached > 0.05)[1L]], days[which(reached >= 0.95)[1L]])
  lone <- days < usual[1L] - 2L * years | days > usual[2L] + 2L * years
  if (diff(usual) > 10L * years || !any(lone)) {
    return(NULL)
  }
  list(count = sum(lines[lone]), days = format(as_day_date(days[lone])))
}

# How many of the last orders are dated in the future, far beyond all others: such a date was
# mistyped. list(last: the last day of the others, far: the day, count) or NULL.
far_dates <- function(engine, last, today = Sys.Date()) {
  if (last <= as.integer(today) + 31L || engine$rows < 100L) {
    return(NULL)
  }
  counted <- days_counted(engine)
  days <- as.numeric(counted$days)
  future <- !is.na(days) & days > as.integer(today) + 31L
  others <- days[!is.na(days) & !future]
  far <- sum(counted$lines[future])
  if (length(others) == 0L || far > 0.01 * engine$rows || min(days[future]) - max(others) < 366) {
    return(NULL)
  }
  list(last = as.integer(max(others)), far = as.integer(max(days[future])), count = far)
}
