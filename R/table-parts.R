# The parts of a figure: for each aggregate it is worked out from, the days, the conditions and the members whose order
# lines it reads.
#
# A part is list(text, job, from, to, members): `members` holds for each dimension it keeps the places it allows.

figure_parts <- function(x, tree, row) {
  at <- cell_of(x, row)
  traced <- trace_measure(tree, at$place, at$frame)
  parts <- tree_parts(traced, list(cell = at$cell, keeps = at$place$level$keeps), at)
  unique_parts(parts)
}

# Where the figure of a row stands: its level, and its cell there.
cell_of <- function(x, row) {
  keeps <- vapply(x$rows$ranks, function(rank) rank[row] != released, logical(1L))
  frame <- ask_frame(x$ask, x$book)
  job <- new_job(x$book)
  level <- plan_level(list(keeps = unname(keeps), role = "line"), list(), frame, job)
  place <- list(cells = level$cells, level = level, moves = list(), job = job)
  cell <- 1L
  if (length(level$periods) > 0L) {
    here <- lapply(names(level$periods), function(axis) level$periods[[axis]] == x$rows$ranks[[axis]][row])
    cell <- which(Reduce(`&`, here))[1L]
  }
  list(x = x, row = row, place = place, cell = cell, frame = frame)
}

tree_parts <- function(tree, here, at) {
  descend <- function(trees, here) unlist(lapply(trees, tree_parts, here = here, at = at), recursive = FALSE)
  switch(tree$kind,
    leaf = list(leaf_part(tree, here, at)),
    overall = descend(list(tree$child), list(cell = tree$map[here$cell], keeps = tree$keeps)),
    each = unlist(lapply(tree$pieces[[here$cell]], function(piece) {
      descend(list(tree$child), list(cell = piece, keeps = here$keeps))
    }), recursive = FALSE),
    members = descend(list(tree$child), here),
    descend(subtrees(tree), here)
  )
}

leaf_part <- function(leaf, here, at) {
  list(
    text = leaf$text, job = leaf$job, from = leaf$from[here$cell], to = leaf$to[here$cell],
    amount = if (length(leaf$arguments) > 0L) leaf$arguments[[1L]], members = kept_places(leaf, here, at)
  )
}

# One place for each dimension kept; along an axis a frame of the places up to this one.
kept_places <- function(leaf, here, at) {
  rows <- at$x$rows
  kept <- intersect(names(at$x$ask$axes)[here$keeps], names(dimension_axes(at$x$ask)))
  places <- lapply(stats::setNames(kept, kept), function(axis) rows$ranks[[axis]][at$row])
  if (!is.null(leaf$along)) places <- places_along(leaf$along, places, rows, at$row)
  places
}

# Along an axis: the members up to this one, in the rows that share the other axes or those the run stays within. A run
# over several axes is a list of combinations.
places_along <- function(along, places, rows, row) {
  kept <- names(places)
  axis <- along_axis(list(along = along), list(kept = kept))
  if (is.null(axis)) {
    return(places)
  }
  within <- along$within %||% setdiff(names(rows$ranks), axis)
  alike <- function(axes) {
    same <- lapply(axes, function(a) rows$ranks[[a]] == rows$ranks[[a]][row])
    Reduce(`&`, same, rep(TRUE, length(rows$role)))
  }
  level <- Reduce(`&`, lapply(rows$ranks, function(rank) (rank == released) == (rank[row] == released)))
  run <- which(level & alike(intersect(names(rows$ranks), within)))
  if (is.null(along$within)) run <- run[rows$places[[axis]][run] <= rows$places[[axis]][row]] else run <- run[run <= row]
  free <- setdiff(kept, within)
  places[free] <- NULL
  c(places, list(.run = unique(vctrs::new_data_frame(lapply(rows$ranks[free], `[`, run)))))
}

# The same orders are one part, whatever is worked out from them; days that follow one another are one interval.
unique_parts <- function(parts) {
  parts <- Filter(function(part) !is.na(part$from), parts)
  key <- vapply(parts, function(part) rlang::hash(list(part$text, job_key(part$job), part$members)), "")
  unlist(lapply(split(parts, factor(key, unique(key))), joined_intervals), recursive = FALSE, use.names = FALSE)
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

# The rows of the order lines of a part.
part_rows <- function(part, x) {
  days <- as.integer(job_days(part$job, x$book))
  rows <- which(days >= part$from & days <= part$to)
  mask <- job_mask(part$job, x$book)
  if (!is.null(mask)) rows <- rows[mask[rows]]
  if (length(part$members) == 0L) {
    return(rows)
  }
  places <- line_places(x, rows)
  for (axis in names(part$members)) {
    members <- part$members[[axis]]
    here <- if (axis == ".run") {
      vctrs::vec_in(vctrs::new_data_frame(places[names(members)]), members)
    } else {
      places[[axis]] %in% members
    }
    rows <- rows[here]
    places <- lapply(places, `[`, here)
  }
  rows
}

# The place of each order line among the members of each dimension, as the table shows them.
line_places <- function(x, rows) {
  coded <- ask_dimensions(x$ask, x$book)
  places <- lapply(coded, function(d) {
    place <- d$place[as.integer(d$codes[rows])]
    place[is.na(place)] <- length(d$members) + 1L
    place
  })
  for (dimension in names(x$kept)) {
    if (!x$kept[[dimension]]$all) places <- places_put_together(places, dimension, x$kept[[dimension]])
  }
  places
}
