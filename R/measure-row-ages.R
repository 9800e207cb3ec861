# periods_between(first_on, ordered_on, month), in the row language: how many months, or other
# periods of a calendar, lie between the periods of two dates: 0 within the same one.

parse_periods_between <- function(fn, said, vocabulary, depth) {
  given <- placed_arguments(fn, said, c("from", "to", "unit"))
  if (length(given) != 3L) {
    raise("expression", c("{.fn periods_between} takes two dates and a period.",
      ">" = "For example {.code periods_between(first_on, ordered_on, month)}."))
  }
  period <- period_option(given[[3L]], NULL, vocabulary, fn)
  dates <- lapply(given[1:2], parse_row, vocabulary = vocabulary, depth = depth + 1L)
  place <- function(date) {
    node("call", fn = "period_place", args = list(date), constants = period[c("unit", "calendar")],
      text = arguments_text(fn, tree_text(date)))
  }
  tree <- call_node("-", list(place(dates[[2L]]), place(dates[[1L]])))
  tree$text <- arguments_text(fn, c(tree_text(dates[[1L]]), tree_text(dates[[2L]]),
    code_text(given[[3L]])))
  tree$words <- paste0(unit_plural(period$unit), " from ", row_in_words(dates[[1L]]), " to ",
    row_in_words(dates[[2L]]))
  tree$age <- list(from = dates[[1L]], to = dates[[2L]], unit = period$unit,
    calendar = period$calendar)
  tree
}

# The place of the period of each day among all those of its calendar.
places_of_periods <- function(x, unit, calendar) {
  days <- as_dates(x, "periods_between")
  if (inherits(days, "POSIXct")) days <- as_day_date(local_days(days))
  if (!inherits(days, "Date") && !all(is.na(days))) {
    raise("expression", c("{.fn periods_between} takes dates.",
      "x" = "This is {type_words(days)}."))
  }
  as.numeric(period_position(floor(as.numeric(days)), unit, calendar))
}
