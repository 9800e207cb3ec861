# The rows of one level: groups side by side within each cell in time. A rank is the place of a
# member, or the first day of a period; a released axis ranks last.

released <- .Machine$integer.max

level_rows <- function(resolved, ask) {
  level <- resolved$level
  cells <- level$cells
  n_cells <- length(cells$from)
  rows <- n_cells * resolved$count
  # Twenty times as fast as rep(each = ).
  cell <- c(.col(c(resolved$count, n_cells)))
  kept <- names(ask$axes)[level$keeps]
  ranks <- lapply(ask$axes, function(axis) {
    if (!axis$name %in% kept) rep.int(released, rows)
    else if (is_period_axis(axis)) level$periods[[axis$name]][cell]
    else rep.int(resolved$members[[axis$name]], n_cells)
  })
  roles <- once_each(level[c("role", "row_role", "col_role")], rep.int, rows)
  list(
    ranks = ranks,
    figures = lapply(resolved$figures, plain_figure, rows = rows),
    role = roles$role, row_role = roles$row_role, col_role = roles$col_role,
    part_way = part_way_rows(resolved, cell),
    cut_period = cut_periods(resolved)[cell],
    estimated = lapply(level$figures, function(figure) estimated_cells(figure, n_cells)[cell])
  )
}

# Whether the period of each cell of a level is shown in part.
cut_periods <- function(resolved) {
  cells <- resolved$level$cells
  if (is.null(cells$end) || !any(resolved$level$keeps)) {
    return(rep.int(FALSE, length(cells$from)))
  }
  cells$to < cells$end | cells$from > cells$start | cells$to > resolved$covered
}

# Whether each row is shown in part: its period; of a cyclic part, whether some of its own days in
# the period are not shown.
part_way_rows <- function(resolved, cell) {
  cells <- resolved$level$cells
  days <- resolved$days
  if (is.null(days$ids) || is.null(cells$end)) {
    return(cut_periods(resolved)[cell])
  }
  lacking <- own_day_counts(days, cells$start, cells$end) !=
    own_day_counts(days, cells$from, cells$to)
  lacking[cbind(rep.int(seq_len(resolved$count), length(cells$from)), cell)]
}

# A figure as a vector of what it stands for.
plain_figure <- function(result, rows) {
  face <- attr(result, "face")
  values <- rep_len(as.numeric(result), rows)
  if (is.null(face)) values else face(values)
}

# The values of an axis from its ranks.
axis_values <- function(axis, rank, folded) {
  rank[rank == released] <- NA_integer_
  if (is_period_axis(axis)) {
    return(new_period(rank, axis$unit, axis$calendar))
  }
  dimension <- folded$dimensions[[axis$name]]
  members <- c(dimension$members, none_label)
  if (!dimension$factor) {
    return(members[rank])
  }
  has_none <- any(rank == length(members), na.rm = TRUE)
  factor(members[rank], levels = unique(if (has_none) members else dimension$members))
}
