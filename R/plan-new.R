# The plan: what an ask needs from the orders.
#
# frame: what all cells share (see ask_frame())
# levels: for each level its cells in time and the traced measures
# base: the key of the job of the daybook's own scope
# jobs: the passes over the orders, each with the amounts it reads, the states wanted of them,
#   and the spans: the days cut where some interval of the job begins or ends, so that every
#   interval is a union of spans
# order, keep: hidden levels, whose figures put the members of a dimension in
#   order or say which are kept
# part_way, lost, before_record, compared: what is told of the periods
# notes: filled while figures are worked out, with what their reader must know

new_plan <- function(ask, book) {
  check_no_time_lens(ask)
  frame <- ask_frame(ask, book)
  base <- new_job(book)
  trees <- lapply(ask$measures, `[[`, "tree")
  levels <- lapply(ask_levels(ask), plan_level, trees = trees, frame = frame, job = base)
  order <- lapply(Filter(by_measure, ask$sort), order_level, ask = ask, frame = frame, job = base)
  keep <- lapply(ask$keep, keep_level, ask = ask, frame = frame, job = base)
  leaves <- unlist(lapply(c(levels, order, keep), function(level) lapply(level$figures, leaves_of)),
    recursive = FALSE)
  leaves <- unlist(leaves, recursive = FALSE)
  plan_of(
    frame, levels, base$key, plan_jobs(leaves, base, frame), order, keep,
    part_way = vctrs::vec_unique(vctrs::vec_rbind(!!!lapply(levels, part_way_periods,
      covered = frame$covered))),
    lost = lost_periods(levels[[1L]]), before_record = reaches_before_record(leaves,
      frame, book$calendars[[1L]]), compared = compared_days(levels[[1L]], ask)
  )
}

plan_of <- function(frame, levels, base, jobs, order = list(), keep = list(), part_way = NULL,
  lost = character(), before_record = FALSE, compared = list()) {
  list(
    frame = frame, levels = levels, base = base, jobs = jobs, order = order, keep = keep,
    part_way = part_way, lost = lost, before_record = before_record, compared = compared,
    notes = new.env(parent = emptyenv())
  )
}

# What all cells of the ask share: the record (first), the as-of date, the first and last day shown,
# and the grain, which is the finest period of the axes.
ask_frame <- function(ask, book) {
  periods <- Filter(is_period_axis, ask$axes)
  finest <- if (length(periods) > 0L) {
    periods[[which.min(match(vapply(periods, `[[`, "", "unit"), period_units))]]
  }
  grain <- if (!is.null(finest)) list(unit = finest$unit, calendar = finest$calendar)
  frame <- list(
    first = record_start(book), book_first = book$first, date = book$date,
    as_of = book$as_of, covered = covered_day(book), grain = grain, axes = ask$axes
  )
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
    if (!is.null(cut_from) && cut_from > at(period_start, cut_from)) cut_from <- at(period_end, cut_from) + 1L
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

record_words <- function(book) {
  paste0("Orders run from ", day_words(book$first), " to ", day_words(book$last), ", as of ",
    day_words(book$as_of), ".")
}

# The record begins with the first dated order; of the scope, only conditions on the date move it.
record_start <- function(book) {
  dated <- date_conditions(book)
  if (length(dated) == 0L) {
    return(book$first)
  }
  first <- orders_facts(engine_of(book), dated)$first
  if (is.na(first) || first > book$as_of) {
    raise("date", c(
      "No order is left by the conditions on the date.",
      "x" = paste0("They are: ", words_of(condition_texts(dated)), "."),
      "i" = record_words(book)
    ))
  }
  first
}

plan_level <- function(level, trees, frame, job) {
  in_time <- level_cells(level, frame)
  level$cells <- in_time$cells
  level$periods <- in_time$periods
  level$figures <- lapply(trees, trace_measure, at = new_tracing(level, job), frame = frame)
  level
}

# cuts[i] is the first day of span i; the last cut is the day after the last span.
plan_spans <- function(leaves, frame) {
  from <- unlist(lapply(leaves, `[[`, "from"))
  to <- unlist(lapply(leaves, `[[`, "to"))
  cuts <- sort(unique(c(from, to + 1L)))
  if (length(cuts) < 2L) cuts <- c(frame$first, frame$first + 1L)
  lengths <- diff(cuts)
  list(cuts = cuts, of_day = rep.int(seq_along(lengths) - 1L, lengths), count = length(lengths))
}

# Several years put together have no year before them.
check_no_time_lens <- function(ask) {
  cyclic <- Filter(is_cyclic_axis, ask$axes)
  lensed <- Filter(function(m) has_lens(m$tree, c(names(lenses()), "index")), ask$measures)
  if (length(cyclic) > 0L && length(lensed) > 0L) {
    raise("expression", c(
      "A table by {names(cyclic)[1]} puts several years together and takes no lens on time.",
      "x" = "{examples_of(names(lensed))} {if (length(lensed) == 1) 'has' else 'have'} one.",
      ">" = "Ask by a period such as {.code month}, or leave the lens out."
    ))
  }
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

# Which days stand beside which: list(from, to, names of the measures) for each stretch of days
# before those shown that some measure compares them with.
compared_days <- function(level, ask) {
  comparing <- names(Filter(function(m) has_lens(m$tree, "prior"), ask$measures))
  if (length(comparing) == 0L || length(level$cells$from) == 0L) {
    return(list())
  }
  shown <- range(c(level$cells$from, level$cells$to), na.rm = TRUE)
  leaves <- lapply(level$figures[comparing], leaves_of)
  name <- rep(comparing, lengths(leaves))
  leaves <- unlist(unname(leaves), recursive = FALSE)
  from <- vapply(leaves, function(leaf) least_known(leaf$from), 1L)
  to <- vapply(leaves, function(leaf) -least_known(-leaf$to), 1L)
  before <- which(!is.na(from) & to < shown[2L])
  before <- before[order(to[before], from[before])]
  first <- !duplicated(cbind(from, to)[before, , drop = FALSE])
  lapply(unname(split(before, cumsum(first))), function(same) {
    list(from = from[same[1L]], to = to[same[1L]], names = unique(name[same]), shown = shown)
  })
}

least_known <- function(days) if (all(is.na(days))) NA_integer_ else as.integer(min(days, na.rm = TRUE))

lost_periods <- function(level) {
  lost <- lost_cells(level$figures, length(level$cells$from))
  if (is.null(lost)) character() else cell_labels(level, which(lost))
}

cell_labels <- function(level, which) {
  cells <- level$cells
  if (is.null(cells$unit)) character() else period_labels(cells$start[which], cells$unit, cells$calendar)
}
