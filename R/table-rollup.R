#' Roll orders up by periods and dimensions
#'
#' The rows are the combinations of the axes that occur in the orders on the dates shown, whatever
#' the measures; periods have no gaps from the first order to the as-of date. Every figure, totals
#' included, is worked out from the order lines of its own cell, with exact sums, so the result does
#' not depend on the order of the lines or the number of threads.
#'
#' @param book A daybook.
#' @param ... The measures, each `name = expression` in the [measure language][measure_language]. A
#'   measure can use earlier ones by name.
#' @param by What the rows are: `c(region, month)`, bare names or text, of columns and of periods
#'   (`day`, `week`, `month`, `quarter`, `half`, `year`; `civil$month` for a calendar that is not
#'   the first). The first stands left and changes slowest. Without it the table has one row. The
#'   first unnamed argument after `book` is also `by`. `axis(region, label = "Sales region",
#'   sort = largest_first(sales), total = "All regions", repeated = TRUE)` gives an axis a label, an
#'   order, a word for its total, and its members on every line instead of once.
#'   A label with parts in braces names each period: `axis(month, label =
#'   "{month_name} {year}")`; [as_period()] lists the parts.
#' @param totals `"none"`; `"grand"`, one line for the whole table; or `"all"`, which adds a
#'   subtotal for each leading group.
#' @param totals_at `"end"`: totals follow their lines; `"start"`: they come before them.
#' @param sort A [rule of order][sort_rules] such as `largest_first(sales)`: one for the innermost
#'   dimension, or a list named by dimension.
#' @param keep [keep_top()], for the innermost dimension or a list named by dimension: the largest
#'   members, with the others combined. [keep_where()]: the rows whose figures meet a condition.
#' @param members `"shown"`: members with orders on the dates shown; a note counts those a measure
#'   sees only elsewhere, such as a year before. `"seen"`: these too.
#' @param zeros `"shown"`, or `"blank"`: zeros are left blank, unless a format says `zero =`.
#' @return A `drystack_rollup`. [as.data.frame()] gives it as plain columns: dimensions as text
#'   or factor, periods as [period vectors][as_period], figures as numbers, and `.role` (`line`,
#'   `others`, `subtotal`, `total`); axes that a total releases are `NA` there. A missing dimension
#'   value is the member `(none)`. [write_report()] writes it, [figure()] draws it.
#' @section Errors: `drystack_error_column` for an unknown name (the nearest is offered),
#'   `drystack_error_expression` for anything outside the measure language, `drystack_error_amount`
#'   for an amount that is text (the rows are named), `drystack_error_argument` for a request
#'   without measures or with an axis twice, `drystack_error_period` for a comparison by a unit that
#'   does not hold whole periods.
#' @seealso [crosstab()], [listing()] and [headlines()] for other tables; [measure_language] for
#'   figures; [sort_rules], [keep_top()] and [keep_where()] for rows; [explain()], [behind()] and
#'   [tie_out()] for where they come from; [figure()] and [write_report()].
#' @examples
#' yard <- harrowgill()
#' book <- daybook(yard$orders, date = ordered_on, calendars = fiscal_calendar("July")) |>
#'   work_out(net = amount - discount) |>
#'   only(status != "cancelled")
#' rollup(book, by = c(depot, quarter),
#'   sales  = sum(net),
#'   ytd    = ytd(sales),
#'   ytd_ly = prior(ytd, year),
#'   change = ytd / ytd_ly - 1
#' )
#' @export
rollup <- function(book, ..., by = NULL, totals = "none", totals_at = "end", sort = NULL,
  keep = NULL, members = "shown", zeros = "shown") {
  own_setting()
  check_names_whole(sys.call(), "book")
  check_daybook(book)
  said <- said_by(if (!missing(by)) rlang::enquo(by), rlang::enquos(..., .ignore_empty = "all"))
  make_table(new_request("rollup",
    rows = said$by, measures = said$measures, totals = totals,
    totals_at = totals_at, sort = sort, keep = keep, members = members,
    look = list(zeros = zeros)
  ), book)
}

# The axes and the measures, where the first argument without a name may stand for `by`. Before the
# dots `by` would take measures whose names it begins with.
said_by <- function(by, dots) {
  if (is.null(by)) {
    bridges <- vapply(dots, function(quo) rlang::quo_is_call(quo, "bridge"), NA)
    unnamed <- utils::head(which(rlang::names2(dots) == "" & !bridges), 1L)
    by <- if (length(unnamed) > 0L) dots[[unnamed]] else rlang::quo(NULL)
    dots <- dots[setdiff(seq_along(dots), unnamed)]
  }
  list(by = said_axes(by), measures = said_quos(dots))
}

rollup_table <- function(ask, book) {
  answer <- answer(ask, book)
  new_table(ask, answer, book, histories = rollup_histories(ask, book, answer$rows))
}

read_rollup <- function(request, book) {
  axes <- read_table_axes(request$rows, book)
  known <- ask_measures(request$measures, book, axes)
  ask <- new_ask("rollup", axes, shown_measures(known, request$show),
    totals = only_rows(check_choice(one_side(request$totals, "totals"), total_words,
      "totals"), "none"),
    totals_at = only_rows(check_choice(one_side(request$totals_at, "totals_at"), words_of_ends,
      "totals_at"), "end"),
    members = check_choice(request$members, member_words_known, "members"), known = known,
    look = request$look
  )
  with_rules(ask, request$sort, request$keep, book)
}
