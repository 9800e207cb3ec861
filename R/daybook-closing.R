#' Closing rules
#'
#' Late orders still come in after a period has ended. A closing rule says when a period
#' counts as closed; `closed_period()` gives the last closed one, or says in words why
#' the one asked for is not.
#'
#' @param book A daybook.
#' @param after A period is closed so many days after its last day.
#' @param on Instead: it is closed on this day of the following civil month, from 1 to 28.
#' @param unit `month`, `quarter` and so on, bare or as text; `civil$month` for a
#'   calendar that is not the first.
#' @param period One period that must be closed: a period, or text such as `"2026-08"`.
#'   Default: the last closed one.
#' @return `closing()`: a daybook with this rule. `closed_period()`: one period.
#'   Closed means on the as-of date.
#' @section Errors: `drystack_error_argument` for a daybook without a rule or for two
#'   rules; `drystack_error_closing` when the period is not closed yet (with the day it will
#'   be), lies before the first order or after the last one, or when none is closed. The
#'   message can be shown as it is.
#' @seealso [covered_to()] says how far the orders are whole; `expect: {closed: month}` of a
#'   [standing report][build_report].
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on) |> closing(after = 14)
#' closed_period(book, month)
#' try(closed_period(book, month, "2026-09"))
#' @export
closing <- function(book, after = NULL, on = NULL) {
  own_setting()
  check_daybook(book)
  if (is.null(after) == is.null(on)) {
    raise(
      "argument", c(
        "A closing rule is either {.arg after} or {.arg on}.",
        ">" = "Write {.code closing(book, after = 14)}."
      )
    )
  }
  if (!is.null(after)) after <- check_whole(after, "after", 0L)
  if (!is.null(on)) on <- check_whole(on, "on", 1L, 28L)
  book$closing <- list(after = after, on = on)
  book
}

#' @rdname closing
#' @export
closed_period <- function(book, unit, period = NULL) {
  own_setting()
  check_daybook(book)
  if (is.null(book$closing)) {
    raise("argument", c("The daybook has no closing rule.",
      ">" = "Give it one: {.code closing(book, after = 14)}."))
  }
  unit <- latest_unit(list(unit = rlang::quo_get_expr(rlang::enquo(unit))), book)
  calendar <- book$calendars[[unit$calendar_name]]
  if (is.null(period)) {
    return(last_closed(book, unit$unit, calendar))
  }
  if (!is_period(period)) period <- as_period(period, unit$unit, calendar)
  if (length(period) != 1L || is.na(period)) raise("argument", "{.arg period} must be one period.")
  check_closed(period, book)
  period
}

# The day on which a period that ends on `end` is closed.
closing_day <- function(end, rule) {
  if (!is.null(rule$after)) {
    return(end + rule$after)
  }
  parts <- civil_parts(end)
  day_of(parts$year, parts$month + 1L, rule$on)
}

last_closed <- function(book, unit, calendar) {
  table <- calendar_grid(calendar)[[unit]]
  ended <- closing_day(table$ends, book$closing) <= book$as_of & table$ends >= book$first
  reached <- table$ends <= max(book$last, book$covered)
  closed <- which(ended & reached)
  if (any(ended & !reached)) tell_not_reached(table, max(which(ended)), book, unit, calendar)
  if (length(closed) == 0L) {
    raise("closing", c(
      "No {unit} is closed yet on {day_words(book$as_of)}.",
      "i" = "Orders begin on {day_words(book$first)}; {closing_words(book$closing)}."
    ))
  }
  new_period(table$starts[closed[length(closed)]], unit, calendar)
}

# The calendar has closed a period that the orders do not reach.
tell_not_reached <- function(table, at, book, unit, calendar) {
  name <- format(new_period(table$starts[at], unit, calendar), "long")
  rlang::inform(c(
    paste0(name, " has closed, but the orders end on ",
      day_words(max(book$last, book$covered)), "."),
    i = "covered_to() says that they are whole to a later day."
  ), class = "drystack_message_closing")
}

check_closed <- function(period, book) {
  start <- as.integer(start_of(period))
  end <- as.integer(end_of(period))
  name <- format(period, "long")
  if (end < book$first) {
    raise("closing", c("{name} lies before the first order.",
      "i" = "Orders begin on {day_words(book$first)}."))
  }
  if (start > book$last) {
    raise("closing", c("{name} lies after the last order.",
      "i" = "Orders end on {day_words(book$last)}."))
  }
  if (end > max(book$last, book$covered) && closing_day(end, book$closing) <= book$as_of) {
    raise("closing", c(
      "{name} is not covered: the orders end on {day_words(max(book$last, book$covered))}.",
      ">" = "Say {.code covered_to()} where they are complete to a later day."
    ))
  }
  closes <- closing_day(end, book$closing)
  if (closes > book$as_of) {
    raise("closing", c(
      "{name} is not closed yet on {day_words(book$as_of)}.",
      "i" = "It closes on {day_words(closes)}: {closing_words(book$closing)}."
    ))
  }
}

closing_words <- function(rule) {
  if (!is.null(rule$after)) {
    return(paste0("a period closes ", rule$after, if (rule$after == 1L) " day" else " days",
      " after its end"))
  }
  paste0("a period closes on day ", rule$on, " of the next month")
}

# That the period of the as-of date is still open on some day; NULL where it is not.
open_note <- function(book, today) {
  if (is.null(book$closing)) {
    return(NULL)
  }
  calendar <- book$calendars[[1L]]
  unit <- if ("month" %in% calendar$units) "month" else calendar$anchor
  closes <- closing_day(period_end(book$as_of, unit, calendar), book$closing)
  if (isTRUE(closes > as.integer(today))) paste0(
    period_labels(period_start(book$as_of, unit, calendar), unit, calendar),
    " is open: late orders may still come in; it closes on ", day_words(closes), ".")
}
