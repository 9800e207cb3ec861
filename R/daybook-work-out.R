#' Add columns worked out from other columns
#'
#' @param book A daybook.
#' @param ... Named expressions of columns, such as `net = amount - discount`, in the
#'   [row language][row_language]. A later one may use an earlier one. A name that stands already is
#'   replaced; conditions given before keep their meaning.
#' @return A daybook with these columns.
#' @section Errors: `drystack_error_argument` for an expression without a name,
#'   `drystack_error_column` for an unknown column, the name of a period or the date column itself,
#'   `drystack_error_expression` for anything outside the row language.
#' @seealso [row_language] has the words; [enrich()] adds the columns of a lookup.
#' @examples
#' yard <- harrowgill()
#' daybook(yard$orders, date = ordered_on) |>
#'   work_out(net = amount - discount)
#' @export
work_out <- function(book, ...) {
  own_setting()
  check_names_whole(sys.call(), "book")
  check_daybook(book)
  add_columns(book, said_dots(...))
}

add_columns <- function(book, columns) {
  for (i in seq_along(columns)) {
    said <- columns[[i]]
    name <- rlang::names2(columns)[i]
    check_derived_name(name, said, book)
    tree <- within_stack({
      read <- parse_row(said$expr, book_vocabulary(book, said$env))
      # Reading an expression may make columns that its engine must know.
      column_kind(engine_of(book), read)
      read
    })
    engine <- engine_of(book)
    book$columns[[name]] <- new_meaning(engine, list(kind = "worked_out", tree = tree))
    book$made$worked_out <- c(book$made$worked_out, stats::setNames(tree_text(tree), name))
  }
  book
}

check_derived_name <- function(name, said, book) {
  if (name == "") {
    raise("argument", c(
      "Each new column needs a name.",
      "x" = paste0(quoted(said_label(said)), " has none."),
      ">" = paste0("Write {.code work_out(net = ...)}.")
    ))
  }
  if (name == book$date) {
    raise("column", c(
      paste0("The date column ", quoted(name), " cannot be replaced: the daybook has read it."),
      ">" = "Choose another name, or change the orders before {.fn daybook}."
    ))
  }
  check_column_names(name)
}
