# The options by which every command makes its daybook.
daybook_options <- function() {
  list(
    option("orders", "FILE", "the order lines: delimited text with a header", required = TRUE),
    option("date", "COLUMN", "the column that holds the date", required = TRUE),
    option("date-order", "dmy|mdy|ymd", "how to read dates that are not ISO (2026-08-31)"),
    option("calendar", "CALENDAR", "civil (default) or fiscal:MONTH; the first counts", many = TRUE),
    option("derive", "'X = EXPR'", "a new column worked out from others", many = TRUE),
    option("only", "'CONDITION'", "limit the orders", many = TRUE),
    option("as-of", "DATE", "see orders up to this day (default: the last order)")
  )
}

daybook_from <- function(values) {
  book <- daybook(
    read_orders(values$orders), values$date,
    calendars = calendars_from(values$calendar), date_order = values[["date-order"]]
  )
  book <- add_columns(book, read_expressions(values$derive, "derive"))
  book <- add_conditions(book, read_expressions(values$only, "only"))
  if (is.null(values[["as-of"]])) book else as_of(book, values[["as-of"]])
}

# "fiscal:July", "fiscal:July:start" or "civil"; the kind is the calendar's name.
calendars_from <- function(words) {
  if (is.null(words)) {
    return(civil_calendar())
  }
  calendars <- lapply(words, calendar_from)
  named_calendars(stats::setNames(calendars, vapply(calendars, `[[`, "", "kind")))
}

calendar_from <- function(word) {
  parts <- strsplit(word, ":", fixed = TRUE)[[1L]]
  if (identical(parts, "civil")) {
    return(civil_calendar())
  }
  if (!identical(parts[1L], "fiscal") || length(parts) < 2L || length(parts) > 3L) {
    raise("calendar", c(
      paste0("--calendar ", quoted(word), " names no calendar."),
      ">" = "Say {.val civil}, or {.val fiscal:July} with the first month.",
      ">" = "{.val fiscal:July:start} names years by their start."
    ))
  }
  month <- if (grepl("^[0-9]+$", parts[2L])) as.numeric(parts[2L]) else parts[2L]
  fiscal_calendar(month, named_by = if (length(parts) == 3L) parts[3L] else "end")
}
