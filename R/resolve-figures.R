# From states to figures: the groups of a level, the intervals of its leaves, then arithmetic. A figure is a matrix
# of groups by cells.

resolve_level <- function(level, folded, ask, plan) {
  groups <- level_groups(level, folded, ask)
  merged <- merge_level_states(folded$states, groups)
  seen <- new.env(parent = emptyenv())
  figures <- lapply(level$figures, resolve_tree, states = merged, folded = folded, plan = plan, seen = seen)
  list(level = level, members = groups$members, count = groups$count, figures = figures)
}

# The groups of a level: the distinct members of the dimensions it keeps, and where each group of the fold goes.
level_groups <- function(level, folded, ask) {
  dimensions <- names(dimension_axes(ask))
  kept <- intersect(names(ask$axes)[level$keeps], dimensions)
  n_folded <- nrow(folded$states$lines$a)
  if (length(kept) == length(dimensions)) {
    return(list(to = NULL, count = n_folded, members = folded$members))
  }
  if (length(kept) == 0L) {
    return(list(to = rep(1L, n_folded), count = 1L, members = list()))
  }
  joined <- Reduce(function(a, b) kernel_encode_pair(a, b)$codes, folded$members[kept])
  coded <- kernel_encode(joined)
  list(to = coded$codes, count = length(coded$first), members = lapply(folded$members[kept], `[`, coded$first))
}

merge_level_states <- function(states, groups) {
  if (is.null(groups$to)) {
    return(states)
  }
  merge <- function(state, kind) kernel_merge_groups(state, kind, groups$to, groups$count)
  merged <- list(lines = merge(states$lines, "lines"))
  for (amount in setdiff(names(states), "lines")) {
    merged[[amount]] <- Map(merge, states[[amount]], names(states[[amount]]))
  }
  merged
}

resolve_tree <- function(tree, states, folded, plan, seen) {
  switch(tree$kind,
    value = tree$value,
    call = {
      args <- lapply(tree$args, resolve_tree, states = states, folded = folded, plan = plan, seen = seen)
      do.call(measure_functions()[[tree$fn]], args)
    },
    leaf = resolve_leaf(tree, states, folded, plan, seen)
  )
}

# A leaf that several measures share is worked out once.
resolve_leaf <- function(leaf, states, folded, plan, seen) {
  key <- rlang::hash(list(leaf$fn, leaf$amount, leaf$from, leaf$to))
  if (is.null(seen[[key]])) {
    spec <- aggregates()[[leaf$fn]]
    found <- leaf_states(leaf, states, plan, spec)
    if (!is.null(leaf$amount)) found$decimals <- folded$decimals[[leaf$amount]]
    assign(key, spec$finish(found), envir = seen)
  }
  seen[[key]]
}

leaf_states <- function(leaf, states, plan, spec) {
  first <- match(leaf$from, plan$spans$cuts) - 1L
  end <- match(leaf$to + 1L, plan$spans$cuts) - 1L
  merge <- function(state, kind) kernel_merge_spans(state, kind, first, end)
  kinds <- c(if ("sum" %in% spec$needs) "sum", if ("range" %in% spec$needs) c("least", "greatest"), "missing")
  own <- if (!is.null(leaf$amount)) states[[leaf$amount]][kinds]
  c(list(lines = merge(states$lines, "lines")), if (!is.null(own)) Map(merge, own, kinds))
}
