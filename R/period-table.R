#' A calendar as a plain table
#'
#' @param calendar A calendar, or a daybook, whose first calendar is meant.
#' @param from,to The first and last day, as Dates or ISO text. The table holds the periods
#'   that have a day in between.
#' @param unit The unit of a row: `day`, `week`, `month`, `quarter`, `half`
#'   or `year`, bare or as text.
#' @return A data frame with one row for each period: `period` (a period vector), `label`, `key`
#'   (text that sorts in the order of time), `start`, `end` (Dates), `days`, `trading_days` (see
#'   [trading()]), and for each coarser unit that holds the periods whole its label.
#' @section Errors: `drystack_error_date` for dates that are none or out of order,
#'   `drystack_error_calendar` for a unit that the calendar does not have.
#' @seealso [as_period()] for single dates; [figure()] draws a calendar.
#' @examples
#' calendar_table(fiscal_calendar("July"), "2026-07-01", "2027-06-30", month)
#' @export
calendar_table <- function(calendar, from, to, unit = "day") {
  own_setting()
  if (inherits(calendar, "drystack_daybook")) calendar <- calendar$calendars[[1L]]
  check_calendar(calendar)
  unit <- unit_word(rlang::enquo(unit))
  check_unit(unit, calendar)
  limits <- table_limits(calendar, check_day(from, "from"), check_day(to, "to"))
  table <- calendar_grid(calendar)[[unit]]
  here <- table$starts <= limits[2L] & table$ends >= limits[1L]
  periods <- new_period(table$starts[here], unit, calendar)
  rows <- data.frame(row.names = seq_along(periods))
  rows$period <- periods
  rows$label <- format(periods)
  rows$key <- format(periods, "key")
  rows$start <- start_of(periods)
  rows$end <- end_of(periods)
  rows$days <- as.integer(rows$end - rows$start) + 1L
  rows$trading_days <- trading_days(periods)
  coarser <- setdiff(period_units[seq_along(period_units) > match(unit, period_units)], "week")
  coarser <- if (unit == "day") intersect(calendar$units, period_units[-1L])
    else intersect(calendar$units, coarser)
  for (outer in coarser) {
    if (nests_in(unit, outer, calendar)) {
      rows[[outer]] <- period_labels(period_start(table$starts[here], outer, calendar),
        outer, calendar)
    }
  }
  rows
}

table_limits <- function(calendar, from, to) {
  if (from > to) raise("date", c("{.arg from} lies after {.arg to}.",
    "x" = "{day_words(from)}, {day_words(to)}."))
  range <- calendar_range(calendar)
  if (from > range[2L] || to < range[1L]) {
    raise("date", c(paste0("The {calendar$words$long} has no period between {day_words(from)} ",
      "and {day_words(to)}.")))
  }
  c(max(from, range[1L]), min(to, range[2L]))
}
