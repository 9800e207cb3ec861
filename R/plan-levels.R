# The levels of an ask: the lines, and each kind of total.
#
# keeps: for each axis whether the level keeps it or has released it
# role, row_role, col_role: what its rows are, as a whole and on each side
# cells, periods: its cells in time (plan-cells.R), and their first days for each period
# axis it keeps
# figures: by measure the traced tree (plan-trace.R)

new_level <- function(keeps, role = "line", row_role = role, col_role = "line", cells = NULL,
  periods = list(), figures = list()) {
  list(keeps = keeps, role = role, row_role = row_role, col_role = col_role, cells = cells,
    periods = periods, figures = figures)
}

# Every leading group of a side has a total ("all"), or the whole side alone ("grand"); with two
# sides each total of one meets each of the other.
ask_levels <- function(ask) {
  rows <- side_levels(ask, "rows")
  cols <- side_levels(ask, "cols")
  unlist(lapply(rows, function(row) lapply(cols, function(col) crossed_level(ask, row, col))),
    recursive = FALSE)
}

side_levels <- function(ask, side) {
  axes <- side_axes(ask, side)
  n <- length(axes)
  lengths <- switch(ask$totals[[side]],
    none = n,
    grand = unique(c(n, 0L)),
    all = n:0L
  )
  lapply(lengths, function(k) {
    list(kept = axes[seq_len(k)], role = if (k == n) "line" else if (k ==
      0L) "total" else "subtotal")
  })
}

crossed_level <- function(ask, row, col) {
  new_level(names(ask$axes) %in% c(row$kept, col$kept), cell_role(row$role, col$role),
    row$role, col$role)
}

# What the crossing of a row and a column is.
cell_role <- function(row, col) {
  if (col == "line") {
    return(row)
  }
  if (row %in% c("line", col)) col else "subtotal"
}

# A level that no one sees: it puts others in order.
hidden_level <- function(ask, kept) new_level(names(ask$axes) %in% kept)

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
    identical(periods[[i]], starts) && identical(
      period_end(starts, axes[[i]]$unit, axes[[i]]$calendar), ends)
  }, logical(1L))
  from <- pmax(starts, frame$cut_from %||% starts)
  to <- pmin(ends, frame$show_last)
  cells <- c(interval_cells(from, to), list(shared_from = starts, shared_to = ends))
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
