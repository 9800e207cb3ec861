# Figures of the members of a column, as of_each() asks for them, and what is told of them.

#' @export
figures_of_each.drystack_each <- function(asked) {
  spec <- asked$spec
  axis <- dimension_axis(spec$by_name, spec$by)
  axis$name <- "member"
  ask <- new_ask("rollup", list(member = axis),
    list(figure = new_measure("figure", renamed_axis(spec$tree, spec$by_name))))
  if (!is.null(spec$order)) ask$sort <- list(member = read_sort_rule(
    rule_of(spec$order, "sort", spec$env), "member", ask, asked$book))
  answer <- answer(ask, asked$book)
  known <- answer$rows$ranks$member <= length(answer$folded$dimensions$member$members)
  list(keys = answer$folded$dimensions$member$members[answer$rows$ranks$member[known]],
    values = answer$rows$figures$figure[known])
}

# The axis is called otherwise here, so that no column can have its name.
renamed_axis <- function(tree, name) {
  tree_map(tree, function(one) {
    if (identical(one$axis, name)) {
      one$axis <- "member"
      one$child <- renamed_axis(one$child, name)
      one
    }
  })
}

# The columns of figures of members that a table reads: list(name, by, tree, scope: in words,
# record: its first day, where the figure is the least date).
each_told <- function(ask, book) {
  engine <- engine_of(book)
  if (length(engine$each) == 0L) {
    return(list())
  }
  told <- Filter(function(id) !engine$each[[id]]$quiet, each_in(ids_read(ask, book), engine))
  lapply(told, function(id) {
    spec <- engine$each[[id]]
    own <- without_each(book, id, engine)
    names <- names(Filter(function(column) is_column_itself(column, id, engine), book$columns))
    first <- identical(spec$tree$fn, "min") && inherits(engine$each_some[[id]], "Date")
    list(name = if (length(names) > 0L) names[1L], by = spec$by_name,
      tree = spec$tree,
      scope = condition_words(own$scope), shown = spec$shown, record = if (first) record_start(own))
  })
}

# "First on is worked out for each customer id: least ordered on, of orders to 18 September 2026."
each_notes <- function(table) vapply(table$each, each_note, "", table = table)

each_note <- function(one, table) {
  words <- measure_in_words(one$tree)
  paste0(
    sentence_case(if (is.null(one$name)) words else plain_words(one$name)),
    " is worked out for each ",
    plain_words(one$by), if (!is.null(one$name)) paste0(": ", words), ", of orders ",
    if (one$shown) paste("from", day_words(table$shown$first), ""), "to ",
    day_words(if (one$shown) table$shown$last else table$as_of),
    if (length(one$scope) > 0L) paste(" where", joined_words(one$scope)),
    if (!is.null(one$record)) paste0("; what was before ", day_words(one$record),
      ", where the record begins, is not known"), "."
  )
}

# Whether a column is another under a name of its own.
is_column_itself <- function(column, id, engine) {
  meaning <- if (!column %in% names(engine$each)) engine$meanings[[column]]
  column == id || identical(meaning$kind, "worked_out") && identical(meaning$tree$id, id)
}
