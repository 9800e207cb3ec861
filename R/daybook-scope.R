#' Limit a daybook to some orders
#'
#' Each condition is kept separately with the columns it speaks of, so that reports can say what was left out and why.
#'
#' @param book A daybook.
#' @param ... Conditions on the columns, such as `status != "cancelled"`; an order must meet all of them. They are
#'   written in the [row language][row_language]; a comparison with a missing value is not met.
#' @return A daybook with a narrower scope.
#' @section Errors: `drystack_error_column` for an unknown column (the nearest is offered), `drystack_error_expression`
#'   for anything outside the row language or a condition that is not TRUE or FALSE for each order.
#' @examples
#' yard <- harrowgill()
#' book <- daybook(yard$orders, date = ordered_on)
#' only(book, status != "cancelled", channel %in% c("web", "telephone"))
#' @export
only <- function(book, ...) {
  check_daybook(book)
  add_conditions(book, said_dots(...))
}

add_conditions <- function(book, conditions) {
  for (said in conditions) book <- add_condition(book, parse_row(said$expr, book_words(book, said$env)))
  book
}

add_condition <- function(book, tree) {
  met <- row_values(tree, book$columns, book$rows)
  if (!is.logical(met)) {
    raise("expression", c(
      paste0("A condition must be TRUE or FALSE for each order: ", quoted(tree_text(tree)), "."),
      "x" = "It gives {.obj_type_friendly {met}}.",
      ">" = "Compare it with something, for example {.code amount > 0}."
    ))
  }
  condition <- list(text = tree_text(tree), columns = columns_of(tree), met = rep_len(met, book$rows) %in% TRUE)
  book$scope <- c(book$scope, list(condition))
  book
}

# One logical for each row, or NULL when every row is in scope.
scope_mask <- function(scope) {
  if (length(scope) == 0L) {
    return(NULL)
  }
  Reduce(`&`, lapply(scope, `[[`, "met"))
}
