# Order lines in memory: those behind a figure, and those of a listing as an engine of their own.

# The order lines of a part of a figure (see table-parts.R): dated within its days, meeting its
# conditions, of its members.
#' @export
order_lines.drystack_frame <- function(engine, part) {
  days <- as.integer(job_days(engine, part$job, part$book))
  rows <- which(days >= part$from & days <= part$to)
  mask <- job_mask(engine, part$job, part$book)
  if (!is.null(mask)) rows <- rows[mask[rows]]
  of_members(part, rows)
}

# Those of some rows that stand for the members of a part.
of_members <- function(part, rows) {
  places <- lapply(part$dimensions, line_places, rows = rows)
  for (kept in part$kept) places <- places_put_together(places, kept)
  here <- rep(TRUE, length(rows))
  for (table in part$members) {
    here <- here & !is.na(match_rows(places[names(table)], table, length(rows),
      length(table[[1L]])))
  }
  rows[here]
}

#' @export
rows_of_orders.drystack_frame <- function(engine, rows) {
  if (is.null(engine$part)) rows else engine$part$rows[rows]
}

line_places <- function(dimension, rows) {
  place <- dimension$place[as.integer(dimension$codes[rows])]
  place[is.na(place)] <- length(dimension$members) + 1L
  place
}

# The orders of some rows only, as an engine in which every column and condition means what it did.
#' @export
orders_part.drystack_frame <- function(engine, rows) {
  part <- frame_engine(length(rows), engine$days[rows])
  part$part <- list(of = engine, rows = rows)
  for (id in ls(engine$meanings)) assign(id, list(kind = "part", of = engine, id = id, rows = rows),
    envir = part$meanings)
  part$last_id <- engine$last_id
  part$functions <- engine$functions
  part
}

#' @export
number_lines.drystack_frame <- function(engine, per) {
  line <- line_numbers(engine$days, per)
  engine$n_lines <- max(line, 0L)
  engine$line_codes <- structure(line, levels = as.character(seq_len(engine$n_lines)),
    class = "factor")
  line
}

# Only periods that have lines are members.
#' @export
period_column.drystack_frame <- function(engine, axis) {
  start <- period_start(as.integer(engine$days), axis$unit, axis$calendar)
  starts <- sort(unique(start))
  labels <- period_labels(starts, axis$unit, axis$calendar)
  new_meaning(engine, list(kind = "source", values = factor(labels[match(start, starts)],
    levels = labels)))
}
