# The grid of a calendar: for each unit the first and last day of every period, in order. All that
# is done with periods (finding them, moving by positions, nesting) is done on these tables, in the
# same way for every calendar.

# Makes the tables of a calendar: a list of unit_table(), named by unit.
build_grid <- function(calendar) UseMethod("build_grid")

# `bounds` are the first days of all periods and the day after the last; `numbers` the years' own
# numbers; `labels` those of periods that have names of their own.
unit_table <- function(bounds, numbers = NULL, labels = NULL) {
  n <- length(bounds) - 1L
  list(starts = bounds[seq_len(n)], ends = bounds[-1L] - 1L, numbers = numbers, labels = labels)
}

grids <- new.env(parent = emptyenv())

# What was worked out for a calendar once is kept under its id.
remembered <- function(key, make) remembered_in(grids, key, make)

calendar_grid <- function(calendar) remembered(calendar$id, function() build_grid(calendar))

# The position of days in a unit's table: looked up for the known days,
# searched for the few before them.
period_position <- function(days, unit, calendar) {
  at <- days - (first_known_day - 1L)
  if (all(at >= 1L & at <= last_known_day - first_known_day + 1L, na.rm = TRUE)) {
    known <- remembered(paste(calendar$id, "positions", unit), function() {
      searched_position(first_known_day:last_known_day, unit, calendar)
    })
    return(known[at])
  }
  searched_position(days, unit, calendar)
}

searched_position <- function(days, unit, calendar) {
  table <- calendar_grid(calendar)[[unit]]
  position <- findInterval(days, table$starts)
  position[!is.na(position) & (position == 0L |
    days > table$ends[pmax(position, 1L)])] <- NA_integer_
  position
}

period_start <- function(days, unit, calendar) {
  calendar_grid(calendar)[[unit]]$starts[period_position(days, unit, calendar)]
}

period_end <- function(days, unit, calendar) {
  calendar_grid(calendar)[[unit]]$ends[period_position(days, unit, calendar)]
}

# The first and last day that a calendar has periods for.
calendar_range <- function(calendar) {
  days <- calendar_grid(calendar)$day
  c(days$starts[1L], days$ends[length(days$ends)])
}

# True when every period of `inner` lies within one period of `outer`.
nests_in <- function(inner, outer, calendar) {
  if (inner == outer) {
    return(TRUE)
  }
  remembered(paste(calendar$id, "nests", inner, outer), function() {
    table <- calendar_grid(calendar)[[inner]]
    known <- table$starts >= first_known_day & table$ends <= last_known_day
    outer_of <- function(days) period_position(days[known], outer, calendar)
    identical(outer_of(table$starts), outer_of(table$ends))
  })
}

# The first day of the period of each known day, from 1900 on: one look-up a day.
day_table <- function(unit, calendar) {
  remembered(paste(calendar$id, "days", unit), function() {
    period_start(first_known_day:last_known_day, unit, calendar)
  })
}

# The number of the year a period counts in, and its place among the periods of its unit in that
# year. Weeks that straddle a year count in the year of their first day.
period_numbers <- function(starts, unit, calendar) {
  grid <- calendar_grid(calendar)
  year <- period_position(pmax(starts, grid$year$starts[1L]), "year", calendar)
  first <- findInterval(grid$year$starts[year] - 1L, grid[[unit]]$starts) + 1L
  list(year = grid$year$numbers[year], number = findInterval(starts,
    grid[[unit]]$starts) - first + 1L)
}
