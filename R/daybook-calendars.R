#' Ask by another calendar
#'
#' The same ask by either of a daybook's calendars: `first_calendar()` puts one of them first, so
#' that `month`, `year` and `ytd()` go by it.
#'
#' @param book A daybook.
#' @param name The name of one of its calendars, bare or as text.
#' @return A daybook with this calendar first.
#' @section Errors: `drystack_error_calendar` for a calendar that the daybook does not have.
#' @seealso [daybook()] takes several calendars.
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on,
#'   calendars = list(fiscal = fiscal_calendar("July"), civil = civil_calendar())
#' )
#' rollup(book, by = year, sales = sum(amount))
#' rollup(first_calendar(book, civil), by = year, sales = sum(amount))
#' @export
first_calendar <- function(book, name) {
  own_setting()
  check_daybook(book)
  word <- calendar_word(rlang::quo_get_expr(rlang::enquo(name)), book$calendars)
  book$calendars <- book$calendars[c(word, setdiff(names(book$calendars), word))]
  book
}
