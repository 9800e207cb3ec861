# The plan: what an ask needs from the orders.
#
# frame: what all cells share (see ask_frame())
# levels: for each level its cells in time and the traced measures
# base: the key of the job of the daybook's own scope; records: those of the records
# beside the orders
# jobs: the passes over the orders, each with the amounts it reads, the states wanted of them,
#   and the spans: the days cut where some interval of the job begins or ends, so that every
#   interval is a union of spans
# order, keep, keep_where: hidden levels, whose figures put the members of a dimension in
#   order or say which members, or rows, are kept
# part_way, lost, before_record, compared, bases: what is told of the periods
# notes: filled while figures are worked out, with what their reader must know

new_plan <- function(ask, book) {
  check_no_time_lens(ask, book)
  frame <- ask_frame(ask, book)
  base <- new_job(book)
  trees <- lapply(ask$measures, `[[`, "tree")
  levels <- lapply(ask_levels(ask), plan_level, trees = trees, frame = frame, job = base)
  order <- lapply(Filter(by_measure, ask$sort), order_level, ask = ask, frame = frame, job = base)
  keep <- lapply(ask$keep, keep_level, ask = ask, frame = frame, job = base)
  keep_where <- lapply(ask$keep_where, keep_level, ask = ask, frame = frame, job = base)
  leaves <- unlist(lapply(c(levels, order, keep, keep_where), function(level) {
    lapply(c(level$figures, level$first_days), leaves_of)
  }), recursive = FALSE)
  leaves <- unlist(leaves, recursive = FALSE)
  records <- record_bases(ask, base, frame)
  single <- length(levels) == 1L && length(keep) == 0L && length(keep_where) == 0L
  plan_of(
    frame, levels, base$key, plan_jobs(leaves, base, frame, records, single), order,
    keep, keep_where,
    part_way = vctrs::vec_unique(vctrs::vec_rbind(!!!lapply(levels, part_way_periods,
      covered = frame$covered))),
    lost = lost_periods(levels[[1L]]), before_record = reaches_before_record(
      Filter(is_of_orders, leaves),
      frame, book$calendars[[1L]]), compared = compared_days(levels[[1L]], ask, frame, base),
      bases = bases_outside(ask, frame), records = vapply(records, `[[`, "", "key"),
    beside = beside_told(levels)
  )
}

is_of_orders <- function(leaf) is.null(leaf$job$record)

plan_of <- function(frame, levels, base, jobs, order = list(), keep = list(), keep_where = list(),
  part_way = NULL,
  lost = character(), before_record = FALSE, compared = list(), bases = character(),
  records = character(), beside = list()) {
  list(
    frame = frame, levels = levels, base = base, jobs = jobs, order = order, keep = keep,
    keep_where = keep_where,
    part_way = part_way, lost = lost, before_record = before_record,
    compared = compared, bases = bases,
    records = records, beside = beside,
    notes = new.env(parent = emptyenv())
  )
}

# What all cells of the ask share: the record (first), the as-of date, the first and last day shown,
# the grain, which is the finest period of the axes, a function for the days with orders, the
# daybook and the records beside its orders.
ask_frame <- function(ask, book) {
  periods <- Filter(is_period_axis, ask$axes)
  finest <- if (length(periods) > 0L) {
    periods[[which.min(match(vapply(periods, `[[`, "", "unit"), period_units))]]
  }
  grain <- if (!is.null(finest)) list(unit = finest$unit, calendar = finest$calendar)
  frame <- list(
    book = book, records = book$records, first = record_start(book), book_first = book$first,
    date = book$date,
    as_of = book$as_of, covered = covered_day(book), grain = grain, axes = ask$axes,
    ages = age_axes(ask, book)
  )
  frame$sold_days <- made_once(function() sold_days(book, frame))
  c(frame, shown_days(book, frame, lapply(ask$axes, `[[`, "calendar")))
}

# The dates shown: the record up to the as-of date, cut to the limits of the daybook
# and to the calendars of the axes. `cut_from` is a limit that cuts a period; the
# beginning of the record does not.
shown_days <- function(book, frame, calendars) {
  limits <- shown_limits(book)
  ranges <- lapply(Filter(function(calendar) !is.null(calendar) && has_edges(calendar), calendars),
    calendar_range)
  first <- max(frame$first, limits$from, vapply(ranges, `[`, 1L, 1L))
  last <- min(frame$as_of, limits$to, vapply(ranges, `[`, 1L, 2L))
  cut_from <- limits$from
  if (isTRUE(book$shown$complete) && !is.null(frame$grain)) {
    at <- function(edge, day) edge(day, frame$grain$unit, frame$grain$calendar)
    if (last < at(period_end, last)) last <- at(period_start, last) - 1L
    if (!is.null(cut_from) && cut_from > at(period_start, cut_from))
      cut_from <- at(period_end, cut_from) + 1L
    first <- max(first, cut_from)
  }
  if (first > last) {
    raise("date", c(
      "No day is left to show.",
      "x" = "The dates shown would run from {day_words(first)} to {day_words(last)}.",
      "i" = record_words(book)
    ))
  }
  list(show_first = first, show_last = last, cut_from = cut_from)
}

plan_level <- function(level, trees, frame, job) {
  in_time <- level_cells(level, frame)
  level$cells <- in_time$cells
  level$periods <- in_time$periods
  level$figures <- lapply(trees, trace_measure, at = new_tracing(level, job), frame = frame)
  level$first_days <- trace_first_days(level, frame, job)
  level
}

# Several years put together have no year before them, and the days of another date are no periods
# of the table: neither takes a lens on time, nor does a rule of such a table.
check_no_time_lens <- function(ask, book) {
  axes <- Filter(Negate(is_period_axis), ask$axes)
  if (length(axes) == 0L) {
    return(invisible())
  }
  trees <- c(lapply(ask$measures, `[[`, "tree"), rule_trees(ask))
  lensed <- names(Filter(function(tree) has_lens(tree, c(names(lenses()), "index")), trees))
  if (length(lensed) == 0L) {
    return(invisible())
  }
  cyclic <- names(Filter(is_cyclic_axis, axes))
  if (length(cyclic) > 0L) {
    raise_time_lens(lensed, c(paste0("A table by ", cyclic[1L],
      " combines several years and takes no lens on time."),
      ">" = "Ask by a period such as {.code month}, or leave the lens out."))
  }
  dated <- names(Filter(function(axis) holds_days(axis, book), axes))
  if (length(dated) > 0L) {
    raise_time_lens(lensed, c(
      paste0("A table by ", quoted(dated[1L]),
        ", which is a date of its own, takes no lens on time: lenses ",
        "go by ", quoted(book$date), "."),
      ">" = "Ask by a period such as {.code month}, or leave the lens out."))
  }
}

raise_time_lens <- function(lensed, message) {
  raise("expression", c(message[1L],
    "x" = "{examples_of(lensed)} {if (length(lensed) == 1) 'has' else 'have'} one.", message[-1L]))
}

holds_days <- function(axis, book) {
  axis$kind == "dimension" && !is.null(axis$column) &&
    inherits(column_kind(engine_of(book), column_node(axis$name, axis$column)),
      c("Date", "POSIXct"))
}

# The periods of a level that are shown in part, or that the orders do not reach: their label, days
# shown, days in all, first and last day shown, and how many of the days lie after the orders end.
part_way_periods <- function(level, covered) {
  cells <- level$cells
  part <- if (!is.null(cells$end)) {
    which(cells$to < cells$end | cells$from > cells$start | cells$to > covered)
  }
  vctrs::data_frame(
    label = cell_labels(level, part), days = cells$to[part] - cells$from[part] + 1L,
    of = cells$end[part] - cells$start[part] + 1L, from = cells$from[part], to = cells$to[part],
    cut_start = cells$from[part] > cells$start[part],
    after = pmin(pmax(cells$to[part] - covered, 0L), cells$to[part] - cells$from[part] + 1L)
  )
}

# Which days stand beside which: list(from, to, shown, names of the measures) for each stretch of
# days that some measure compares others with; shown are these others: those it counts
# without its lens.
compared_days <- function(level, ask, frame, job) {
  comparing <- names(Filter(function(m) looks_through(m, "prior"), ask$measures))
  if (length(comparing) == 0L || length(level$cells$from) == 0L) {
    return(list())
  }
  at <- new_tracing(level, job)
  by_measure <- lapply(comparing, function(name) {
    tree <- ask$measures[[name]]$tree
    whole <- whole_days(tree)
    traced <- if (identical(whole, tree)) level$figures[[name]] else trace_measure(whole, at, frame)
    compared_stretches(leaves_of(traced), leaves_of(trace_measure(without_prior(whole), at, frame)))
  })
  ends <- do.call(rbind, by_measure)
  names <- rep(comparing, vapply(by_measure, nrow, 1L))
  alike <- row_ids(list(ends[, 1L], ends[, 2L], ends[, 3L], ends[, 4L]), nrow(ends))
  lapply(unique(alike[order(ends[, 2L], ends[, 1L])]), function(one) {
    same <- which(alike == one)
    stretch <- unname(ends[same[1L], ])
    list(from = stretch[1L], to = stretch[2L], names = unique(names[same]), shown = stretch[3:4])
  })
}

# The days of each leaf that a lens has moved back, beside those it would be of without the lens, in
# the cells where both are known.
compared_stretches <- function(moved, plain) {
  pairs <- Map(function(then, now) {
    known <- !is.na(then$from) & !is.na(now$from)
    c(ends_of_days(then$from[known], then$to[known]), ends_of_days(now$from[known], now$to[known]))
  }, moved, plain)
  ends <- unique(do.call(rbind, c(list(matrix(0L, 0L, 4L)), pairs)))
  ends[!is.na(ends[, 2L]) & (ends[, 2L] < ends[, 4L]) %in% TRUE, , drop = FALSE]
}

ends_of_days <- function(from, to) c(least_known(from), -least_known(-to))

# Finer figures as one over all their days, those without orders or trade included.
whole_days <- function(tree) {
  tree_map(tree, function(one) {
    if (one$kind == "each") node("aggregate", fn = "count", args = list())
  })
}

# The periods that figures are indexed to and that lie outside the record, by their words.
bases_outside <- function(ask, frame) {
  nodes <- unlist(lapply(ask$measures, function(m) {
    tree_collect(m$tree, function(one) if (one$kind == "index") list(one))
  }), recursive = FALSE)
  outside <- vapply(nodes, function(tree) {
    base <- base_period(tree, frame)
    base$end < frame$first || base$start > frame$as_of
  }, NA)
  unique(vapply(nodes[outside], `[[`, "", "base"))
}

least_known <- function(days) {
  if (all(is.na(days))) NA_integer_ else as.integer(min(days, na.rm = TRUE))
}

lost_periods <- function(level) {
  lost <- lost_cells(level$figures, length(level$cells$from))
  if (is.null(lost)) character() else cell_labels(level, which(lost))
}

cell_labels <- function(level, which) {
  cells <- level$cells
  if (is.null(cells$unit)) character() else period_labels(cells$start[which], cells$unit,
    cells$calendar)
}
