# outlook() in the cells of a level: the figure known, and what it is carried on by: the days of the
# period and those known, or the figures of both a year before.
#
# part: the cells that are estimates; factor: by the days, NA where none is known

trace_outlook <- function(tree, at, frame) {
  unit <- tree$options$unit %||% frame$grain %||% raise_no_unit(tree$fn)
  known <- moved(at, function(cells, level) known_so_far(cells, unit, frame))
  days <- known$cells
  part <- !is.na(days$to) & days$to < days$end
  # Of a period that began before the orders did, what came before them is not known.
  lost <- part & days$start < period_start(frame$first, unit$calendar$anchor, unit$calendar)
  before <- function(end) {
    moved(at, function(cells, level) {
      cells <- known_so_far(cells, unit, frame)
      cells$from[!(cells$to < cells$end)] <- NA_integer_
      if (end) cells$to <- cells$end
      shift_cells(cells, "year", 1L, unit$calendar)
    })
  }
  by_year <- tree$options$by == "last year"
  ends <- if (by_year) lapply(c(TRUE, FALSE), function(end) {
    trace_measure(tree$child, before(end), frame)
  })
  node("outlook", args = c(list(trace_measure(tree$child, known, frame)), ends), part = part,
    factor = ifelse(lost, NA, if (by_year) 1 else days_factor(days, tree$options$by,
      unit$calendar)))
}

# From the start of the period to the last day that is known; of a period that the orders do not
# reach nothing is.
known_so_far <- function(cells, unit, frame) {
  cells$to <- pmin(cells$to, frame$as_of)
  cells <- so_far_cells(cells, unit$unit, unit$calendar)
  cells$to <- pmin(cells$to, frame$covered)
  unknown <- which(cells$to < cells$start)
  cells$from[unknown] <- cells$to[unknown] <- NA_integer_
  cells
}

days_factor <- function(days, by, calendar) {
  count <- function(to) {
    if (by == "trading days") count_trading(days$start, to, calendar) else to - days$start + 1
  }
  known <- count(days$to)
  ifelse(days$to == days$end, 1, ifelse(known > 0, count(days$end) / known, NA))
}

# Which cells of a level hold an estimate.
estimated_cells <- function(tree, n) {
  own <- if (tree$kind == "outlook") rep_len(tree$part, n) else rep(FALSE, n)
  if (tree$kind %in% c("overall", "of_rows")) {
    there <- estimated_cells(tree$child, max(tree$map, tree$cells, 1L))
    return(if (is.null(tree$map)) rep(any(there), n) else there[tree$map])
  }
  if (tree$kind %in% c("each", "leaf")) {
    return(own)
  }
  Reduce(`|`, lapply(subtrees(tree), estimated_cells, n = n), own)
}
