# From states to figures: the groups of a level, the intervals of its leaves, then arithmetic. A figure is a matrix
# of groups by cells.
#
# `at` is a level being resolved: its groups (keys and places), what was folded, the plan, and what was worked out
# already.

resolve_level <- function(level, folded, ask, plan) {
  at <- new_resolving(level$keeps, folded, ask, plan)
  at$periods <- level$periods
  figures <- lapply(level$figures, resolve_tree, at = at)
  list(level = level, members = at$places, count = at$count, figures = figures)
}

# The groups of a level are the members that occur together in some job, of the dimensions it keeps.
new_resolving <- function(keeps, folded, ask, plan) {
  dimensions <- names(dimension_axes(ask))
  kept <- intersect(names(ask$axes)[keeps], dimensions)
  sizes <- vapply(folded$dimensions, dimension_size, 0)
  keys <- lapply(folded$jobs, function(job) group_keys(job$places[kept], sizes[kept]))
  distinct <- level_groups(kept, keys, sizes, folded, ask)
  at <- new.env(parent = emptyenv())
  at$kept <- kept
  at$keys <- distinct
  at$job_keys <- keys
  at$count <- length(distinct)
  at$places <- places_of(distinct, sizes[kept])
  at$folded <- folded
  at$ask <- ask
  at$plan <- plan
  at$book <- folded$book
  at$seen <- new.env(parent = emptyenv())
  at
}

# The groups of a level: what occurs. Where it has both rows and columns, every row meets every column.
level_groups <- function(kept, keys, sizes, folded, ask) {
  if (length(kept) == 0L) {
    return(0)
  }
  sides <- list(setdiff(kept, ask$cols), intersect(kept, ask$cols))
  occurring <- unique(unlist(keys, use.names = FALSE))
  if (any(lengths(sides) == 0L)) {
    return(occurring)
  }
  places <- places_of(occurring, sizes[kept])
  distinct <- lapply(sides, function(side) {
    unique(vctrs::new_data_frame(places[side]))
  })
  check_columns(nrow(distinct[[2L]]), ask)
  n <- vapply(distinct, nrow, 1L)
  met <- c(
    lapply(distinct[[1L]], rep, each = n[2L]), lapply(distinct[[2L]], rep, times = n[1L])
  )
  group_keys(met[kept], sizes[kept])
}

# Members of several dimensions as one number, the last running fastest; without dimensions all groups are one.
group_keys <- function(places, sizes) {
  keys <- 0
  for (i in seq_along(places)) keys <- keys * sizes[[i]] + (places[[i]] - 1)
  if (length(places) == 0L) numeric() else keys
}

places_of <- function(keys, sizes) {
  places <- list()
  for (name in rev(names(sizes))) {
    places[[name]] <- as.integer(keys %% sizes[[name]]) + 1L
    keys <- keys %/% sizes[[name]]
  }
  places[names(sizes)]
}

resolve_tree <- function(tree, at) {
  switch(tree$kind,
    value = tree$value,
    call = do.call(measure_functions()[[tree$fn]], lapply(tree$args, resolve_number, at = at)),
    growth = resolve_growth(tree, at),
    share = resolve_share(tree, at),
    combine = resolve_combined(tree, at),
    overall = resolve_overall(tree, at),
    rank = resolve_rank(tree, at),
    each = resolve_each(tree, at),
    members = resolve_members(tree, at),
    leaf = resolve_leaf(tree, at)
  )
}

# A figure to reckon with: a date counts as its day, text cannot be.
resolve_number <- function(tree, at) {
  result <- resolve_tree(tree, at)
  face <- attr(result, "face")
  if (!is.null(face) && is.character(face(1))) {
    raise("expression", c("A text cannot be reckoned with.", "x" = "One part of an expression gives text."))
  }
  attr(result, "face") <- NULL
  result
}

resolve_growth <- function(tree, at) {
  parts <- lapply(tree$args, resolve_number, at = at)
  if (any(parts[[2L]] <= 0, na.rm = TRUE)) at$plan$notes$growth <- TRUE
  growth_of(parts[[1L]], parts[[2L]])
}

# The part of a whole; a whole of zero has no parts.
resolve_share <- function(tree, at) {
  parts <- lapply(tree$args, resolve_number, at = at)
  if (any(parts[[2L]] == 0, na.rm = TRUE)) at$plan$notes$share <- TRUE
  finite(parts[[1L]] / parts[[2L]])
}

resolve_combined <- function(tree, at) {
  parts <- lapply(tree$args, function(arg) as_figure(resolve_number(arg, at), at$count, tree$width))
  values <- combiners()[[tree$fn]](do.call(cbind, lapply(parts, as.vector)), NULL)
  none <- Reduce(`&`, lapply(parts, is.na))
  values[as.vector(none)] <- NA
  matrix(values, nrow(parts[[1L]]), ncol(parts[[1L]]))
}

resolve_overall <- function(tree, at) {
  there <- remembered_in(at$seen, paste("level", paste(tree$keeps, collapse = " ")), function() {
    new_resolving(tree$keeps, at$folded, at$ask, at$plan)
  })
  result <- resolve_number(tree$child, there)
  if (!is.matrix(result)) {
    return(result)
  }
  sizes <- vapply(at$folded$dimensions, dimension_size, 0)
  groups <- if (length(there$kept) == 0L) rep(1L, at$count) else match(
    group_keys(at$places[there$kept], sizes[there$kept]), there$keys
  )
  result[groups, tree$map, drop = FALSE]
}

# Rank among the cells of the level that share the values of some axes; of equal figures each has the smallest number.
# Members put together have none.
resolve_rank <- function(tree, at) {
  result <- as_figure(resolve_number(tree$child, at), at$count, tree$width)
  cells <- expand_cells(at, nrow(result), ncol(result))
  within <- cells[intersect(tree$within, names(cells))]
  group <- if (length(within) == 0L) rep(1L, length(result)) else do.call(paste, unname(within))
  values <- if (tree$from == "largest") -as.vector(result) else as.vector(result)
  values[as.vector(stands_for_others(at, ncol(result)))] <- NA
  rank <- stats::ave(values, group, FUN = function(v) rank(v, ties.method = "min", na.last = "keep"))
  matrix(rank, nrow(result), ncol(result))
}

# For each cell of a figure the place of its member, or the first day of its period, on each axis kept.
expand_cells <- function(at, groups, cells) {
  c(
    lapply(at$places, function(place) rep.int(place, cells)),
    lapply(at$periods, function(period) rep(period, each = groups))
  )
}

stands_for_others <- function(at, cells) {
  other <- rep(FALSE, at$count)
  for (dimension in names(at$places)) {
    other <- other | at$places[[dimension]] %in% at$folded$dimensions[[dimension]]$others
  }
  rep(other, cells)
}
