# The dates shown, as texts.

shown_from <- function(book, values) {
  complete <- !is.null(values$complete)
  if (is.null(values$latest)) {
    if (is.null(c(values$from, values$to)) && !complete) {
      return(book)
    }
    return(within_dates(book, values$from, values$to, complete))
  }
  if (!is.null(c(values$from, values$to))) {
    raise("usage", "The dates shown are either the latest periods or from and to a day, not both.")
  }
  words <- strsplit(trimws(values$latest), "[ ,]+")[[1L]]
  n <- suppressWarnings(as.numeric(words[1L]))
  if (length(words) != 2L || is.na(n)) {
    raise("argument", c(
      paste0(option_prefix("latest"), quoted(values$latest), " is not a number of periods."),
      ">" = "Write {.val 6 month}."
    ))
  }
  within_dates(book, latest(n, !!words[2L], complete))
}

number_of_option <- function(text, name) {
  number <- suppressWarnings(as.numeric(text))
  if (is.na(number)) {
    raise("argument", c(paste0(option_prefix(name), quoted(text), " is not a number.")))
  }
  number
}

saved_shown <- function(book) {
  shown <- book$shown
  if (is.null(shown)) {
    return(NULL)
  }
  if (!is.null(shown$latest)) {
    unit <- shown$latest$unit
    plain <- unit$calendar_name == names(book$calendars)[1L]
    return(
      list(
        latest = paste(shown$latest$n, if (plain) unit$unit else paste0(unit$calendar_name,
          "$", unit$unit)),
        complete = if (isTRUE(shown$complete) || shown$latest$complete) TRUE
      ) |> Filter(f = Negate(is.null))
    )
  }
  day <- function(d) if (!is.null(d)) format(as_day_date(d))
  Filter(Negate(is.null), list(from = day(shown$from), to = day(shown$to),
    complete = if (isTRUE(shown$complete)) TRUE))
}
