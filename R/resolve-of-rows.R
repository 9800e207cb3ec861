# overall(m, using = f): the figures of the rows of a table, combined. Rows that the table leaves
# out are not among them.

# For each figure here that of the rows under it which share the values of `within`.
resolve_of_rows <- function(tree, at) {
  # A line of others stands beside the rows that it is put together of.
  there <- new_resolving(tree$keeps, at$folded$whole %||% at$folded, at$ask, at$plan,
    tree$row_periods)
  figure <- figure_by_day(resolve_tree(tree$child, there))
  values <- as_figure(without_face(figure), there$count, tree$cells)
  rows <- expand_cells(there, nrow(values), ncol(values))
  values[as.vector(is_left_out(rows, there, ncol(values)))] <- NA
  here <- expand_cells(at, at$count, tree$width)
  shared <- intersect(tree$within, names(here))
  n <- at$count * tree$width
  groups <- if (length(shared) == 0L) rep(1L, length(values)) else row_ids(rows[shared],
    length(values))
  combined <- vapply(split(as.vector(values), groups), function(v) {
    combiners()[[tree$fn]](matrix(v, 1L), NULL)
  }, 0)
  first <- match(seq_along(combined), groups)
  at_row <- if (length(shared) == 0L) rep(1L, n)
    else match_rows(here[shared], lapply(rows[shared], `[`, first), n, length(first))
  faced_alike(matrix(unname(combined)[at_row], at$count, tree$width), tree$fn, figure)
}

# Rows of members or periods that the table does not show.
is_left_out <- function(rows, at, cells) {
  out <- !among_kept(rows, at)
  for (kept in Filter(function(kept) is.null(kept$others) && is.null(kept$ranks), at$folded$kept)) {
    out <- out | rows[[kept$dimension]] %in% at$folded$dimensions[[kept$dimension]]$others
  }
  rep_len(out, at$count * cells)
}
