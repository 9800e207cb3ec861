# Members that expressions name and that no order has: said with the nearest that there is.

# list(column: name and id, values) of each comparison of a column with texts,
# in a tree and all below it.
named_members <- function(tree) tree_collect(tree, compared_members)

compared_members <- function(tree) {
  if (!isTRUE(tree$fn %in% c("==", "!=", "%in%"))) {
    return(NULL)
  }
  kinds <- vapply(tree$args, `[[`, "", "kind")
  if (!setequal(kinds, c("column", "value"))) {
    return(NULL)
  }
  value <- tree$args[[which(kinds == "value")]]$value
  column <- tree$args[[which(kinds == "column")]]
  if (is.character(value)) list(list(column = column,
    values = setdiff(value, c(none_label, NA))))
}

misspelt_notes <- function(trees, engine) {
  named <- unique(unlist(lapply(trees, named_members), recursive = FALSE))
  unique(unlist(lapply(named, function(pair) misspelt_note(pair$column, pair$values, engine))))
}

misspelt_note <- function(column, values, engine) {
  known <- members(engine, dimension_axis(column$name, column$id))$members
  # Days that a text column was compared with as days are no members of it.
  if (are_days_said(values, FALSE) && mostly_dates(known)) {
    return(character())
  }
  vapply(setdiff(values, known), function(value) {
    near <- if (length(known) <= most_members_compared) nearest_word(value, known)
    paste0("No order line has ", column$name, " ", encodeString(value, quote = "\""),
      if (is.null(near)) "." else paste0(": did you mean ", encodeString(near, quote = "\""), "?"))
  }, "", USE.NAMES = FALSE)
}
