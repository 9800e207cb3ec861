# Rows kept by a condition, as rows of a table: those put together of others, and those
# out of sight.

# The rows of a table with the lines of others.
rows_with_others <- function(rows, others, folded, ask) {
  parts <- lapply(others, function(part) rows_of_others(part, folded, ask))
  rows_joined(c(list(rows), Filter(function(part) length(part$role) > 0L, parts)))
}

rows_of_others <- function(part, folded, ask) {
  rows <- rows_of_levels(part$levels, part$folded, ask)
  here <- ranks_at(rows$ranks, part$periods)
  for (axis in part$axes) here <- here & rows$ranks[[axis]] %in% folded$kept_where[[axis]]$place
  rows <- rows_of_table(rows, which(here))
  rows$places <- places_beside_members(rows, part$axes, folded, ask)
  rows
}

# Where lines of others stand among the rows of the table: after the members, before
# the missing one.
places_beside_members <- function(rows, axes, folded, ask) {
  places <- shown_places(rows$ranks, folded, ask)
  for (axis in names(places)) {
    order <- folded$order[[axis]]
    if (axis %in% axes && !is.null(order)) {
      places[[axis]][] <- sum(order$ranks[[axis]] < folded$kept_where[[axis]]$place) + 0.5
    } else if (any(axes %in% order$leading)) {
      places[[axis]] <- rows$places[[axis]]
    }
  }
  places
}

# Rows that a condition leaves out of sight.
is_out_of_sight <- function(rows, folded, ask) {
  out <- logical(length(rows$role))
  for (kept in folded$kept_where) out <- out | lacks_rank(rows$ranks, kept)
  out
}

# Those of them that stand in a line of others.
stands_in_others <- function(rows, folded, ask) {
  inside <- logical(length(rows$role))
  for (kept in Filter(function(kept) kept$together, folded$kept_where)) {
    inside <- inside | lacks_rank(rows$ranks, kept)
  }
  inside
}

lacks_rank <- function(ranks, kept) {
  is_other_rank(ranks, list(dimension = kept$axis, ranks = kept$ranks)) &
    !ranks[[kept$axis]] %in% kept$place
}

# What stands in the line of others beside a row, as the orders are asked for it: the members before
# a place was made for that line.
kept_beside_row <- function(kept, x, row) {
  periods <- lapply(x$rows$ranks[setdiff(kept$leading, names(dimension_axes(x$ask)))], `[`, row)
  here <- ranks_at(kept$ranks, periods)
  places <- lapply(kept$ranks[setdiff(kept$leading, names(periods))], `[`, here)
  own <- places[[kept$axis]]
  places[[kept$axis]] <- as.integer(ifelse(own > kept$place, own - 1L, own))
  list(dimension = kept$axis, others = kept$others, places = places, last = kept$last)
}
