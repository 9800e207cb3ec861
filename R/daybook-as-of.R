#' The day up to which orders are seen
#'
#' Orders after the as-of date are never seen by any figure. The last period is part-way when the
#' as-of date falls inside it. Without `as_of()` it is the date of the last order.
#'
#' @param book A daybook.
#' @param date One date: a Date, a date-time (its local day) or ISO text such as `"2026-08-31"`. A
#'   date after the last order is fine: the days between count as days without sales.
#' @return A daybook with this as-of date.
#' @section Errors: `drystack_error_date` for something that is no date, or a
#'   date before the first order.
#' @seealso [within_dates()] limits the dates shown; [covered_to()] says up to which day the orders
#'   are complete; [as_known()].
#' @examples
#' yard <- harrowgill()
#' daybook(yard$orders, date = ordered_on) |> as_of("2026-08-31")
#' @export
as_of <- function(book, date) {
  own_setting()
  check_daybook(book)
  day <- said_day(date, "date", book)
  if (day < book$first) {
    raise("date", c(
      "The as-of date {day_words(day)} lies before the first order.",
      "i" = "Orders run from {day_words(book$first)} to {day_words(book$last)}.",
      ">" = "Give a date in that range or after it."
    ))
  }
  book$as_of <- day
  book
}
