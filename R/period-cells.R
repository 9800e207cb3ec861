# Cells in time: for each row of a level the interval of days its figures are worked out from.
#
# list(from, to: the first and last day of each interval, NA where there is none;
#      unit, calendar, start, end: the period the interval is a part of, where it is one;
#      begins, ends: what it is a part of where two periods that do not nest share it;
#      lost: TRUE where a comparison found no partner, such as a week 53)

interval_cells <- function(from, to) list(from = from, to = to)

period_cells <- function(from, to, unit, calendar, start, end) {
  list(from = from, to = to, unit = unit, calendar = calendar, start = start, end = end)
}

# The whole periods that hold `days`, up to the last of these days.
so_far_cells <- function(cells, unit, calendar) {
  start <- period_start(cells$to, unit, calendar)
  period_cells(start, cells$to, unit, calendar, start, period_end(cells$to, unit, calendar))
}

# Cells `n` periods earlier, by position in the calendar. A complete period goes to a complete
# period; of a part-way one, each end that is cut goes to its matching day.
shift_cells <- function(cells, by, n, calendar) {
  if (is.null(cells$unit)) {
    return(shift_interval(cells, by, n, calendar))
  }
  check_holds_whole(cells, by, calendar)
  if (cells$unit == "day") {
    day <- shift_single_days(cells$from, by, n, calendar)
    moved <- period_cells(day, day, cells$unit, cells$calendar, day, day)
    moved$lost <- !is.na(cells$start) & is.na(day) & in_calendar(cells$start, by, n, calendar)
    return(moved)
  }
  if (cells$calendar$id != calendar$id) {
    start <- shift_days(cells$start, by, n, calendar)
    end <- shift_days(cells$end, by, n, calendar)
  } else {
    start <- shift_periods(cells$start, cells$unit, by, n, calendar)
    end <- period_end(start, cells$unit, calendar)
  }
  cut <- function(day) {
    moved <- shift_days(day, by, n, calendar)
    ifelse(is.na(moved), end, pmin(pmax(moved, start), end))
  }
  from <- ifelse(cells$from == cells$start, start, cut(cells$from))
  to <- ifelse(cells$to == cells$end, end, cut(cells$to))
  moved <- period_cells(as.integer(from), as.integer(to), cells$unit, cells$calendar, start, end)
  moved$lost <- !is.na(cells$start) & is.na(start) & in_calendar(cells$start, by, n, calendar)
  moved
}

# Both ends move in the same way; an end whose place the matching period does not have (a fifth
# week) goes to its last day. A single day goes to the same day.
shift_interval <- function(cells, by, n, calendar) {
  end_or <- function(days) {
    moved <- shift_days(days, by, n, calendar)
    lost <- is.na(moved) & !is.na(days)
    last <- period_end(shift_periods(period_start(days[lost], by, calendar), by, by, n, calendar),
      by, calendar)
    moved[lost] <- last
    moved
  }
  from <- end_or(cells$from)
  to <- end_or(cells$to)
  single <- !is.na(cells$from) & cells$from == cells$to
  from[single] <- to[single] <- shift_single_days(cells$from[single], by, n, calendar)
  interval_cells(from, to)
}

# TRUE where the calendar still has a period so far back: then a missing partner is a gap of
# the calendar, not its end.
in_calendar <- function(days, by, n, calendar) {
  !is.na(shift_periods(period_start(days, by, calendar), by, by, n, calendar))
}

# The same weekdays, whole weeks earlier: 52 for a year, 26 for a half, 13 for
# a quarter, 4 for a month.
shift_weekdays <- function(cells, by, n) {
  days <- n * c(day = 1L, week = 7L, month = 28L, quarter = 91L, half = 182L, year = 364L)[[by]]
  interval_cells(cells$from - days, cells$to - days)
}

check_holds_whole <- function(cells, by, calendar) {
  known <- !is.na(cells$start)
  same <- period_position(cells$start, by, calendar) == period_position(cells$end, by, calendar)
  ok <- if (cells$calendar$id == calendar$id) nests_in(cells$unit, by,
    calendar) else all(same[known])
  if (!isTRUE(ok)) {
    own <- calendar_unit_words(cells$unit, cells$calendar, calendar)
    outer <- calendar_unit_words(by, calendar, cells$calendar)
    raise("period", c(
      "A {own} cannot be moved by {outer}: a {by} does not hold whole {unit_plural(cells$unit)}.",
      ">" = "Move it by a unit that does, such as {.code prior(sales, {cells$unit})}."
    ))
  }
}

# A unit, with its calendar where another one stands beside it.
calendar_unit_words <- function(unit, calendar, other) {
  if (calendar$id == other$id) unit else paste(unit, "of the", calendar$words$short)
}
