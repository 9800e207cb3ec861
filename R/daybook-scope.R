#' Limit a daybook to some orders
#'
#' Conditions are kept apart, each with its columns, so that a report can say how many orders each
#' one left out.
#'
#' @param book A daybook.
#' @param ... Conditions on the columns, such as `status != "cancelled"`; an order must meet
#'   all of them. They are written in the [row language][row_language]; a comparison with a
#'   missing value is not met. A name is what reports call a condition:
#'   `"without cancelled orders" = status != "cancelled"`; without one it is put into words.
#' @return A daybook with a narrower scope.
#' @section Errors: `drystack_error_column` for an unknown column (the nearest is offered),
#'   `drystack_error_expression` for anything outside the row language or a condition that is not
#'   TRUE or FALSE for each order.
#' @seealso [keep_where()] limits the rows of a table by a figure; [within_dates()] the dates shown;
#'   [row_language] has the words of conditions.
#' @examples
#' yard <- harrowgill()
#' book <- daybook(yard$orders, date = ordered_on)
#' only(book, status != "cancelled", channel %in% c("web", "telephone"))
#' @export
only <- function(book, ...) {
  own_setting()
  check_names_whole(sys.call(), "book")
  check_daybook(book)
  add_conditions(book, said_dots(...))
}

add_conditions <- function(book, conditions) {
  names <- rlang::names2(conditions)
  for (i in seq_along(conditions)) {
    said <- conditions[[i]]
    book <- within_stack(add_condition(book,
      parse_row(said$expr, orders_vocabulary(book, said$env)), names[i]))
  }
  book
}

# `words`: what it is called, "" where nobody said.
add_condition <- function(book, tree, words = "") {
  # Reading an expression may make columns that its engine must know.
  force(tree)
  some <- column_kind(engine_of(book), tree)
  if (!is.logical(some)) {
    raise("expression", c(
      paste0("A condition must be TRUE or FALSE for each order: ", quoted(tree_text(tree)), "."),
      "x" = "It gives {type_words(some)}.",
      ">" = "Compare it with something, for example {.code amount > 0}."
    ))
  }
  book$scope <- c(book$scope, list(new_condition(tree, words = words)))
  book
}

# A condition as jobs and daybooks hold it: what it means, and what is told of it. `own` is FALSE
# for that of a lens, which no lens disregards; `called` is what somebody called it.
new_condition <- function(tree, own = TRUE, words = "") {
  list(tree = tree, key = tree_key(tree), text = tree_text(tree),
    columns = columns_of(tree), own = own,
    called = words, words = if (nzchar(words)) words else row_in_words(tree))
}

# Only what is asked for by name is never unknown.
may_be_unknown <- function(tree) {
  if (tree$kind != "call") {
    return(tree$kind != "value")
  }
  switch(tree$fn,
    is.na = FALSE,
    if_known = may_be_unknown(tree$args[[2L]]),
    "%in%" = !any(tree$args[[2L]]$value %in% c(none_label, NA)),
    any(vapply(tree$args, may_be_unknown, NA))
  )
}

condition_texts <- function(scope) vapply(scope, `[[`, "", "text")

condition_words <- function(scope) vapply(scope, `[[`, "", "words")

# As it would be said again, with its name.
condition_said <- function(scope) {
  vapply(scope, function(one) {
    if (nzchar(one$called)) paste(value_text(one$called), "=", one$text) else one$text
  }, "")
}

# The notes on conditions that no order line meets: often a value is spelt another way.
unmet_notes <- function(book, unmet = unmet_conditions(book)) {
  vapply(unmet, unmet_note, "", engine = engine_of(book))
}

unmet_conditions <- function(book) {
  engine <- engine_of(book)
  Filter(function(condition) lines_meeting(engine, condition, book) == 0, book$scope)
}

unmet_note <- function(condition, engine) {
  said <- paste0("No order line meets ", quoted(condition$words))
  near <- nearest_member(condition$tree, engine)
  if (is.null(near)) paste0(said, ".") else paste0(said, ": did you mean ",
    encodeString(near, quote = "\""), "?")
}

# The member of a dimension nearest to the text it is compared with. Of very many
# members none is looked for.
most_members_compared <- 5000L

nearest_member <- function(tree, engine) {
  if (!identical(tree$fn, "==")) {
    return(NULL)
  }
  parts <- split(tree$args, vapply(tree$args, `[[`, "", "kind"))
  if (!setequal(names(parts), c("column", "value")) || !is.character(parts$value[[1L]]$value)) {
    return(NULL)
  }
  column <- parts$column[[1L]]
  known <- members(engine, dimension_axis(column$name, column$id))$members
  if (length(known) <= most_members_compared) nearest_word(parts$value[[1L]]$value, known)
}

# Conditions on the date column: of a scope only these move the beginning of the record.
date_conditions <- function(book) {
  Filter(function(condition) book$date %in% condition$columns, book$scope)
}
