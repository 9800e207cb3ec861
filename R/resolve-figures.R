# From states to figures: the groups of a level, the intervals of its leaves, then arithmetic. A
# figure is a matrix of groups by cells.
#
# `at` is a level being resolved: kept, the dimensions it keeps; count and places, its groups; maps,
# where the groups of each job are among them; periods, by axis the first days of its cells; entity,
# of each group the place of what is kept apart (under each()), and owner, the group it belongs to;
# what was folded, the ask and the plan, and what was worked out already (seen).

resolve_level <- function(level, folded, ask, plan) {
  at <- new_resolving(level$keeps, folded, ask, plan, level$periods)
  figures <- without_unreached(lapply(level$figures, resolve_tree, at = at), level$first_days, at)
  list(level = level, members = at$places, count = at$count, figures = figures,
    days = group_days(at),
    covered = plan$frame$covered)
}

new_resolving <- function(keeps, folded, ask, plan, periods = list()) {
  kept <- intersect(names(ask$axes)[keeps], names(dimension_axes(ask)))
  places <- level_groups(kept, folded, ask, plan)
  count <- if (length(kept) == 0L) 1L else length(places[[1L]])
  resolving(kept, places, count, folded, ask, plan, lapply(folded$jobs, function(job) {
    match_rows(job$places[kept], places, job$count, count)
  }), periods)
}

resolving <- function(kept, places, count, folded, ask, plan, maps, periods, entity = NULL,
  owner = NULL) {
  at <- new.env(parent = emptyenv())
  at$kept <- kept
  at$places <- places
  at$count <- count
  at$maps <- maps
  at$entity <- entity
  at$owner <- owner
  at$folded <- folded
  at$ask <- ask
  at$plan <- plan
  at$periods <- periods
  at$seen <- new.env(parent = emptyenv())
  at
}

# The groups of a level: the combinations of members that occur among the orders of the daybook's
# scope on the dates shown, or in any job where those that only a lens sees are asked for too. Where
# a level has both rows and columns, every row meets every column.
level_groups <- function(kept, folded, ask, plan) {
  if (length(kept) == 0L) {
    return(list())
  }
  occurring <- distinct_rows(occurring_places(folded, ask, plan, kept))
  sides <- list(setdiff(kept, ask$cols), intersect(kept, ask$cols))
  if (any(lengths(sides) == 0L)) {
    return(occurring)
  }
  distinct <- lapply(sides, function(side) distinct_rows(occurring[side]))
  n <- vapply(distinct, function(side) length(side[[1L]]), 1L)
  check_columns(n[2L], ask)
  c(lapply(distinct[[1L]], rep, each = n[2L]), lapply(distinct[[2L]], rep, times = n[1L]))[kept]
}

distinct_rows <- function(columns) {
  first <- first_of_rows(columns, length(columns[[1L]]))
  if (length(first) == length(columns[[1L]])) columns else lapply(columns, `[`, first)
}

occurring_places <- function(folded, ask, plan, axes) {
  keys <- if (ask$members == "shown") c(plan$base, plan$records) else names(folded$jobs)
  keys <- Filter(function(key) {
    is.null(folded$jobs[[key]]$entity) && !any(axes %in% folded$jobs[[key]]$lacking)
  }, keys)
  of_each <- lapply(keys, function(key) {
    places <- folded$jobs[[key]]$places[axes]
    here <- if (ask$members == "shown") shown_groups(key, folded, plan)
    if (is.null(here) || length(here) == folded$jobs[[key]]$count) places else lapply(
      places, `[`, here)
  })
  if (length(of_each) == 1L) {
    return(of_each[[1L]])
  }
  stats::setNames(lapply(axes, function(axis) unlist(lapply(of_each, `[[`, axis))), axes)
}

# The groups of a job that have lines on the dates shown.
shown_groups <- function(key, folded, plan) {
  job <- plan$jobs[[key]]
  base <- folded$jobs[[key]]
  first <- match(job$shown$from, job$spans$cuts) - 1L
  end <- match(job$shown$to + 1L, job$spans$cuts) - 1L
  which(as.vector(kernel_finish(kernel_merge_spans(base$lines, first, end), "count")) > 0)
}

# More columns than these are no table to look at.
most_columns <- 500L

check_columns <- function(n, ask) {
  if (n > most_columns) {
    raise("argument", c(
      "The cross-tab would have more than {most_columns} columns.",
      "x" = paste0("Across are ", words_of(ask$cols), ": {format_count(n)} columns."),
      ">" = "Put them down the side, ask by a coarser period, limit the dates shown,",
      ">" = "or keep the largest members: {.code keep_top()}."
    ))
  }
}

resolve_tree <- function(tree, at) resolvers()[[tree$kind]](tree, at)

# How the figures of each kind of traced node are worked out.
resolvers <- made_once(function() {
  list(
    value = resolve_value, days = resolve_days,
    of_cells = function(tree, at) matrix(rep(as.numeric(tree$values), each = at$count), at$count),
    call = function(tree, at) call_of_figures(tree$fn, lapply(tree$args, resolve_tree, at = at)),
    growth = resolve_growth, share = resolve_share, effect = resolve_effect,
    outlook = resolve_outlook, combine = resolve_combined, overall = resolve_overall,
    of_rows = resolve_of_rows, rank = resolve_rank, each = resolve_each,
    members = resolve_members, leaf = resolve_leaf
  )
})

resolve_value <- function(tree, at) {
  value <- tree$value
  if (inherits(value, "Date")) with_face(as.numeric(value), as_day_date) else value
}

# A figure to reckon with: a date counts as its day, text cannot be.
resolve_number <- function(tree, at) {
  without_face(figure_by_day(resolve_tree(tree, at)))
}

resolve_growth <- function(tree, at) {
  parts <- lapply(tree$args, resolve_number, at = at)
  if (any(parts[[2L]] <= 0, na.rm = TRUE)) at$plan$notes$growth <- TRUE
  growth <- growth_of(parts[[1L]], parts[[2L]])
  if (any(tree$uncovered)) {
    at$plan$notes$uncovered <- TRUE
    if (is.matrix(growth)) growth[, rep_len(tree$uncovered, ncol(growth))] <- NA else growth[] <- NA
  }
  growth
}

# The part of a whole; a whole of zero has no parts.
resolve_share <- function(tree, at) {
  parts <- lapply(tree$args, resolve_number, at = at)
  if (any(parts[[2L]] == 0, na.rm = TRUE)) at$plan$notes$share <- TRUE
  finite(parts[[1L]] / parts[[2L]])
}

# What is known times what the days, or the year before, say of the rest.
resolve_outlook <- function(tree, at) {
  n <- length(tree$part)
  parts <- lapply(tree$args, function(arg) as_figure(resolve_number(arg, at), at$count, n))
  factor <- matrix(rep(tree$factor, each = at$count), at$count)
  if (length(parts) > 1L) {
    here <- rep(tree$part, each = at$count)
    ratio <- ifelse(parts[[3L]] > 0, parts[[2L]] / parts[[3L]], NA)
    factor[here] <- factor[here] * ratio[here]
  }
  parts[[1L]] * factor
}

resolve_combined <- function(tree, at) {
  figures <- lapply(tree$args, function(arg) figure_by_day(resolve_tree(arg, at)))
  parts <- lapply(figures, function(figure) as_figure(without_face(figure), at$count, tree$width))
  values <- combiners()[[tree$fn]](do.call(cbind, lapply(parts, as.vector)), NULL)
  none <- Reduce(`&`, lapply(parts, is.na))
  values[as.vector(none)] <- NA
  faced_alike(matrix(values, nrow(parts[[1L]]), ncol(parts[[1L]])), tree$fn, figures[[1L]])
}

as_figure <- function(x, groups, cells) if (is.matrix(x)) x else matrix(x, groups, cells)

resolve_overall <- function(tree, at) {
  there <- remembered_in(at$seen, paste("level", paste(tree$keeps, collapse = " ")), function() {
    new_resolving(tree$keeps, at$folded, at$ask, at$plan)
  })
  # A member that each() looks at is no axis of the table: it is kept.
  if (!is.null(at$entity)) there <- members_level(at$entity_id, there)
  result <- resolve_tree(tree$child, there)
  if (!is.matrix(result)) {
    return(result)
  }
  own <- function(at) c(unname(at$places[there$kept]), if (!is.null(at$entity)) list(at$entity))
  groups <- match_rows(own(at), own(there), at$count, there$count)
  with_face(result[groups, tree$map, drop = FALSE], attr(result, "face"))
}

# Rank among the cells of the level that share the values of some axes; of equal figures each has
# the smallest number. Members put together have none, nor have totals; periods that are not kept do
# not count.
resolve_rank <- function(tree, at) {
  result <- as_figure(resolve_number(tree$child, at), at$count, tree$width)
  if (tree$total) {
    return(matrix(NA_real_, nrow(result), ncol(result)))
  }
  cells <- expand_cells(at, nrow(result), ncol(result))
  axes <- c(cells[intersect(tree$within, names(cells))], if (!is.null(at$entity))
    list(rep.int(at$entity, ncol(result))))
  group <- row_ids(axes, length(result))
  values <- if (tree$from == "largest") -as.vector(result) else as.vector(result)
  values[as.vector(stands_for_others(at, ncol(result)))] <- NA
  values[!among_kept(cells, at)] <- NA
  rank <- stats::ave(values, group, FUN = function(v) {
    rank(v, ties.method = "min", na.last = "keep")
  })
  matrix(rank, nrow(result), ncol(result))
}

# Whether each cell lies in the periods that are kept.
among_kept <- function(cells, at) {
  here <- TRUE
  for (kept in Filter(function(kept) !is.null(kept$ranks), at$folded$kept)) {
    axes <- names(kept$ranks)
    if (!all(axes %in% names(cells))) next
    here <- here & !is.na(match_rows(cells[axes], kept$ranks, length(cells[[1L]]),
      length(kept$ranks[[1L]])))
  }
  here
}

# For each cell of a figure the place of its member, or the first day of its
# period, on each axis kept.
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
