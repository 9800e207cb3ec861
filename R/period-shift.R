# Moving by position in the calendar: the rules by which a comparison finds its partner.

# The first days of the periods that stand `n` periods of `by` earlier (n < 0: later) in the
# same place: the same month of the year, the same week of the quarter. NA where there is
# no such place (a week 53).
shift_periods <- function(starts, unit, by, n, calendar) {
  tables <- calendar_grid(calendar)
  position <- period_position(starts, unit, calendar)
  if (unit == by) {
    return(at_position(tables[[unit]]$starts, position - n))
  }
  outer <- period_position(starts, by, calendar)
  first_inner <- function(outer) {
    period_position(at_position(tables[[by]]$starts, outer), unit, calendar)
  }
  last_inner <- function(outer) {
    period_position(at_position(tables[[by]]$ends, outer), unit, calendar)
  }
  moved <- first_inner(outer - n) + position - first_inner(outer)
  moved[is.na(moved) | moved > last_inner(outer - n)] <- NA_integer_
  at_position(tables[[unit]]$starts, moved)
}

at_position <- function(x, position) {
  position[!is.na(position) & (position < 1L | position > length(x))] <- NA_integer_
  x[position]
}

# A day that stands for itself goes to the same day of the month, or its last one where there is
# none, also when it is the last of its own month.
shift_single_days <- function(days, by, n, calendar) {
  shift_days(days, by, n, calendar, last_to_last = FALSE)
}

# The matching day `n` periods of `by` earlier: the same day of the same month in its quarter, half
# or year; in a calendar of weeks the same weekday of the same week. The last day of a month goes to
# the last day of the matching month, and a day the matching month does not have to that last day.
shift_days <- function(days, by, n, calendar, last_to_last = TRUE) {
  if (by == "day") {
    return(days - as.integer(n))
  }
  base <- if (nests_in(calendar$anchor, by, calendar)) calendar$anchor else by
  starts <- period_start(days, base, calendar)
  moved <- shift_periods(starts, base, by, n, calendar)
  moved_end <- period_end(moved, base, calendar)
  matching <- pmin(moved + (days - starts), moved_end)
  last <- last_to_last & !is.na(days) & days == period_end(days, base, calendar)
  matching[last] <- moved_end[last]
  matching
}
