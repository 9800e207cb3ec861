#' Call columns otherwise in tables, figures and reports
#'
#' Without a label a column goes by its name, with spaces for underscores. Files of data keep the
#' names. For one table alone write `axis(region, label = "Sales region")` where it is asked
#' by the column.
#'
#' @param book A daybook.
#' @param ... Labels by the names of the columns: `customer = "Customer account"`.
#' @return A daybook.
#' @section Errors: `drystack_error_column` for an unknown column (the nearest is offered),
#'   `drystack_error_argument` for a label that is no text.
#' @seealso [measure()] has the labels of figures.
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on) |> label_columns(depot = "Yard")
#' rollup(book, by = depot, sales = sum(amount))
#' @export
label_columns <- function(book, ...) {
  own_setting()
  check_daybook(book)
  labels <- rlang::list2(...)
  ok <- rlang::is_named(labels) && all(vapply(labels, rlang::is_string, NA))
  if (length(labels) > 0L && !ok) raise("argument", c("Labels are texts by the names of columns.",
    ">" = "For example {.code label_columns(book, depot = \"Yard\")}."))
  with_column_labels(book, unlist(labels))
}

with_column_labels <- function(book, labels) {
  for (name in names(labels)) {
    check_column(name, names(book$columns))
    book$labels[[name]] <- labels[[name]]
  }
  book
}
