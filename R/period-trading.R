#' @rdname trading
#' @export
trading_days <- function(x, to = NULL, calendar = NULL) {
  own_setting()
  if (is_period(x)) {
    return(count_trading(as.integer(start_of(x)), as.integer(end_of(x)),
      calendar %||% period_calendar(x)))
  }
  if (!inherits(x, "Date") || !inherits(to, "Date") || !length(to) %in% c(1L, length(x))) {
    raise("argument", c(
      "{.fn trading_days} takes periods, or first days and last days as Dates.",
      "x" = "{.arg x} is {type_words(x)} and {.arg to} {type_words(to)}."
    ))
  }
  calendar <- check_calendar(calendar %||% civil_calendar())
  check_years(x, "x")
  check_years(to, "to")
  count_trading(as.integer(floor(as.numeric(x))), as.integer(floor(as.numeric(to))), calendar)
}
