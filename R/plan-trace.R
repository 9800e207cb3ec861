# Tracing a measure through the cells of a level: lenses are worked off, and what is left is
# arithmetic over leaves. A leaf is an aggregate with the intervals of days and the job (orders and
# their date) it is worked out from.
#
# `at` says where a tree is traced: level; base, its cells before any lens; moves, the lenses
# on time so far, by which the cells of another level are moved alike; cells, the base so moved;
# lensed, whether a lens on time stands around; in_pieces, whether the periods of each() do;
# job; along, the axis of a running merge and the axes it stays within; whole, whether limits on
# dates are disregarded. `frame` holds what
# all cells of the ask share.

new_tracing <- function(level, job) {
  list(
    level = level, base = level$cells, cells = level$cells, moves = list(), lensed = FALSE,
    in_pieces = FALSE, job = job, along = NULL, whole = FALSE
  )
}

trace_measure <- function(tree, at, frame) tracers()[[tree$kind]](tree, at, frame)

# What each kind of node becomes.
tracers <- made_once(function() {
  list(
    value = function(tree, at, frame) tree,
    named = function(tree, at, frame) trace_measure(tree$child, at, frame),
    call = function(tree, at, frame) call_node(tree$fn, traced_arguments(tree, at, frame)),
    growth = function(tree, at, frame) {
      node("growth", args = traced_arguments(tree, at, frame), uncovered = !is.na(at$cells$to) &
        at$cells$to > frame$covered)
    },
    share = function(tree, at, frame) node("share", args = traced_arguments(tree, at, frame)),
    each = function(tree, at, frame) {
      if (is.null(tree$grain$column)) trace_each_period(tree, at,
        frame) else trace_each_member(tree, at, frame)
    },
    rank = trace_rank, lens = trace_lens, of = trace_of, along = trace_along, scope = trace_scope,
    index = trace_index, overall = trace_overall, of_rows = trace_of_rows,
    occurrences = trace_occurrences, day = trace_day, effect = trace_effect,
    outlook = trace_outlook, days_left = trace_days_left, aggregate = trace_leaf
  )
})

traced_arguments <- function(tree, at, frame) lapply(tree$args, trace_measure, at, frame)

trace_rank <- function(tree, at, frame) {
  node("rank",
    child = trace_measure(tree$child, at, frame), within = tree$within, from = tree$from,
    width = length(at$cells$from), total = at$level$role %in% c("subtotal", "total"))
}

# A move is a function of cells and of the level they are of.
moved <- function(at, move) {
  at$cells <- move(at$cells, at$level)
  at$moves <- c(at$moves, list(move))
  at
}

moved_alike <- function(cells, moves, level) {
  Reduce(function(cells, move) move(cells, level), moves, cells)
}

trace_lens <- function(tree, at, frame) {
  at$lensed <- TRUE
  if (!is.null(tree$options$using)) {
    return(trace_window(tree, at, frame))
  }
  move <- function(cells, level) lenses()[[tree$fn]]$move(cells, tree$options, frame)
  trace_measure(tree$child, moved(at, move), frame)
}

# moving(m, n, using = f): the n figures of the window combined.
trace_window <- function(tree, at, frame) {
  parts <- lapply(seq_len(tree$options$n), function(i) {
    move <- function(cells, level) moving_parts(cells, tree$options, frame)[[i]]
    trace_measure(tree$child, moved(at, move), frame)
  })
  node("combine", fn = tree$options$using, args = parts, width = length(at$cells$from))
}

# Other orders. Without limits on dates the cells are those of the level without its limits, moved
# as before, so that what a lens cuts stays cut. Read off another date, orders dated there before
# the record begins belong to no cell.
trace_scope <- function(tree, at, frame) {
  at$job <- scoped_job(at$job, tree, frame)
  if (isTRUE(tree$drop$dates) || isTRUE(tree$drop$all)) {
    at$whole <- TRUE
    at$base <- whole_cells(at$base, frame)
    at$cells <- moved_alike(at$base, at$moves, at$level)
  }
  if (!is.null(tree$date)) {
    at <- moved(at, function(cells, level) {
      cells$from <- pmax(cells$from, frame$first)
      cells
    })
  }
  trace_measure(tree$child, at, frame)
}

# Over members the states of groups are merged; over periods the cells are prolonged.
trace_along <- function(tree, at, frame) {
  if (at$in_pieces) {
    raise("expression", c(
      "{.code running(along = )} cannot stand inside {.fn each} over periods.",
      ">" = "Put {.fn each} inside of it."
    ))
  }
  if (!is_period_axis(frame$axes[[tree$axis]])) {
    at$along <- list(axis = tree$axis, within = tree$within, from = tree$from)
    return(trace_measure(tree$child, at, frame))
  }
  at$lensed <- TRUE
  trace_measure(tree$child, moved(at, function(cells, level) {
    along_cells(cells, tree, level)
  }), frame)
}

# Cells prolonged to the first, or the last, of their run along a period axis.
along_cells <- function(cells, tree, level) {
  run <- period_run(tree, level)
  if (is.null(run)) {
    return(cells)
  }
  start <- tree$from == "start"
  ends <- split(if (start) cells$from else cells$to, run)
  end <- vapply(ends, function(days) {
    if (all(is.na(days))) NA_integer_ else (if (start) min else max)(days, na.rm = TRUE)
  }, 1L)
  end <- known_with(unname(end[as.character(run)]), cells)
  if (start) interval_cells(end, cells$to) else interval_cells(cells$from, end)
}

# Which cells of a level make one run along a period axis: those alike in the other periods, or in
# those the run stays within. NULL where the level has released the axis.
period_run <- function(tree, level) {
  if (!tree$axis %in% names(level$periods)) {
    return(NULL)
  }
  others <- tree$within %||% setdiff(names(level$periods), tree$axis)
  row_ids(level$periods[intersect(others, setdiff(names(level$periods), tree$axis))],
    length(level$cells$from))
}

# The base is the period as the table shows it: where it has rows of its own the figure is theirs,
# so that it is 100 there, else that of its days.
trace_index <- function(tree, at, frame) {
  if (at$lensed) {
    raise("expression", c(
      paste0(quoted(tree_text(tree)), " stands under a lens on time, which would move its base."),
      ">" = "Put the lens inside: {.code index(ytd(sales), \"2025-01\")}."
    ))
  }
  at$lensed <- TRUE
  now <- trace_measure(tree$child, at, frame)
  base <- trace_base_row(tree, at, frame) %||% trace_measure(tree$child,
    moved(at, function(cells, level) base_cells(tree, length(cells$from), frame)), frame)
  call_node("*", list(value_node(100), call_node("/", list(now, base))))
}

# list(unit, calendar, start, end) of the period that is 100.
base_period <- function(tree, frame) {
  grain <- frame$grain %||% raise_no_unit("index")
  start <- starts_from_text(tree$base, grain$unit, grain$calendar)
  c(grain[c("unit", "calendar")], list(start = start,
    end = period_end(start, grain$unit, grain$calendar)))
}

base_cells <- function(tree, n, frame) {
  base <- base_period(tree, frame)
  period_cells(rep(base$start, n), rep(min(base$end, frame$as_of), n), base$unit, base$calendar,
    rep(base$start, n), rep(base$end, n))
}

# The figure on the row of the base, on the level that keeps the axis of this period too; NULL where
# the table does not show it.
trace_base_row <- function(tree, at, frame) {
  base <- base_period(tree, frame)
  own <- vapply(frame$axes, function(axis) {
    is_period_axis(axis) && axis$unit == base$unit && axis$calendar$id == base$calendar$id
  }, NA)
  if (at$in_pieces || !any(own)) {
    return(NULL)
  }
  level <- at$level
  level$keeps <- level$keeps | own
  inner <- at_level(at, level, frame)
  row <- match(base$start, inner$level$periods[[names(frame$axes)[own][1L]]])
  if (is.na(row)) {
    return(NULL)
  }
  node("overall", child = trace_measure(tree$child, inner, frame), keeps = level$keeps,
    map = rep(row, length(at$cells$from)))
}

# The place of a measure on another level, under the same lenses.
at_level <- function(at, level, frame) {
  there <- level_cells(level, frame)
  level$periods <- there$periods
  at$level <- level
  at$base <- if (at$whole) whole_cells(there$cells, frame) else there$cells
  at$cells <- moved_alike(at$base, at$moves, level)
  at
}

# The whole of a level that keeps only some axes, with the map from the
# cells here to the cells there.
trace_overall <- function(tree, at, frame) {
  level <- at$level
  level$keeps <- level$keeps & names(frame$axes) %in%
    axes_of_overall(tree, names(frame$axes)[level$keeps])
  inner <- at_level(at, level, frame)
  there <- inner$level$periods
  here <- at$level$periods[names(there)]
  n <- length(at$cells$from)
  map <- if (length(here) == 0L) rep(1L, n) else match_rows(here, there, n,
    length(inner$cells$from))
  node("overall", child = trace_measure(tree$child, inner, frame), keeps = level$keeps, map = map)
}

# The figures of the lines of the table, of which some are combined; `whole`: the orders
# they are of.
trace_of_rows <- function(tree, at, frame) {
  if (at$in_pieces || !is.null(at$job$entity)) {
    raise("expression",
      c(paste0("{.code overall(using = )} looks at the rows of the table: it cannot stand inside ",
        "{.fn each}."),
      ">" = "Put {.fn each} inside of it."))
  }
  level <- at$level
  level$keeps[] <- TRUE
  inner <- at_level(at, level, frame)
  node("of_rows", fn = tree$using, child = trace_measure(tree$child, inner, frame),
    keeps = level$keeps,
    within = tree$within, row_periods = inner$level$periods, cells = length(inner$cells$from),
    width = length(at$cells$from), whole = trace_overall(tree, at, frame))
}

# A share of the parent is of what releases the last of the row axes that the row itself keeps.
axes_of_overall <- function(tree, kept) {
  if (is.null(tree$parent)) {
    return(tree$within)
  }
  setdiff(kept, utils::tail(intersect(tree$parent, kept), 1L))
}

# Figures of each finer period within the cells; the periods that several cells
# share are worked out once.
trace_each_period <- function(tree, at, frame) {
  grain <- tree$grain
  to <- pmin(at$cells$to, frame$as_of)
  from <- pmax(at$cells$from, if (tree$days == "sold") at$cells$from else at$job$first)
  from[!is.na(from) & !is.na(to) & from > to] <- NA_integer_
  table <- calendar_grid(grain$calendar)[[grain$unit]]
  first <- period_position(from, grain$unit, grain$calendar)
  last <- period_position(to, grain$unit, grain$calendar)
  cell <- rep(seq_along(first), ifelse(is.na(first) | is.na(last), 0L, last - first + 1L))
  place <- first[cell] + sequence(tabulate(cell, length(first))) - 1L
  pieces <- list(from = pmax(table$starts[place], from[cell]),
    to = pmin(table$ends[place], to[cell]))
  keep <- tree$days != "trading" | count_trading(pieces$from, pieces$to, grain$calendar) > 0L
  pieces <- lapply(pieces, `[`, keep)
  distinct <- lapply(pieces, `[`, first_of_rows(pieces, length(pieces$from)))
  inner <- at
  inner$base <- inner$cells <- period_cells(
    distinct$from, distinct$to, grain$unit, grain$calendar,
    period_start(distinct$from, grain$unit, grain$calendar),
    period_end(distinct$from, grain$unit, grain$calendar)
  )
  inner$moves <- list()
  inner$in_pieces <- TRUE
  owner <- match_rows(pieces, distinct, length(pieces$from), length(distinct$from))
  node("each",
    fn = tree$fn, options = tree$options, child = trace_measure(tree$child, inner, frame),
    days = tree$days,
    present = if (tree$days == "sold") trace_leaf(node("aggregate", fn = "count", args = list()),
      inner, frame),
    from = distinct$from, to = distinct$to, calendar = grain$calendar,
    pieces = split(owner, factor(cell[keep], levels = seq_along(first))),
    known = !is.na(from) & !is.na(to) & to >= at$job$first, width = length(distinct$from)
  )
}

# Figures of each value of a column within the cells: the column is one more dimension of the
# orders. Its members are those that some aggregate inside sees in the cell that it is moved to.
trace_each_member <- function(tree, at, frame) {
  if (!is.null(at$job$entity)) {
    raise("expression", c("{.fn each} over a column cannot stand inside another.",
      ">" = paste0("The inner one may go over periods, as in {.code mean(each(depot, ",
        "max(each(month, sum(amount)))))};"),
      ">" = "or put one of the columns into the rows of the table."))
  }
  inner <- at
  inner$job$entity <- list(name = tree$grain$column, id = tree$grain$id)
  inner$job <- keyed_job(inner$job)
  inner$along <- NULL
  child <- trace_measure(tree$child, inner, frame)
  node("members",
    fn = tree$fn, options = tree$options, child = child, along = at$along,
    entity = entity_of_job(inner$job),
    outside = if (!is.null(tree$outside)) traced_outside(tree, inner, frame),
    lines_seen = trace_presence(child, inner, frame), width = length(at$cells$from)
  )
}

# Which members stand outside of alike(), and with how much (table-alike.R).
traced_outside <- function(tree, at, frame) {
  list(
    figures = lapply(tree$outside, trace_measure, at = at, frame = frame),
    lines = at$level$role == "line" && !at$lensed, column = tree$grain$column, unit = tree$unit,
      days = tree$days_of,
    key = tree_key(call_node("+", unname(tree$outside)))
  )
}

# Counts of the order lines that the aggregates of a figure read, each once; what is worked out of
# nothing is there where the cell has lines.
trace_presence <- function(child, at, frame) {
  lines <- function(at) trace_leaf(node("aggregate", fn = "count", args = list()), at, frame)
  read <- readings_in(child, at$job)
  seen <- lapply(read, function(one) {
    at[c("cells", "job")] <- list(interval_cells(one$from, one$to), one$job)
    lines(at)
  })
  key <- vapply(seen, function(leaf) rlang::hash(list(leaf$job$key, leaf$from, leaf$to)), "")
  if (length(seen) == 0L) list(lines(at)) else seen[!duplicated(key)]
}

# Where the aggregates of a figure read, of each list(from, to, job): an interval for every cell.
# Days and periods within a cell are taken together; overall figures are of other cells.
readings_in <- function(tree, job) {
  if (tree$kind == "leaf") {
    return(list(list(from = tree$from, to = tree$to, job = tree$job)))
  }
  inside <- if (!tree$kind %in% c("overall", "of_rows"))
    lapply(subtrees(tree), readings_in, job = job)
  inside <- unlist(inside, recursive = FALSE)
  if (tree$kind != "each") {
    return(inside)
  }
  if (length(inside) == 0L) inside <- list(list(from = tree$from, to = tree$to, job = job))
  lapply(inside, reading_of_cells, pieces = tree$pieces)
}

reading_of_cells <- function(read, pieces) {
  end <- function(days, find) {
    vapply(pieces, function(piece) {
      known <- days[piece][!is.na(days[piece])]
      if (length(known) > 0L) as.integer(find(known)) else NA_integer_
    }, 1L, USE.NAMES = FALSE)
  }
  list(from = end(read$from, min), to = end(read$to, max), job = read$job)
}

# Orders after the as-of date are never seen, and an interval wholly before the record is unknown.
trace_leaf <- function(tree, at, frame) {
  if (!is.null(at$job$record)) {
    return(trace_leaf_beside(tree, at, frame))
  }
  leaf_node(tree, at, days_of_leaf(at, frame))
}

# Which cells of a level some figure lost on its way to a partner.
lost_cells <- function(figures, n) {
  lost <- lapply(unlist(lapply(figures, leaves_of), recursive = FALSE), `[[`, "lost")
  lost <- Filter(function(l) length(l) == n, lost)
  if (length(lost) > 0L) Reduce(`|`, lost)
}

# True when some known interval reaches back before the month, week or period
# in which the record begins.
reaches_before_record <- function(leaves, frame, calendar) {
  edge <- period_start(frame$first, calendar$anchor, calendar)
  any(vapply(leaves, function(leaf) any(leaf$from < edge, na.rm = TRUE), logical(1L)))
}
