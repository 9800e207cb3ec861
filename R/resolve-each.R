# Finer figures first, then one of them: each(day, m) over the periods within a cell, each(order_id,
# m) over the values of a column.

resolve_each <- function(tree, at) {
  result <- as_figure(resolve_number(tree$child, at), at$count, tree$width)
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
  matrix(cells, at$count, length(tree$pieces))
}

# Which pieces have a day of each group's own, for groups of cyclic parts; NULL where all count.
# Where all days do, a figure of no own day is unknown; of no trading day it is one of nothing.
pieces_of_own <- function(tree, at) {
  days <- group_days(at)
  if (is.null(days$ids) || tree$days == "sold") {
    return(NULL)
  }
  open <- tree$days != "trading" | open_days(tree$calendar)
  own_day_counts(days, tree$from, tree$to, open) > 0
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
  inner <- members_level(tree, at)
  lines <- resolve_tree(tree$present, inner)
  result <- as_figure(resolve_number(tree$child, inner), nrow(lines), ncol(lines))
  result[is.na(lines) | lines == 0] <- NA
  out <- matrix(NA_real_, at$count, ncol(lines))
  combine <- combiners()[[tree$fn]]
  groups <- split(seq_len(nrow(lines)), factor(inner$owner, levels = seq_len(at$count)))
  for (g in seq_len(at$count)) out[g, ] <- combine(t(result[groups[[g]], , drop = FALSE]), tree$options)
  out[, is.na(tree$present$from)] <- NA
  unknown_without_days(out, tree$present, at)
}

# A level whose groups are those of `at` by the values of a column; `owner` is the group of the
# outer level each belongs to.
members_level <- function(tree, at) {
  key <- tree$present$job$key
  remembered_in(at$seen, paste("members", key), function() {
    same <- Filter(function(job) identical(job$entity_id, at$folded$jobs[[key]]$entity_id), at$folded$jobs)
    owners <- at$maps[names(same)]
    own <- same[[key]]
    here <- !is.na(owners[[key]])
    rows <- list(owner = owners[[key]][here], entity = own$entity[here])
    rows <- lapply(rows, `[`, first_of_rows(rows, sum(here)))
    count <- length(rows$owner)
    maps <- Map(function(job, owner) {
      match_rows(list(owner, job$entity), unname(rows), job$count, count)
    }, same, lapply(owners, function(owner) replace(owner, is.na(owner), -1L)))
    resolving(
      at$kept, lapply(at$places, `[`, rows$owner), count, at$folded,
      at$ask, at$plan, maps, at$periods, rows$entity, rows$owner
    )
  })
}
