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
  rows <- lapply(parts, lines_of_part, x = x)
  records <- vapply(parts, function(part) part$job$record %||% "", "")
  distinct <- !duplicated(Map(list, rows, records))
  rows <- rows[distinct]
  words <- vapply(parts[distinct], part_words, "")
  list(rows = unlist(rows) %||% integer(), part = if (length(rows) > 1L) rep(words, lengths(rows)),
    record = if (any(nzchar(records))) rep(records[distinct], lengths(rows)))
}

# Where the lines of a record were spread, those it was given with.
lines_of_part <- function(part, x) {
  rows <- order_lines(engine_of(part$book), part)
  if (is.null(part$job$spread)) rows
  else unique(current_lines(x$book$records[[part$job$record]], part$job$spread)$line[rows])
}

# Some of these lines, with all columns of the orders.
lines_at_places <- function(placed, at, x) {
  rows <- placed$rows[at]
  lines <- if (is.null(placed$record)) lines_at_rows(x$book, rows) else lines_of_records(rows,
    placed$record[at], x$book)
  if (!is.null(placed$part)) lines <- c(list(.part = placed$part[at]), lines)
  structure(lines, class = "data.frame", row.names = seq_along(rows))
}

lines_at_rows <- function(book, rows) {
  engine <- engine_of(book)
  columns <- Map(function(name, id) line_values(engine, column_node(name, id), rows),
    names(book$columns), book$columns)
  c(list(.line = rows_of_orders(engine, rows)), columns)
}

# Lines of the orders and of records one under the other, `.record` says which; a column that the
# lines of one do not have is missing there, and one of two kinds is text.
lines_of_records <- function(rows, record, book) {
  runs <- rle(record)
  end <- cumsum(runs$lengths)
  parts <- Map(function(name, from, to) {
    lines <- lines_at_rows(if (nzchar(name)) book$records[[name]]$book else book, rows[from:to])
    c(list(.record = rep(if (nzchar(name)) name else "orders", to - from + 1L)), lines)
  }, runs$values, end - runs$lengths + 1L, end)
  names <- unique(unlist(lapply(parts, names)))
  stats::setNames(lapply(names, function(name) {
    own <- Map(function(part, n) part[[name]] %||% rep(NA, n), parts, runs$lengths)
    kinds <- unique(lapply(Filter(Negate(is.null), lapply(parts, `[[`, name)), class))
    if (length(kinds) > 1L) own <- lapply(own, as.character)
    vctrs::vec_c(!!!unname(own))
  }), names)
}

part_words <- function(part) {
  paste0(part$text, ", ", day_words(part$from), " to ", day_words(part$to))
}
