# Moving by trading days: the open days of a calendar one after the other, whatever lies between.

# The nth trading day before each day (n < 0: after it).
trading_back <- function(days, n, calendar) {
  open <- which(open_days(calendar)) + first_known_day - 1L
  before <- open_before(calendar)
  at <- days - first_known_day + 1L
  place <- if (n > 0L) before[at] - n + 1L else before[at + 1L] - n
  at_position(open, if (n == 0L) before[at + 1L] else place)
}

# Single days go to the nth trading day before them; of longer intervals the first
# and the last trading day.
shift_trading <- function(cells, n, calendar) {
  single <- cells$from == cells$to
  first <- trading_back(cells$from - 1L, -1L, calendar)
  last <- trading_back(cells$to, 0L, calendar)
  from <- ifelse(single, trading_back(cells$from, n, calendar), trading_back(first, n, calendar))
  to <- ifelse(single, from, trading_back(last, n, calendar))
  from[is.na(to) | to < from] <- NA_integer_
  to[is.na(from)] <- NA_integer_
  if (is.null(cells$unit)) {
    return(interval_cells(from, to))
  }
  period_cells(from, to, "day", cells$calendar, from, from)
}

# The first of the n trading days up to each day.
trading_window <- function(days, n, calendar) {
  last <- trading_back(days, 0L, calendar)
  if (n == 1L) last else trading_back(last, n - 1L, calendar)
}
