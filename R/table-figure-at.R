# Tracing a figure asks the orders again: where these are others by now, it would tell of
# other figures.
check_same_orders <- function(x) {
  engine <- engine_of(x$book)
  if (!identical(x$generation, engine$generation) || !is_as_learned(engine)) {
    raise("engine", c("The orders have changed since this table was made.",
      "x" = "Its figures cannot be traced to the order lines that are there now.",
      ">" = "Build it again."))
  }
}

# Which figure of a table is meant: its row and column in as.data.frame(x). Gives the measure, and
# the row of the long table.

figure_at <- function(x, row, measure) UseMethod("figure_at")

#' @export
figure_at.drystack_table <- function(x, row, measure) {
  row <- check_row(row, length(x$role))
  list(measure = figure_name(measure, names(x$figures)), row = row)
}

#' @export
figure_at.drystack_crosstab <- function(x, row, measure) {
  wide <- wide_columns(x)
  row <- check_row(row, length(wide$.role$values))
  figures <- wide[!vapply(wide, function(column) is.null(column$head), logical(1L))]
  column <- figures[[figure_name(measure, names(figures))]]
  stacked <- wide$.measure$values
  grid_row <- if (is.null(stacked)) row else (row - 1L) %/% length(x$ask$measures) + 1L
  col <- match(column$head, x$grid$col_head)
  list(
    measure = if (is.null(stacked)) column$measure else stacked[row],
    row = which(x$grid$row == grid_row & x$grid$col == col)
  )
}

check_row <- function(row, rows) {
  if (rows == 0L) raise("argument", "The table has no rows.")
  check_whole(row, "row", 1L, rows)
}

figure_name <- function(measure, known) {
  if (is.null(measure) && length(known) == 1L) {
    return(known)
  }
  if (is.null(measure)) {
    raise(
      "argument", c("{.arg measure} must say which figure.",
        "i" = paste0("The table has ", words_of(known, most = 20L), "."))
    )
  }
  check_text(measure, "measure")
  if (!measure %in% known) {
    raise("argument", c(paste0("The table has no figure ", quoted(measure), "."),
      advise_word(measure, known, "figures")))
  }
  measure
}
