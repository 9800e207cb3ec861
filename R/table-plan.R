#' Read the plan of a request before it is carried out
#'
#' @param book A daybook.
#' @param ...,by,totals As for [rollup()].
#' @return A `drystack_plan` that prints what would be folded: the passes over the orders with
#'   their conditions, the amounts and the states kept of them, the spans of days, the cells and the
#'   memory they would take. No order is added up.
#' @section Memory: A request that needs more than `options(drystack.memory = )` allows (bytes; a
#'   quarter of the machine's by default) fails before any work is
#'   done, with `drystack_error_memory`.
#' @section Errors: As for [rollup()].
#' @seealso [explain()] for one figure.
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on, calendars = fiscal_calendar("July"))
#' explain_plan(book, by = c(region, month),
#'   sales = sum(amount), ytd = ytd(sales), paid = only(sales, paid)
#' )
#' @export
explain_plan <- function(book, ..., by = NULL, totals = "none") {
  own_setting()
  check_names_whole(sys.call(), "book")
  check_daybook(book)
  said <- said_by(if (!missing(by)) rlang::enquo(by), rlang::enquos(..., .ignore_empty = "all"))
  request <- new_request("rollup", rows = said$by, measures = said$measures, totals = totals)
  ask <- read_request(request, book)
  plan <- new_plan(ask, book)
  sizes <- member_counts(ask, book)
  structure(
    list(
      title = request_title(ask), rows = book$rows, jobs = lapply(unname(plan$jobs), explained_job),
      members = sizes, levels = length(plan$levels),
      memory = memory_needed(plan, sizes, entity_counts(plan, book), book$rows)
    ),
    class = "drystack_plan"
  )
}

explained_job <- function(job) {
  list(
    conditions = condition_texts(job$scope), date = job$date$name, entity = job$entity$name,
    rows = job$rows,
    amounts = stats::setNames(lapply(job$amounts, `[[`, "needs"),
      vapply(job$amounts, `[[`, "", "text")),
    spans = job$spans$count, days = job$spans$cuts[c(1L, length(job$spans$cuts))] - 0:1
  )
}
