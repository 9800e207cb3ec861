#' Read the plan of a request before it is carried out
#'
#' @param book A daybook.
#' @param by,...,totals As for [rollup()].
#' @return A `drystack_plan` that prints what would be folded: the passes over the orders with their conditions, the
#'   amounts
#'   and the states kept of them, the spans of days, the cells and the memory they would take. No order is added up.
#' @section Memory: A request that needs more than `options(drystack.memory = )` allows (bytes; 4 GB by default) fails
#'   before any
#'   work is done, with `drystack_error_memory`.
#' @section Errors: As for [rollup()].
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on, calendars = fiscal_calendar("July"))
#' explain_plan(book, by = c(region, month), sales = sum(amount), ytd = ytd(sales), paid = only(sales, paid))
#' @export
explain_plan <- function(book, by = NULL, ..., totals = "none") {
  own_setting()
  check_names_whole(sys.call(), c("book", "by"))
  check_daybook(book)
  ask <- rollup_request(book, said_axes(rlang::enquo(by)), said_dots(...), totals)
  plan <- new_plan(ask, book)
  dimensions <- ask_dimensions(ask, book)
  structure(
    list(
      title = request_title(ask), rows = book$rows, jobs = lapply(unname(plan$jobs), explained_job),
      members = vapply(dimensions, function(d) length(d$members), 1L), levels = length(plan$levels),
      memory = memory_needed(plan, dimensions, entity_codes(plan, book), book)
    ),
    class = "drystack_plan"
  )
}

explained_job <- function(job) {
  list(
    conditions = vapply(job$scope, `[[`, "", "text"), date = job$date, entity = job$entity, rows = job$rows,
    amounts = lapply(job$amounts, `[[`, "needs"), spans = job$spans$count,
    days = job$spans$cuts[c(1L, length(job$spans$cuts))] - 0:1
  )
}
