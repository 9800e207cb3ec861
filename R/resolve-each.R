# Finer figures first, then one of them: each(day, m) over the periods within a cell, each(order_id,
# m) over the values of a column.

resolve_each <- function(tree, at) {
  figure <- figure_by_day(resolve_tree(tree$child, at))
  result <- as_figure(without_face(figure), at$count, tree$width)
  if (!is.null(tree$present)) result[resolve_tree(tree$present, at) %in% c(0, NA)] <- NA
  counts <- pieces_of_own(tree, at)
  combine <- combiners()[[tree$fn]]
  cells <- vapply(seq_along(tree$pieces), function(i) {
    if (!tree$known[i]) {
      return(rep(NA_real_, at$count))
    }
    pieces <- tree$pieces[[i]]
    if (is.null(counts)) {
      return(combine(result[, pieces, drop = FALSE], tree$options))
    }
    own <- counts[, pieces, drop = FALSE]
    combined <- combined_own(result[, pieces, drop = FALSE], own, combine, tree$options)
    if (tree$days == "all") replace(combined, rowSums(own) == 0, NA) else combined
  }, numeric(at$count))
  faced_alike(matrix(cells, at$count, length(tree$pieces)), tree$fn, figure)
}

# Counts that no orders are read for, added up from group to group.
added_along <- function(figure, run) {
  group <- cumsum(run$restart)
  for (cell in seq_len(ncol(figure))) {
    figure[run$order, cell] <- stats::ave(figure[run$order, cell], group, FUN = function(x) {
      cumsum(ifelse(is.na(x), 0, x))
    })
  }
  figure
}

# Which pieces have a day of each group's own, for groups of cyclic parts; NULL where all count.
# Where all days do, a figure of no own day is unknown; of no trading day it is one of nothing.
pieces_of_own <- function(tree, at) {
  days <- group_days(at)
  if (is.null(days$ids) || tree$days == "sold") {
    return(NULL)
  }
  open <- tree$days != "trading" | open_days(tree$calendar)
  own <- own_day_counts(days, tree$from, tree$to, open)
  if (!is.null(along_axis(tree, at))) own <- added_along(own, along_order(tree, at))
  own > 0
}

# Groups with the same pieces are combined together: a piece without own days is no piece of theirs.
combined_own <- function(result, own, combine, options) {
  out <- rep(NA_real_, nrow(result))
  alike <- match(apply(own, 1L, paste, collapse = ""), unique(apply(own, 1L, paste, collapse = "")))
  for (rows in split(seq_along(out), alike)) {
    out[rows] <- combine(result[rows, own[rows[1L], ], drop = FALSE], options)
  }
  out
}

# The column is one more dimension: its groups are resolved on a level of their own, then
# combined within each group here. A running figure is worked out for each group from the
# members of all groups up to it.
resolve_members <- function(tree, at) {
  if (!is.null(along_axis(tree, at))) {
    return(resolve_up_to(tree, at, resolve_members))
  }
  inner <- members_level(tree$entity, at)
  here <- lines_of_members(tree, inner) > 0
  figure <- figure_by_day(resolve_tree(tree$child, inner))
  result <- as_figure(without_face(figure), nrow(here), ncol(here))
  result[!here] <- NA
  if (isTRUE(tree$outside$lines))
    at$plan$notes$outside[[tree$outside$key]] <- who_stands_outside(tree, inner)
  out <- matrix(NA_real_, at$count, tree$width)
  combine <- combiners()[[tree$fn]]
  groups <- split(seq_len(nrow(here)), factor(inner$owner, levels = seq_len(at$count)))
  for (g in seq_len(at$count)) out[g, ] <- combine(
    t(result[groups[[g]], , drop = FALSE]), tree$options)
  out[, Reduce(`&`, lapply(tree$lines_seen, function(lines) is.na(lines$from)))] <- NA
  faced_alike(unknown_without_days(out, tree$lines_seen[[1L]], at), tree$fn, figure)
}

# The members that alike() leaves out of some row, and their amounts: list(column, unit, days: the
# columns it goes by; now, before: list(members, amount) of those that are there only now,
# or only before).
who_stands_outside <- function(tree, at) {
  figures <- lapply(tree$outside$figures, function(figure) {
    as_figure(resolve_number(figure, at), at$count, tree$width)
  })
  side <- function(which, amount) {
    out <- figures[[which]] %in% 1
    list(members = length(unique(rep(at$entity, tree$width)[out])),
      amount = sum(figures[[amount]][out],
      na.rm = TRUE))
  }
  list(column = tree$outside$column, unit = tree$outside$unit, days = tree$outside$days,
    now = side("now", "amount_now"),
    before = side("before", "amount_before"))
}

# How many order lines the figures of each member look at.
lines_of_members <- function(tree, at) {
  Reduce(`+`, lapply(tree$lines_seen, function(lines) {
    counts <- as_figure(resolve_tree(lines, at), at$count, tree$width)
    replace(counts, is.na(counts), 0)
  }))
}

# A level whose groups are those of `at` by the values of a column that some job keeps apart;
# `owner` is the group of the outer level each belongs to.
members_level <- function(entity, at) {
  remembered_in(at$seen, paste("members", entity), function() {
    same <- Filter(function(job) identical(job$entity_id, entity), at$folded$jobs)
    owners <- lapply(at$maps[names(same)], function(owner) replace(owner, is.na(owner), -1L))
    rows <- list(owner = unlist(owners, use.names = FALSE),
      entity = unlist(lapply(same, `[[`, "entity"), use.names = FALSE))
    rows <- lapply(rows, `[`, rows$owner > 0L)
    rows <- lapply(rows, `[`, first_of_rows(rows, length(rows$owner)))
    rows <- lapply(rows, `[`, order(rows$owner, rows$entity, method = "radix"))
    count <- length(rows$owner)
    maps <- Map(function(job, owner) {
      match_rows(list(owner, job$entity), unname(rows), job$count, count)
    }, same, owners)
    level <- resolving(
      at$kept, lapply(at$places, `[`, rows$owner), count, at$folded,
      at$ask, at$plan, maps, at$periods, rows$entity, rows$owner
    )
    level$entity_id <- entity
    level
  })
}
