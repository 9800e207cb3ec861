#' The order of a dimension's members
#'
#' A rule of order is part of a request, as `sort =` of [rollup()] and [crosstab()], and is worked
#' out again whenever the table is built. Without one, members are in the order of their factor
#' levels, or sorted by value. Whatever the rule, members combined as others come
#' after the rest, and `(none)` comes last. Periods are in the order of time; in a rollup a measure
#' can change it.
#'
#' @param measure A measure of the table by its name, or any expression of the
#'   [measure language][measure_language]. It is worked out for each member within the axes before
#'   it, over all columns of a cross-tab.
#' @param at For one column of a cross-tab: its label, one text for each column axis, such as
#'   `"2026 Q1"` or `c("web", "2026 Q1")`.
#' @param column A column that holds the key of each member: one key for each label.
#' @param ... Members in the order wanted; the others follow in
#'   the order of their values.
#' @param book A daybook.
#' @param dimension A column whose members are always ordered by the keys in `column`.
#' @return A rule of order, for `sort =`. `sort_key()`: a daybook with the rule, for every table
#'   that has none of its own for that dimension.
#' @section Errors: `drystack_error_sort` for a label with more than one key (the labels are named)
#'   and for a member that does not occur; `drystack_error_column` for an unknown column; errors of
#'   the measure come from the table that reads it.
#' @seealso [keep_top()] and [keep_where()] choose the rows.
#' @examples
#' yard <- harrowgill()
#' book <- daybook(yard$orders, date = ordered_on)
#' rollup(book, by = depot, sales = sum(amount), sort = largest_first(sales))
#' rollup(book, by = c(year, channel), sales = sum(amount),
#'   sort = list(channel = in_order("web", "counter"))
#' )
#' @name sort_rules
NULL

#' @rdname sort_rules
#' @export
largest_first <- function(measure, at = NULL) {
  measure_order(rlang::enquo(measure), at, largest = TRUE)
}

#' @rdname sort_rules
#' @export
smallest_first <- function(measure, at = NULL) {
  measure_order(rlang::enquo(measure), at, largest = FALSE)
}

#' @rdname sort_rules
#' @export
by_key <- function(column) {
  new_sort_rule("key", column = rlang::as_name(rlang::quo_get_expr(rlang::enquo(column))))
}

#' @rdname sort_rules
#' @export
in_order <- function(...) {
  members <- as.character(c(...))
  if (length(members) == 0L || anyNA(members) || anyDuplicated(members) > 0L) {
    raise("sort", c("{.fn in_order} takes members, each once.",
      ">" = "For example {.code in_order(\"web\", \"counter\")}."))
  }
  new_sort_rule("given", members = members)
}

#' @rdname sort_rules
#' @export
sort_key <- function(book, dimension, column) {
  own_setting()
  check_daybook(book)
  dimension <- column_word(rlang::enquo(dimension), names(book$columns), "dimension")
  column <- column_word(rlang::enquo(column), names(book$columns), "column")
  one_key_per_label(book, dimension, column)
  book$sort_keys[[dimension]] <- column
  book
}

measure_order <- function(quo, at, largest) {
  if (rlang::quo_is_missing(quo)) {
    raise("sort", c("A rule of order needs a measure.",
      ">" = "For example {.code largest_first(sales)}."))
  }
  if (!is.null(at) && (!is.character(at) || anyNA(at)))
    raise("sort", "{.arg at} is the label of a column, as text.")
  new_sort_rule("measure", said = said_quo(quo), at = at, largest = largest)
}

new_sort_rule <- function(kind, ...) structure(list(kind = kind, ...), class = "drystack_sort_rule")

by_measure <- function(rule) rule$kind == "measure"

# The rules of an ask by the name of their dimension: one rule stands for the innermost dimension.
read_sort <- function(sort, ask, book) {
  rules <- by_dimension(sort, "drystack_sort_rule", ask, "sort", "largest_first(sales)")
  Map(read_sort_rule, rules, names(rules), MoreArgs = list(ask = ask, book = book))
}

by_dimension <- function(rules, class, ask, name, example, known = ruled_axes(ask)) {
  if (is.null(rules)) {
    return(list())
  }
  if (inherits(rules, class)) rules <- stats::setNames(list(rules), innermost_dimension(ask, name))
  ok <- is.list(rules) && !is.null(names(rules)) &&
    all(vapply(rules, inherits, logical(1L), what = class))
  if (!ok || anyDuplicated(names(rules)) > 0L) {
    raise("argument", c(
      paste0(argument_said(name), " is one rule, or a list of rules named by their dimensions."),
      ">" = "For example {.code {name} = {example}}."
    ))
  }
  for (dimension in setdiff(names(rules), known)) {
    raise("argument", c(
      paste0(argument_said(name), " names ", quoted(dimension),
        ", which is not a dimension of this table."),
      "i" = if (dimension %in% names(ask$axes))
        "Across a cross-tab, periods are in the order of time.",
      ">" = "Its dimensions: {known}."
    ))
  }
  rules
}

# What rules may be said of: dimensions, and in a rollup periods, which stand in the order of time
# where no rule is said.
ruled_axes <- function(ask) names(if (ask$kind == "rollup") ask$axes else dimension_axes(ask))

innermost_dimension <- function(ask, name) {
  dimensions <- names(dimension_axes(ask))
  if (length(dimensions) == 0L) dimensions <- ruled_axes(ask)
  down <- setdiff(dimensions, ask$cols)
  if (length(dimensions) == 0L) raise("argument",
    "{.arg {name}} needs a dimension; this table has none.")
  utils::tail(if (length(down) > 0L) down else dimensions, 1L)
}

read_sort_rule <- function(rule, dimension, ask, book) {
  rule$leading <- leading_axes(ask, dimension)
  if (is_period_axis(ask$axes[[dimension]])) check_period_rule(rule, dimension, ask)
  if (rule$kind == "measure") {
    rule$tree <- parse_measure(rule$said$expr, ask_words(ask, book, rule$said$env))
    across <- if (dimension %in% ask$cols) side_axes(ask, "rows") else ask$cols
    if (length(rule$at) > length(across)) {
      raise("sort", c(
        paste0("{.arg at} names {length(rule$at)} column{?s} of a table that has ",
          "{length(across)} axis across."),
        ">" = "Give one label for each column axis."
      ))
    }
    rule$across <- across[seq_along(rule$at)]
  }
  if (rule$kind == "key") check_column(rule$column, names(book$columns))
  rule
}

# What runs along periods runs in the order of time.
check_period_rule <- function(rule, period, ask) {
  if (!by_measure(rule)) {
    raise("sort", c(
      paste0("Only a measure changes the order of the periods of ", quoted(period), "."),
      ">" = "For example {.code sort = list({period} = largest_first(sales))}."
    ))
  }
  for (measure in ask$measures) {
    if (runs_along(measure$tree, period)) raise("sort", c(
      paste0(quoted(measure$name), " runs along ", quoted(period),
        ", which the table does not show in time."),
      ">" = "Leave out either of them."
    ))
  }
}

runs_along <- function(tree, axis) tree_any(tree, function(one) identical(one$axis, axis))

# The members of a dimension within the axes before it, and at one column where the rule says so.
order_level <- function(rule, ask, frame, job) {
  level <- hidden_level(ask, c(rule$leading, rule$across))
  plan_level(level, list(by = rule$tree), frame, job)
}
