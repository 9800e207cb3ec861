#' The order lines behind a figure
#'
#' @param x A table: a [rollup()], [crosstab()] or [headlines()].
#' @param row A row of `as.data.frame(x)`.
#' @param measure A figure's column in `as.data.frame(x)`; it may be left out where there is one.
#' @return A data frame of the order lines, in the order of the daybook: `.line`, the row in the
#'   orders, and their columns; lines with a missing amount too. Where a figure is worked out from
#'   several sets of orders, such as a figure and the one of the year before, the column `.part`
#'   says which, and a line stands once for each part it belongs to.
#' @section Errors: `drystack_error_argument` for a row or a figure that the table does not have.
#' @seealso [explain()] says in words how a figure came about; [tie_out()] proves the totals.
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on)
#' x <- rollup(book, by = c(depot, year), sales = sum(amount), ly = prior(sales, year))
#' head(behind(x, row = 5, measure = "ly"))
#' @export
behind <- function(x, row, measure = NULL) {
  own_setting()
  check_table(x)
  check_same_orders(x)
  at <- figure_at(x, row, measure)
  parts <- figure_parts(at$table %||% x, (at$table %||% x)$ask$measures[[at$measure]]$tree, at$row)
  lines_of_parts(parts, at$table %||% x)
}

lines_of_parts <- function(parts, x) {
  placed <- placed_lines(parts, x)
  lines_at_places(placed, seq_along(placed$rows), x)
}

# The order lines of some parts by their places: list(rows, part: NULL where there is one). Parts
# that read the same lines are told apart no further.
placed_lines <- function(parts, x) {
  engine <- engine_of(x$book)
  rows <- lapply(parts, order_lines, engine = engine)
  distinct <- !duplicated(rows)
  rows <- rows[distinct]
  words <- vapply(parts[distinct], part_words, "")
  list(rows = unlist(rows) %||% integer(), part = if (length(rows) > 1L) rep(words, lengths(rows)))
}

# Some of these lines, with all columns of the orders.
lines_at_places <- function(placed, at, x) {
  engine <- engine_of(x$book)
  rows <- placed$rows[at]
  columns <- Map(function(name, id) line_values(engine, column_node(name, id), rows),
    names(x$book$columns), x$book$columns)
  lines <- c(list(.line = rows_of_orders(engine, rows)), columns)
  if (!is.null(placed$part)) lines <- c(list(.part = placed$part[at]), lines)
  structure(lines, class = "data.frame", row.names = seq_along(rows))
}

part_words <- function(part) paste0(part$text, ", ", day_words(part$from), " to ", day_words(part$to))
