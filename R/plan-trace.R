# Tracing a measure through the cells of a level: lenses are worked off, and what is left is arithmetic over leaves. A
# leaf is an aggregate with the intervals of days it is worked out from.

# `frame` holds what all cells of the ask share: first (the beginning of the record), as_of, grain.
trace_measure <- function(tree, cells, frame) {
  switch(tree$kind,
    value = tree,
    named = trace_measure(tree$child, cells, frame),
    call = call_node(tree$fn, lapply(tree$args, trace_measure, cells = cells, frame = frame)),
    lens = trace_measure(tree$child, lenses()[[tree$fn]]$move(cells, tree$options, frame), frame),
    aggregate = trace_leaf(tree, cells, frame)
  )
}

# Orders after the as-of date are never seen, and an interval wholly before the record is unknown.
trace_leaf <- function(tree, cells, frame) {
  from <- as.integer(cells$from)
  to <- pmin(as.integer(cells$to), frame$as_of)
  known <- !is.na(from) & !is.na(to) & to >= frame$first & from <= to
  from[!known] <- NA_integer_
  to[!known] <- NA_integer_
  node("leaf",
    fn = tree$fn, from = from, to = to, lost = cells$lost,
    amount = if (length(tree$args) > 0L) tree_text(tree$args[[1L]])
  )
}

leaves_of <- function(tree) {
  if (tree$kind == "leaf") {
    return(list(tree))
  }
  unlist(lapply(subtrees(tree), leaves_of), recursive = FALSE)
}

# Which cells of a level some figure lost on its way to a partner.
lost_cells <- function(figures) {
  lost <- lapply(unlist(lapply(figures, leaves_of), recursive = FALSE), `[[`, "lost")
  lost <- Filter(Negate(is.null), lost)
  if (length(lost) > 0L) Reduce(`|`, lost)
}

# True when some known interval reaches back before the month, week or period in which the record begins.
reaches_before_record <- function(leaves, frame, calendar) {
  edge <- period_start(frame$first, calendar$anchor, calendar)
  any(vapply(leaves, function(leaf) any(leaf$from < edge, na.rm = TRUE), logical(1L)))
}

aggregates_of <- function(tree) {
  if (tree$kind == "aggregate") {
    return(list(tree))
  }
  unlist(lapply(subtrees(tree), aggregates_of), recursive = FALSE)
}
