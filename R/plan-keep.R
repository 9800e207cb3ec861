#' Keep the largest members and combine the others
#'
#' As `keep =` of [rollup()] and [crosstab()]. The members are chosen within the dimensions before
#' theirs, over all the periods shown and all columns: the same in every period, so that comparisons
#' hold. Totals are always those of all orders.
#'
#' @param n How many members to keep.
#' @param by A measure of the table by its name, or any expression of the
#'   [measure language][measure_language]: the members with the largest figures are kept. They come
#'   largest first, unless `sort =` says otherwise. The member `(none)` is kept last.
#' @param others The label of one line for all the others, worked out from its orders as any other;
#'   or `NULL`: the others are dropped, with a note that says so.
#' @details In a rollup `keep = list(month = keep_top(3, sales))` shows the best periods, within the
#'   axes before theirs and in the order of time unless `sort =` says otherwise. Those not kept are
#'   left out, with a note: periods that are apart cannot share a line.
#' @seealso [keep_where()] keeps rows by a condition on their figures.
#' @return A rule for `keep =`; for one of
#'   several dimensions, `keep = list(product = keep_top(10, sales))`.
#' @section Errors: `drystack_error_argument` for a number below 1 and for a label that is a member
#'   already. A number larger than the number of members keeps all, with a note.
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on)
#' rollup(book, by = product_id, sales = sum(amount), keep = keep_top(5, sales), totals = "grand")
#' rollup(book, by = product_id, sales = sum(amount), keep = keep_top(3, sales, others = NULL))
#' @export
keep_top <- function(n, by, others = others_label) {
  quo <- rlang::enquo(by)
  n <- check_whole(n, "n", 1L)
  check_text(others, "others", optional = TRUE)
  if (rlang::quo_is_missing(quo)) {
    raise("argument", c("{.fn keep_top} needs a measure.",
      ">" = "For example {.code keep_top(10, sales)}."))
  }
  new_keep_rule(n, said_quo(quo), others)
}

others_label <- "All others"

new_keep_rule <- function(n, said, others) {
  structure(list(kind = "top", n = n, said = said, others = others), class = "drystack_keep_rule")
}

# The rules of members kept, those of rows kept by a condition (plan-keep-where.R) apart.
with_keep <- function(ask, keep, book) {
  rules <- keep_rules(keep, ask)
  where <- vapply(rules, function(rule) rule$kind == "where", NA)
  ask$keep <- read_keep(rules[!where], ask, book)
  ask$keep_where <- read_keep_where(rules[where], ask, book)
  check_wholes_of_kept(ask)
  ask
}

# By axis. A condition that names none is said of the rows, the largest of the innermost dimension.
keep_rules <- function(keep, ask) {
  if (inherits(keep, "drystack_keep_rule") && keep$kind == "where") {
    keep <- stats::setNames(list(keep), innermost_row(ask))
  }
  axes <- names(ask$axes)
  rules <- by_dimension(keep, "drystack_keep_rule", ask, "keep", "keep_top(10, sales)", axes)
  tops <- Filter(function(rule) rule$kind == "top", rules)
  by_dimension(if (length(tops) > 0L) tops, "drystack_keep_rule", ask, "keep",
    "keep_top(10, sales)")
  rules[intersect(axes, names(rules))]
}

read_keep <- function(rules, ask, book) {
  Map(function(rule, dimension) {
    rule$tree <- parse_measure(rule$said$expr, ask_words(ask, book, rule$said$env))
    rule$leading <- leading_axes(ask, dimension)
    if (is_period_axis(ask$axes[[dimension]])) {
      return(period_keep_rule(rule, dimension))
    }
    rule$leading <- intersect(rule$leading, names(dimension_axes(ask)))
    rule
  }, rules, names(rules))
}

# Periods that are not kept are left out: days apart make no cell.
period_keep_rule <- function(rule, period) {
  if (!is.null(rule$others) && rule$others != others_label) {
    raise_periods_apart(period, rule$others)
  }
  rule["others"] <- list(NULL)
  rule
}

raise_periods_apart <- function(period, label) {
  raise("argument", c(
    paste0("Periods of ", quoted(period), " cannot be combined under ", quoted(label), "."),
    ">" = paste0("Leave {.arg others} out: other periods are then not shown, and totals still ",
      "include them.")
  ))
}

# Where other members are kept in each leading group, what stands under one name there is not the
# same members everywhere: a whole over these groups would not be one of its parts.
check_wholes_of_kept <- function(ask) {
  rules <- c(ask$keep, Filter(function(rule) !is.null(rule$others), ask$keep_where))
  for (dimension in intersect(names(rules), names(dimension_axes(ask)))) {
    leading <- setdiff(rules[[dimension]]$leading, dimension)
    for (measure in ask$measures) {
      apart <- Filter(function(within) {
        dimension %in% within && !all(leading %in% within)
      }, wholes_within(measure$tree))
      if (length(apart) > 0L) raise_whole_of_kept(measure$name, dimension, leading)
    }
  }
}

wholes_within <- function(tree) {
  tree_collect(tree, function(one) if (one$kind == "overall") list(one$within))
}

raise_whole_of_kept <- function(name, dimension, leading) {
  raise("sort", c(
    paste0("The members of ", quoted(dimension), " that are kept differ by ",
      words_of(leading), "."),
    "x" = paste0(quoted(name), " combines them over ", words_of(leading), "."),
    ">" = paste0("Say ", braces_kept(paste0("within = c(",
      paste(c(leading, dimension), collapse = ", "), ")")), ", or put ",
      braces_kept(dimension), " first.")
  ))
}

# Members that are kept stand largest first, unless something else is said; periods in time.
sort_as_kept <- function(ask, book) {
  kept <- intersect(names(ask$keep), names(dimension_axes(ask)))
  for (dimension in setdiff(kept, c(names(ask$sort), names(book$sort_keys)))) {
    rule <- ask$keep[[dimension]]
    ask$sort[[dimension]] <- new_sort_rule(
      "measure", tree = rule$tree, largest = TRUE, leading = leading_axes(ask, dimension),
      across = character()
    )
  }
  ask
}

# What a rule looks at: the members of a dimension within the dimensions before it, or the rows up
# to an axis.
keep_level <- function(rule, ask, frame, job) {
  plan_level(hidden_level(ask, rule$leading), list(by = rule$tree), frame, job)
}
