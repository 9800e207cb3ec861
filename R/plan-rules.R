# The rules of an ask: of order, of members and of rows kept.

check_result_names <- function(ask) {
  both <- intersect(names(ask$axes), names(ask$measures))
  if (length(both) > 0L) {
    raise("argument", c(
      "A measure has the name of an axis of the table.",
      "x" = "{examples_of(both)} {if (length(both) == 1) 'is' else 'are'} both.",
      ">" = "Give the measure another name."
    ))
  }
}

# Rules said of the axes themselves stand where the request has none.
with_axis_sorts <- function(sort, ask) {
  own <- Filter(function(axis) !is.null(axis$sort), ask$axes)
  if (length(own) == 0L) {
    return(sort)
  }
  if (inherits(sort, "drystack_sort_rule")) sort <- stats::setNames(list(sort),
    innermost_dimension(ask, "sort"))
  own <- lapply(own[setdiff(names(own), names(sort))],
    function(axis) rule_of(axis$sort, "sort", axis$env))
  c(sort, own)
}

# The rules of order and of members kept, read against the axes and measures of the ask.
with_rules <- function(ask, sort, keep, book) {
  check_result_names(ask)
  ask$sort <- read_sort(with_axis_sorts(sort, ask), ask, book)
  sort_as_kept(with_keep(ask, keep, book), book)
}
