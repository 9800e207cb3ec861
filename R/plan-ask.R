# The ask: axes, measures and totals; everything about a request but the orders.

new_ask <- function(axes, measures, totals) {
  list(axes = axes, measures = measures, totals = totals)
}

# An axis is a dimension (a column) or a period (a unit of a calendar).
dimension_axis <- function(column) list(kind = "dimension", name = column, label = column, column = column)

period_axis <- function(unit, calendar_name, calendar, plain) {
  name <- if (plain) unit else paste(calendar_name, unit, sep = "_")
  list(kind = "period", name = name, label = name, unit = unit, calendar = calendar)
}

is_period_axis <- function(axis) axis$kind == "period"

# Reads `by = c(region, month)`: bare names, strings, `civil$month`, or a variable that holds strings.
read_axes <- function(said, book, env) {
  said <- if (rlang::is_call(said, "c")) as.list(said)[-1L] else list(said)
  said <- said[!vapply(said, is.null, logical(1L))]
  axes <- unlist(lapply(said, read_axis, book = book, env = env), recursive = FALSE)
  names <- vapply(axes, `[[`, "", "name")
  if (anyDuplicated(names) > 0L) {
    raise("argument", c(
      "The table is asked by the same thing twice.",
      "x" = "{examples_of(unique(names[duplicated(names)]))} stands more than once in {.arg by}."
    ))
  }
  stats::setNames(axes, names)
}

read_axis <- function(said, book, env) {
  period <- period_of_words(said, book$calendars)
  if (!is.null(period)) {
    return(list(axis_of_period(period, book)))
  }
  if (is.character(said)) {
    check_column(said, c(names(book$columns), period_units))
    return(list(dimension_axis(said)))
  }
  name <- if (rlang::is_symbol(said)) rlang::as_string(said)
  if (!is.null(name) && name %in% names(book$columns)) {
    return(list(dimension_axis(name)))
  }
  value <- if (!is.null(name)) get0(name, envir = env, mode = "character")
  if (is.null(value)) {
    raise("column", c(
      paste0("There is no column or period ", quoted(rlang::as_label(said)), "."),
      advise_word(rlang::as_label(said), c(names(book$columns), period_units), "columns and periods")
    ))
  }
  unlist(lapply(value, read_axis, book = book, env = env), recursive = FALSE)
}

axis_of_period <- function(period, book) {
  calendar <- book$calendars[[period$calendar_name]]
  check_unit(period$unit, calendar)
  plain <- period$calendar_name == names(book$calendars)[1L]
  period_axis(period$unit, period$calendar_name, calendar, plain)
}
