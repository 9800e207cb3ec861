# The parts of a figure: for each aggregate it is worked out from, the days, the conditions and the
# members whose order lines it reads.
#
# A part is list(text, job, from, to, amount, book; dimensions: those of the table, with the code of
# each order line; kept: the members put together; members: tables of places by dimension, in each
# of which a line must be found)

figure_parts <- function(x, tree, row, at = cell_of(x, row)) {
  traced <- trace_measure(tree, at$place, at$frame)
  parts <- tree_parts(traced, list(cell = at$cell, keeps = at$place$level$keeps), at)
  unique_parts(parts)
}

# Where the figure of a row stands: its level, and its cell there.
cell_of <- function(x, row) {
  keeps <- vapply(x$rows$ranks, function(rank) rank[row] != released, logical(1L))
  frame <- ask_frame(x$ask, x$book)
  job <- new_job(x$book)
  level <- plan_level(new_level(unname(keeps)), list(), frame, job)
  place <- new_tracing(level, job)
  cell <- 1L
  if (length(level$periods) > 0L) {
    here <- lapply(names(level$periods), function(axis) {
      level$periods[[axis]] == x$rows$ranks[[axis]][row]
    })
    cell <- which(Reduce(`&`, here))[1L]
  }
  dimensions <- ask_dimensions(x$ask, x$book)
  list(x = x, row = row, place = place, cell = cell, frame = frame, dimensions = dimensions)
}

tree_parts <- function(tree, here, at) {
  descend <- function(trees, here) {
    unlist(lapply(trees, tree_parts, here = here, at = at), recursive = FALSE)
  }
  switch(tree$kind,
    leaf = list(leaf_part(tree, here, at)),
    of_rows = descend(list(tree$whole), here),
    overall = descend(list(tree$child), list(cell = tree$map[here$cell], keeps = tree$keeps)),
    each = unlist(lapply(tree$pieces[[here$cell]], function(piece) {
      descend(list(tree$child), list(cell = piece, keeps = here$keeps))
    }), recursive = FALSE),
    members = descend(list(along_kept(tree)), here),
    descend(subtrees(tree), here)
  )
}

# A running figure over the values of a column reads the lines of all groups up to it.
along_kept <- function(tree) {
  child <- tree$child
  if (!is.null(tree$along) && child$kind == "leaf") child$along <- tree$along
  child
}

leaf_part <- function(leaf, here, at) {
  from <- leaf$from[here$cell]
  to <- leaf$to[here$cell]
  list(
    text = leaf$text, key = leaf$key, job = leaf$job, from = from, to = to,
    book = book_of_job(leaf$job, at$x$book), amount = if (length(leaf$arguments) > 0L)
      leaf$arguments[[1L]], beside = leaf$beside,
    dimensions = dimensions_of_job(leaf$job, at$dimensions, at$x$ask, at$x$book),
      kept = put_together_in(at$x, at$row),
    members = kept_places(leaf, here, at)
  )
}

# The members that a table has put together, as seen from a row, in the order of their axes.
put_together_in <- function(x, row) {
  kept <- Filter(function(kept) !kept$all && is.null(kept$ranks), x$kept)
  where <- Filter(function(kept) !is.null(kept$others), x$kept_where)
  all <- c(kept, lapply(where, kept_beside_row, x = x, row = row))
  unname(all[intersect(names(x$ask$axes), names(all))])
}

# One place for each dimension kept; along an axis the places up to this one.
kept_places <- function(leaf, here, at) {
  rows <- at$x$rows
  kept <- intersect(names(at$x$ask$axes)[here$keeps], names(dimension_axes(at$x$ask)))
  places <- lapply(stats::setNames(kept, kept), function(axis) rows$ranks[[axis]][at$row])
  if (is.null(leaf$along)) {
    return(single_places(places))
  }
  places_along(leaf$along, places, rows_to_run(at$x, at$row), at$row)
}

# The rows that a figure along an axis goes over, those out of sight too; lines put together of rows
# that are there themselves only where the figure is that of such a line.
rows_to_run <- function(x, row) {
  rows <- x$rows
  if (length(x$kept_where) == 0L) {
    return(rows)
  }
  stands <- function(ranks) {
    Reduce(`|`, Map(function(axis, kept) ranks[[axis]] %in% kept$place,
      names(x$kept_where), x$kept_where))
  }
  if (stands(lapply(rows$ranks, `[`, row))) {
    return(rows)
  }
  all <- rows_joined(list(rows, rows$unseen))
  away <- stands(all$ranks)
  all$ranks <- lapply(all$ranks, function(rank) ifelse(away, NA_integer_, rank))
  all
}

single_places <- function(places) if (length(places) > 0L) list(places) else list()

# Along an axis: the members up to this one, in the rows that share the other axes or those the run
# stays within. A run over several axes is a table of combinations.
places_along <- function(along, places, rows, row) {
  kept <- names(places)
  axis <- along_axis(list(along = along), list(kept = kept))
  if (is.null(axis)) {
    return(single_places(places))
  }
  within <- along$within %||% setdiff(names(rows$ranks), axis)
  alike <- function(axes) {
    same <- lapply(axes, function(a) rows$ranks[[a]] == rows$ranks[[a]][row])
    Reduce(`&`, same, rep(TRUE, length(rows$role)))
  }
  level <- Reduce(`&`, lapply(rows$ranks, function(rank) {
    (rank == released) == (rank[row] == released)
  }))
  run <- which(level & alike(intersect(names(rows$ranks), within)))
  before <- if (is.null(along$within)) rows$places[[axis]][run] <= rows$places[[axis]][row] else run <= row
  after <- if (is.null(along$within)) rows$places[[axis]][run] >= rows$places[[axis]][row] else run >= row
  run <- run[if (identical(along$from, "end")) after else before]
  free <- setdiff(kept, within)
  c(single_places(places[setdiff(kept, free)]), single_places(lapply(rows$ranks[free], `[`, run)))
}

# The same orders are one part, whatever is worked out from them; days that follow one
# another are one interval.
unique_parts <- function(parts) {
  parts <- Filter(function(part) !is.na(part$from), parts)
  if (length(parts) == 0L) {
    return(list())
  }
  key <- vapply(parts, function(part) rlang::hash(list(part$key, part$job$key, part$members)), "")
  unlist(lapply(split(parts, factor(key, unique(key))), joined_intervals),
    recursive = FALSE, use.names = FALSE)
}

joined_intervals <- function(parts) {
  from <- vapply(parts, `[[`, 1L, "from")
  to <- vapply(parts, `[[`, 1L, "to")
  order <- order(from, to)
  begins <- c(TRUE, from[order][-1L] > cummax(to[order])[-length(to)] + 1L)
  run <- cumsum(begins)
  lapply(seq_len(max(run)), function(i) {
    part <- parts[[1L]]
    part$from <- min(from[order][run == i])
    part$to <- max(to[order][run == i])
    part
  })
}
