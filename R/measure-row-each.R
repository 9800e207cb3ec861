# of_each(column, measure) in the row language: a figure of each member as
# a column (daybook-each.R).

parse_of_each <- function(fn, said, vocabulary, depth) {
  args <- match_arguments(as.list(said)[-1L], c("column", "m", "dates", "sort"), fn)
  if (is.null(args$column) || is.null(args$m)) {
    raise("expression", c("{.fn of_each} takes a column and a measure.",
      ">" = "For example {.code of_each(customer_id, min(ordered_on))}."))
  }
  if (is.null(vocabulary$of_each)) raise("expression", "{.fn of_each} cannot stand here.")
  column <- parse_row(args$column, vocabulary, depth + 1L)
  if (column$kind != "column") raise("expression", c("{.fn of_each} goes by one column.",
    ">" = "Work it out as a column of its own first, and name that."))
  words <- vocabulary
  words[c("measures", "axes", "cols")] <- list(list(), column$name, character())
  tree <- vocabulary$parse_figure(args$m, words, depth + 1L)
  dates <- word_option(args$dates, c("all", "shown"), "dates", fn)
  text <- arguments_text("of_each", c(tree_text(column), tree_text(tree),
    if (dates == "shown") "dates = \"shown\"",
    if (!is.null(args$sort)) paste("sort =", code_text(args$sort))))
  spec <- list(by = column$id, by_name = column$name, tree = tree, order = args$sort,
    shown = dates == "shown",
    env = vocabulary$env, quiet = isTRUE(vocabulary$quiet))
  tree <- column_node(column$name, vocabulary$of_each(spec, text))
  tree$text <- text
  tree
}

# The word as_of in the row language: the as-of date of the daybook that asks.
as_of_node <- function(vocabulary) {
  tree <- column_node("as_of", vocabulary$of_each(list(kind = "as_of"), "as_of"))
  tree$text <- "as_of"
  tree
}

# any_in(order_id, product == "A"), in the row language: whether some order line of the same order
# meets a condition.
parse_any_in <- function(fn, said, vocabulary, depth) {
  args <- match_arguments(as.list(said)[-1L], c("column", "condition"), fn)
  if (is.null(args$column) || is.null(args$condition)) raise("expression", c(
    "{.fn any_in} takes a column and a condition.",
      ">" = "For example {.code any_in(order_id, product_id == \"P1\")}."))
  count <- as.call(list(as.name("of_each"), args$column,
    call("only", quote(count()), args$condition)))
  found <- call_node("if_known", list(parse_of_each("of_each", count,
    c(vocabulary, list(quiet = TRUE)), depth), value_node(0)))
  tree <- call_node(">", list(found, value_node(0)))
  tree$text <- arguments_text(fn, c(code_text(args$column), code_text(args$condition)))
  tree$words <- paste(row_in_words(parse_row(args$condition, vocabulary, depth + 1L)),
    "on some line of its", plain_words(parse_row(args$column, vocabulary, depth + 1L)$name))
  tree
}
