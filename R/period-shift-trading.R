# Moving by some days alone, those a calendar is open or those with orders, one after the other,
# whatever lies between. `open`: these days, in order.

trading_day_list <- function(calendar) which(open_days(calendar)) + first_known_day - 1L

# The nth open day before each day (n < 0: after it; 0: the last one up to it).
trading_back <- function(days, n, open) {
  place <- rep(NA_integer_, length(days))
  known <- !is.na(days)
  place[known] <- if (n > 0L) findInterval(days[known] - 1L, open) - n + 1L
    else findInterval(days[known], open) - n
  at_position(open, place)
}

# Single days go to the nth open day before them; of longer intervals the first
# and the last open day.
shift_trading <- function(cells, n, open) {
  single <- cells$from == cells$to
  first <- trading_back(cells$from - 1L, -1L, open)
  last <- trading_back(cells$to, 0L, open)
  from <- ifelse(single, trading_back(cells$from, n, open), trading_back(first, n, open))
  to <- ifelse(single, from, trading_back(last, n, open))
  from[is.na(to) | to < from] <- NA_integer_
  to[is.na(from)] <- NA_integer_
  if (is.null(cells$unit)) {
    return(interval_cells(from, to))
  }
  period_cells(from, to, "day", cells$calendar, from, from)
}

# The first of the n open days up to each day.
trading_window <- function(days, n, open) {
  last <- trading_back(days, 0L, open)
  if (n == 1L) last else trading_back(last, n - 1L, open)
}
