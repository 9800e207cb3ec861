#' Draw a table
#'
#' Picks the figure that fits the table, and says which; choose another with `kind =`.
#'
#' | kind | for | shows |
#' |---|---|---|
#' | `"periods"` | one period, at most one dimension | bars, what runs up as a line; a panel a member |
#' | `"targets"` | one axis, a measure and one of [another record][alongside] | bars with a line across |
#' | `"compare"` | one period, a measure and its `prior()` | both side by side, the variance under them |
#' | `"moving"` | one period, a measure and its `moving()` | bars under the moving figure |
#' | `"shares"` | one dimension | ordered bars with the cumulative share as a line (80/20) |
#' | `"bars"` | one dimension or cyclic part | bars in the order of the table |
#' | `"lines"` | time, and at most six members, years or measures | a line each, named at its end |
#' | `"grouped"` | two dimensions, at most twelve and six members | bars side by side |
#' | `"stacked"` | two dimensions, amounts not below zero | bars one on the other |
#' | `"steps"` | one dimension, a measure and its `prior()`; a bridge | steps from then to now |
#' | `"heat"` | a cross-tab, or two dimensions or cyclic parts | cells shaded by their figure |
#'
#' Periods that are part-way are lighter. Of more than 40 members the largest are
#' drawn, and the caption says so.
#'
#' @param x A table, or a calendar.
#' @param ... Not used; for a calendar see its own page.
#' @param kind One of the kinds above; by default the one that fits.
#' @param axis_labels Texts under the axis across and beside the axis up, such as
#'   `c(x = "Month", y = "Net sales")`.
#' @return A ggplot2 plot, to which you can add; its alternative text is set.
#' @section Errors: `drystack_error_figure` for a table without rows and for a kind
#'   that does not fit the table.
#' @seealso [figure_kinds()] for the kinds that fit a table, and why.
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on, calendars = fiscal_calendar("July"))
#' figure(rollup(book, by = month, sales = sum(amount), ytd = ytd(sales)))
#' figure(rollup(book, by = product_id, sales = sum(amount)))
#' figure(crosstab(book, rows = depot, cols = channel, sales = sum(amount)))
#' @export
figure <- function(x, ...) UseMethod("figure")

#' @export
figure.default <- function(x, ...) {
  force(x)
  raise(
    "figure", c("There is no figure for {type_words(x)}.",
      ">" = "Give a table, such as {.fn rollup} makes.")
  )
}

#' @rdname figure
#' @export
figure.drystack_table <- function(x, ..., kind = NULL, axis_labels = NULL) {
  with_axis_labels(draw_figure(x, figure_kind(x, kind)), axis_labels)
}

# `labels`: texts by the names x and y.
with_axis_labels <- function(plot, labels) {
  if (is.null(labels)) {
    return(plot)
  }
  ok <- (is.character(labels) || is.list(labels)) && rlang::is_named(labels) &&
    all(names(labels) %in% c("x", "y"))
  if (!ok) raise("argument", c("Labels of axes are texts for {.val x} and {.val y}.",
    ">" = "For example {.code c(x = \"Month\", y = \"Net sales\")}."))
  drawn <- attr(plot, "drystack")
  drawn$axis_labels <- as.list(labels)
  plot <- plot + do.call(ggplot2::labs, lapply(as.list(labels), shown_text))
  structure(plot, drystack = drawn)
}
