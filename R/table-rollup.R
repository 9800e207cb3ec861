#' Roll orders up by periods and dimensions
#'
#' Each row is a combination of the axes that occurs in the orders; the period axis has no gaps from the first order to
#' the as-of date. Every figure, totals included, is worked out from the order lines of its own cell, in one pass over
#' the orders with exact sums: the result does not depend on the order of the rows or the number of threads.
#'
#' @param book A daybook.
#' @param by What the rows are: `c(region, month)`, bare names or text, of columns and of periods (`day`, `week`,
#'   `month`, `quarter`, `half`, `year`; `civil$month` for a calendar that is not the first). The first stands left and
#'   changes slowest. Without it the table is one row.
#' @param ... The measures, each `name = expression` in the [measure language][measure_language]. A later one may use
#'   an
#'   earlier one by name.
#' @param totals `"none"`; `"grand"`, one line for the whole table; or `"all"`, a subtotal for each leading group too.
#' @param totals_at `"end"`: a total stands after its lines; `"start"`: before them.
#' @param sort A [rule of order][sort_rules] such as `largest_first(sales)`: one for the innermost dimension, or a list named
#'   by dimension.
#' @param keep [keep_top()], for the innermost dimension or a list named by dimension: the largest members, the others put
#'   together.
#' @return A `drystack_rollup`. [as.data.frame()] gives it as plain columns: dimensions as text or factor, periods as
#'   [period vectors][as_period], figures as numbers, and `.role` (`line`, `others`, `subtotal`, `total`); axes that a total
#'   releases
#'   are `NA` there. A missing dimension value is the member `(none)`. [write_report()] writes it, [figure()] draws it.
#' @section Errors: `drystack_error_column` for an unknown name (the nearest is offered), `drystack_error_expression`
#'   for anything outside the measure language, `drystack_error_amount` for an amount that is text (the rows are
#'   named),
#'   `drystack_error_argument` for a request without measures or with an axis twice, `drystack_error_period` for a
#'   comparison
#'   by a unit that does not hold whole periods.
#' @examples
#' yard <- harrowgill()
#' book <- daybook(yard$orders, date = ordered_on, calendars = fiscal_calendar("July")) |>
#'   derive(net = amount - discount) |>
#'   only(status != "cancelled")
#' rollup(book, by = c(depot, quarter),
#'   sales  = sum(net),
#'   ytd    = ytd(sales),
#'   ytd_ly = prior(ytd, year),
#'   change = ytd / ytd_ly - 1
#' )
#' @export
rollup <- function(book, by = NULL, ..., totals = "none", totals_at = "end", sort = NULL, keep = NULL) {
  own_setting()
  check_names_whole(sys.call(), c("book", "by"))
  check_daybook(book)
  rollup_ask(book, rollup_request(book, said_axes(rlang::enquo(by)), said_dots(...), totals, totals_at, sort, keep))
}

# `show`: the names of those measures that are shown, where the others are only spoken of.
rollup_request <- function(book, axes, measures, totals = "none", totals_at = "end", sort = NULL, keep = NULL, show = NULL) {
  axes <- read_axes(axes, book)
  measures <- read_measures(measures, book, axes)
  totals <- c(rows = check_choice(totals, total_words, "totals"), cols = "none")
  totals_at <- c(rows = check_choice(totals_at, c("end", "start"), "totals_at"), cols = "end")
  with_rules(showing(new_ask(axes, measures, totals, totals_at), show), sort, keep, book)
}

showing <- function(ask, show) {
  if (is.null(show)) {
    return(ask)
  }
  for (name in show) check_shown(name, ask)
  ask$known <- ask$measures
  ask$measures <- ask$measures[show]
  ask
}

check_shown <- function(name, ask) {
  if (!name %in% names(ask$measures)) {
    raise(
      "argument", c(paste0("There is no measure ", quoted(name), " to show."), advise_word(name, names(ask$measures), "measures"))
    )
  }
}

total_words <- c("none", "grand", "all")

# The rules of order and of members kept, read against the axes and measures of the ask.
with_rules <- function(ask, sort, keep, book) {
  check_result_names(ask)
  ask$sort <- read_sort(sort, ask, book)
  ask$keep <- read_keep(keep, ask, book)
  sort_as_kept(ask, book)
}

rollup_ask <- function(book, ask) new_table("rollup", ask, ask_rows(book, ask), book)

# From an ask to its rows: plan, fold, resolve. `worked` is what the table tells of how they came about.
ask_rows <- function(book, ask) {
  plan <- new_plan(ask, book)
  folded <- fold_frame(book, ask, plan)
  folded <- resolve_order(keep_members(folded, ask, plan), ask, plan)
  levels <- lapply(plan$levels, resolve_level, folded = folded, ask = ask, plan = plan)
  rows <- table_rows(levels, folded, ask)
  rows$worked <- list(plan = plan, folded = folded)
  rows
}

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
