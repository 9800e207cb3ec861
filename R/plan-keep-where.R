#' Keep the rows whose figures meet a condition
#'
#' As `keep =` of [rollup()], [crosstab()] and [listing()]. The condition is applied to the figures
#' of the whole table, with its ranks, shares and growth; rows that do not meet it are then hidden,
#' or combined in one line. All other rows, and all totals, keep the figures they have
#' without the rule.
#'
#' @param condition A condition on figures: measures of the table by name, or any expression of the
#'   [measure language][measure_language], with `<`, `<=`, `>`, `>=`, `==`, `!=`, `&`, `|` and `!`:
#'   `growth < 0`, `share(sales) > 0.05 & distinct(order_id) >= 10`.
#' @param others `NULL`: rows that do not meet the condition are left out. A text: the label of one
#'   line for them in each group, worked out from their orders like any other. Periods
#'   cannot be combined.
#' @details A rule can name an axis: `keep = list(region = keep_where(sales > 1e6))`. It then
#'   applies to that axis and those before it: to a region over all periods shown or, if `month`
#'   comes before it, to each region in each month. Without an axis it applies to the rows: the last
#'   axis down the side, or the lines of a listing. In a cross-tab it applies to whole rows
#'   or whole columns.
#'
#'   A row is not kept if the condition cannot be decided because a figure is unknown; a note counts
#'   such rows. Totals stay those of all; `total = of_shown(sum)` of a [measure()] is the sum of the
#'   rows shown. To limit the *orders* by their columns, see [only()].
#' @return A rule for `keep =`.
#' @section Errors: `drystack_error_expression` for anything but a condition,
#'   `drystack_error_argument` for a label that is a member already, or of a period.
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on)
#' rollup(book, by = product_id, sales = sum(amount), growth = growth(ytd(sales), year),
#'   keep = keep_where(growth < -0.1), totals = "grand")
#' rollup(book, by = product_id, sales = sum(amount),
#'   keep = keep_where(share(sales) > 0.05, others = "All others"))
#' @seealso [keep_top()] keeps the largest; [measure()] has `marks =`, which mark figures and keep
#'   all rows.
#' @export
keep_where <- function(condition, others = NULL) {
  quo <- rlang::enquo(condition)
  check_text(others, "others", optional = TRUE)
  if (rlang::quo_is_missing(quo)) raise_no_condition()
  new_where_rule(said_quo(quo), others)
}

new_where_rule <- function(said, others) {
  structure(list(kind = "where", said = said, others = others), class = "drystack_keep_rule")
}

raise_no_condition <- function() {
  raise("argument", c("{.fn keep_where} needs a condition on figures.",
    ">" = "For example {.code keep_where(sales > 1000)}."))
}

# The last axis that runs down; of a table without one the last across.
innermost_row <- function(ask) {
  down <- side_axes(ask, "rows")
  axes <- if (length(down) > 0L) down else names(ask$axes)
  if (length(axes) == 0L) raise("argument", c("{.fn keep_where} needs rows to keep.",
    ">" = "Ask by a column or a period, such as {.code month}."))
  utils::tail(axes, 1L)
}

read_keep_where <- function(rules, ask, book) {
  Map(function(rule, axis) {
    rule$tree <- parse_measure(rule$said$expr, ask_words(ask, book, rule$said$env))
    if (!is_condition(rule$tree)) raise("expression", c(
      paste0(quoted(tree_text(rule$tree)), " is not a condition on figures."),
      ">" = paste0("Compare it: {.code keep_where(", braces_kept(tree_text(rule$tree)), " > 0)}.")))
    rule$leading <- leading_axes(ask, axis)
    if (is_period_axis(ask$axes[[axis]]) && !is.null(rule$others))
      raise_periods_apart(axis, rule$others)
    rule
  }, rules, names(rules))
}

conditions_on_figures <- c("<", "<=", ">", ">=", "==", "!=", "&", "|", "!")

is_condition <- function(tree) {
  if (tree$kind == "named") is_condition(tree$child)
  else tree$kind == "call" && tree$fn %in% conditions_on_figures
}
