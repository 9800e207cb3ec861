# The levels of an ask: the lines, and each kind of total. A level keeps some axes and releases the others.

# In a rollup every leading group has a subtotal ("all"), or the whole table alone a total ("grand").
rollup_levels <- function(ask) {
  n <- length(ask$axes)
  lengths <- switch(ask$totals,
    none = n,
    grand = unique(c(n, 0L)),
    all = n:0L
  )
  lapply(lengths, function(k) {
    new_level(keeps = seq_len(n) <= k, role = if (k == n) "line" else if (k == 0L) "total" else "subtotal")
  })
}

new_level <- function(keeps, role) list(keeps = keeps, role = role)

# The cells of a level in time, with the period each kept period axis has there:
# list(cells = , periods = list of first days, one vector for each kept period axis).
level_cells <- function(level, frame) {
  axes <- frame$axes[level$keeps & vapply(frame$axes, is_period_axis, logical(1L))]
  if (length(axes) == 0L) {
    return(list(cells = interval_cells(frame$show_first, frame$show_last), periods = list()))
  }
  first <- max(axis_days(axes, period_start, frame$show_first))
  last <- min(axis_days(axes, period_end, frame$show_last))
  starts <- sort(unique(unlist(lapply(axes, period_starts_between, first = first, last = last))))
  ends <- c(starts[-1L] - 1L, last)
  periods <- lapply(axes, function(axis) period_start(starts, axis$unit, axis$calendar))
  whole <- vapply(seq_along(axes), function(i) {
    identical(periods[[i]], starts) && identical(period_end(starts, axes[[i]]$unit, axes[[i]]$calendar), ends)
  }, logical(1L))
  from <- pmax(starts, frame$cut_from %||% starts)
  to <- pmin(ends, frame$show_last)
  cells <- interval_cells(from, to)
  if (any(whole)) {
    axis <- axes[[which(whole)[1L]]]
    cells <- period_cells(from, to, axis$unit, axis$calendar, starts, ends)
  }
  list(cells = cells, periods = periods)
}

axis_days <- function(axes, edge, day) {
  vapply(axes, function(axis) edge(day, axis$unit, axis$calendar), integer(1L))
}

period_starts_between <- function(axis, first, last) {
  starts <- calendar_grid(axis$calendar)[[axis$unit]]$starts
  c(first, starts[starts > first & starts <= last])
}
