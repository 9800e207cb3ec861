#' Limit the dates a table shows
#'
#' The dates *shown* and the orders a figure may *see* are two things: lenses such as
#' [prior()][measure_language] still see earlier orders. (A condition on the date in [only()]
#' removes the orders for everything.)
#'
#' @param book A daybook.
#' @param from The first day shown, a period (its first day), or `latest(n, unit)`.
#'   Default: from the first order.
#' @param to The last day shown, or a period (its last day). Default: to the as-of date.
#' @param complete `TRUE`: only finished periods of the table's own period are shown; without
#'   a period it does nothing.
#' @param n How many periods.
#' @param unit `day`, `week`, `month`, `quarter`, `half` or `year`, bare or as text; `civil$month`
#'   for a calendar that is not the first.
#' @return `within_dates()`: a daybook. `latest()`: the period that holds the as-of date and the
#'   `n - 1` before it, to be used as `from`; with `complete = TRUE` the `n` last periods that are
#'   finished on the as-of date.
#' @section Part-way periods: A period that the as-of date or these limits cut is part-way: it is
#'   marked in tables, lighter in figures, and compared over the same days.
#' @section Errors: `drystack_error_date` for anything that is not a date and for limits that leave
#'   no day to show, `drystack_error_argument` for a number below 1, `drystack_error_calendar` for
#'   an unknown unit or calendar.
#' @seealso [as_of()] limits the orders that figures may use, [only()] those that they count.
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on) |> as_of("2026-08-15")
#' rollup(within_dates(book, latest(3, month)), by = month,
#'   sales = sum(amount), ly = prior(sales, year)
#' )
#' rollup(within_dates(book, latest(3, month, complete = TRUE)), by = month, sales = sum(amount))
#' rollup(within_dates(book, as_period("2026 Q1", quarter)), by = month, sales = sum(amount))
#' @export
within_dates <- function(book, from = NULL, to = NULL, complete = FALSE) {
  own_setting()
  check_daybook(book)
  check_flag(complete, "complete")
  if (inherits(from, "drystack_latest")) {
    # Kept as a rule: a later as-of date moves it.
    if (!is.null(to)) {
      raise("argument", c("{.fn latest} already says the last day.", ">" = "Leave {.arg to} out."))
    }
    from$unit <- latest_unit(from, book)
    book$shown <- list(latest = from, complete = complete)
    return(book)
  }
  # A period said alone is all of it; of words that say a day both ends are that day.
  alone <- is_period(from) || is.character(from) && length(from) == 1L &&
    !is.null(period_of_day_words(from, day_facts(book)))
  if (alone && is.null(to)) to <- from
  book$shown <- list(
    from = if (!is.null(from)) shown_day(from, "from", "start", book),
    to = if (!is.null(to)) shown_day(to, "to", "end", book), complete = complete
  )
  if (!is.null(book$shown$from) && !is.null(book$shown$to) && book$shown$from > book$shown$to) {
    raise("date", c(
      "No day is left to show.",
      "x" = "{.arg from} is {day_words(book$shown$from)}, {.arg to} is {day_words(book$shown$to)}."
    ))
  }
  book
}

#' @rdname within_dates
#' @export
latest <- function(n, unit, complete = FALSE) {
  n <- check_whole(n, "n", 1L)
  check_flag(complete, "complete")
  structure(list(n = n, unit = rlang::quo_get_expr(rlang::enquo(unit)), complete = complete),
    class = "drystack_latest")
}

latest_unit <- function(latest, book) {
  unit <- period_of_words(latest$unit, book$calendars)
  if (is.null(unit)) {
    said <- rlang::as_label(latest$unit)
    raise("calendar", c(paste0("There is no unit ", quoted(said), "."),
      advise_word(said, period_units, "units")))
  }
  check_unit(unit$unit, book$calendars[[unit$calendar_name]])
  unit
}

shown_day <- function(x, name, edge, book) {
  if (is_period(x) && length(x) == 1L && !is.na(x)) x <- if (edge ==
    "start") start_of(x) else end_of(x)
  said_day(x, name, book, edge)
}

# The first and last day shown, as said: NULL where there is no limit.
shown_limits <- function(book) {
  rule <- book$shown$latest
  if (is.null(rule)) {
    return(list(from = book$shown$from, to = book$shown$to))
  }
  calendar <- book$calendars[[rule$unit$calendar_name]]
  table <- calendar_grid(calendar)[[rule$unit$unit]]
  last <- period_position(book$as_of, rule$unit$unit, calendar)
  if (is.na(last)) {
    raise("date", c(paste0("The as-of date {day_words(book$as_of)} lies outside the ",
      "{calendar$words$long}.")))
  }
  if (rule$complete && table$ends[last] > book$as_of) last <- last - 1L
  first <- max(last - rule$n + 1L, 1L)
  list(from = table$starts[first], to = table$ends[max(last, 1L)])
}
