# The plan: what an ask needs from the orders. It is made without looking at a single order.
#
# levels:  for each level its cells in time and the traced measures
# spans:   the days cut where some interval begins or ends; every interval is a union of spans
# amounts: the distinct arguments of aggregates, with the states wanted of each

new_plan <- function(ask, book, levels) {
  frame <- ask_frame(ask, book)
  levels <- lapply(levels, plan_level, ask = ask, frame = frame)
  leaves <- unlist(lapply(levels, function(level) lapply(level$figures, leaves_of)), recursive = FALSE)
  leaves <- unlist(leaves, recursive = FALSE)
  list(
    frame = frame, levels = levels, spans = plan_spans(leaves, frame), amounts = plan_amounts(ask$measures),
    before_record = reaches_before_record(leaves, frame, book$calendars[[1L]])
  )
}

ask_frame <- function(ask, book) {
  periods <- Filter(is_period_axis, ask$axes)
  finest <- if (length(periods) > 0L) {
    periods[[which.min(match(vapply(periods, `[[`, "", "unit"), period_units))]]
  }
  list(
    first = record_start(book), as_of = book$as_of,
    grain = if (!is.null(finest)) list(unit = finest$unit, calendar = finest$calendar)
  )
}

# The record begins with the first dated order; of the scope, only conditions on the date move it.
record_start <- function(book) {
  dated <- Filter(function(condition) book$date %in% condition$columns, book$scope)
  if (length(dated) == 0L) {
    return(book$first)
  }
  days <- book$days[scope_mask(dated)]
  first <- as.integer(kernel_day_facts(days)$first)
  if (is.na(first) || first > book$as_of) {
    raise("date", c(
      "No order is left by the conditions on the date.",
      "x" = paste0("They are: ", words_of(vapply(dated, `[[`, "", "text")), "."),
      "i" = "Orders run from {day_words(book$first)} to {day_words(book$last)}, as of {day_words(book$as_of)}."
    ))
  }
  first
}

plan_level <- function(level, ask, frame) {
  in_time <- level_cells(level, ask, frame)
  level$cells <- in_time$cells
  level$periods <- in_time$periods
  level$figures <- lapply(ask$measures, function(m) trace_measure(m$tree, level$cells, frame))
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

plan_amounts <- function(measures) {
  found <- unlist(lapply(measures, function(m) aggregates_of(m$tree)), recursive = FALSE)
  amounts <- list()
  for (tree in found) {
    if (length(tree$args) == 0L) next
    spec <- aggregates()[[tree$fn]]
    text <- tree_text(tree$args[[1L]])
    known <- amounts[[text]] %||% list(tree = tree$args[[1L]], needs = character(), of_amounts = FALSE)
    known$needs <- union(known$needs, spec$needs)
    known$of_amounts <- known$of_amounts || spec$of_amounts
    amounts[[text]] <- known
  }
  amounts
}
