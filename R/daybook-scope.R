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
  own_setting()
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
  if (book$rows > 0L && !any(condition$met)) condition$note <- unmet_note(tree, book$columns)
  book$scope <- c(book$scope, list(condition))
  book
}

# What is said of a condition that no order line meets: often a value that is spelt another way.
unmet_note <- function(tree, columns) {
  said <- paste("No order line meets", tree_text(tree))
  near <- nearest_member(tree, columns)
  if (is.null(near)) paste0(said, ".") else paste0(said, ": did you mean ", encodeString(near, quote = "\""), "?")
}

# The member of a dimension nearest to the text it is compared with. Of very many members none is looked for.
most_members_compared <- 5000L

nearest_member <- function(tree, columns) {
  if (!identical(tree$fn, "==")) {
    return(NULL)
  }
  parts <- split(tree$args, vapply(tree$args, `[[`, "", "kind"))
  if (!setequal(names(parts), c("column", "value")) || !is.character(parts$value[[1L]]$value)) {
    return(NULL)
  }
  members <- unique(columns[[parts$column[[1L]]$name]])
  if (length(members) <= most_members_compared) nearest_word(parts$value[[1L]]$value, as.character(members[!is.na(members)]))
}

# The notes on the conditions of a scope.
scope_notes <- function(scope) as.character(unlist(lapply(scope, `[[`, "note")))

# One logical for each row, or NULL when every row is in scope.
scope_mask <- function(scope) {
  if (length(scope) == 0L) {
    return(NULL)
  }
  Reduce(`&`, lapply(scope, `[[`, "met"))
}
