# Leaves: aggregates over the intervals of a job, what is left of a measure once it is traced.

# The days of the cells that are known: within the record, which ends where that is said (`last`).
days_of_leaf <- function(at, frame, last = NULL) {
  from <- as.integer(at$cells$from)
  to <- as.integer(at$cells$to)
  if (is.null(last) || !isTRUE(at$cells$beyond)) to <- pmin(to, frame$as_of)
  known <- !is.na(from) & !is.na(to) & to >= at$job$first & from <= to
  if (!is.null(last)) known <- known & from <= last
  from[!known] <- NA_integer_
  to[!known] <- NA_integer_
  list(from = from, to = to)
}

leaf_node <- function(tree, at, days) {
  node("leaf",
    fn = tree$fn, from = days$from, to = days$to, lost = at$cells$lost, job = at$job,
    along = at$along, options = tree$options, custom = tree$custom,
    quiet = isTRUE(tree$quiet) || isTRUE(tree$options$missing), arguments = tree$args,
    text = tree_text(tree), key = tree_key(tree),
    amount = if (length(tree$args) > 0L) amount_key(tree)
  )
}

# What tells the amount an aggregate reads from others: positions are another column than
# the values they point to.
amount_key <- function(tree) {
  paste0(if (aggregate_spec(tree$fn)$position) "position ", tree_key(tree$args[[1L]]))
}

aggregate_spec <- function(fn) {
  switch(fn, custom = aggregate_custom(), gaps = aggregate_gaps(), aggregates()[[fn]])
}

leaves_of <- function(tree) {
  if (tree$kind == "leaf") {
    return(list(tree))
  }
  parts <- c(subtrees(tree), if (!is.null(tree$present)) list(tree$present), tree$lines_seen,
    tree$outside$figures)
  unlist(lapply(parts, leaves_of), recursive = FALSE)
}
