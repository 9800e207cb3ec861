# The periods of a record that stands beside the orders: what a column of their texts holds, or what
# days that are all first or last ones stand for.

# list(unit, calendar, starts) of a column of periods; NULL of one of days.
record_periods <- function(values, column, calendars) {
  if (is_period(values)) {
    return(list(unit = period_unit(values), calendar = period_calendar(values),
      starts = as.integer(vctrs::vec_data(values))))
  }
  texts <- period_texts(values)
  distinct <- unique(texts[!is.na(texts)])
  if (length(distinct) == 0L || !anyNA(iso_days(distinct))) {
    return(NULL)
  }
  found <- labelled_periods(distinct, calendars) %||% written_periods(distinct, calendars)
  if (!is.null(found)) {
    return(c(found[c("unit", "calendar")], list(starts = found$starts[match(texts, distinct)])))
  }
  if (!anyNA(period_days(distinct)) || all(grepl("^[0-9]{4}$", distinct))) {
    raise("record", c(paste0(quoted(column), " holds periods that no calendar of the daybook has."),
      "x" = "Such as {examples_of(distinct)}.",
      ">" = paste0("Give the daybook that calendar too: {.code list(fiscal = ..., civil = ",
        "civil_calendar())}.")))
  }
}

# What may name periods, as texts; NULL of a column that surely holds something else.
period_texts <- function(values) {
  if (is.factor(values)) values <- as.character(values)
  if (!is.character(values) && (!is.numeric(values) || is.object(values))) {
    return(NULL)
  }
  known <- values[!is.na(values)]
  texts <- if (is.character(values)) {
    # A look at a few values spares the reading of millions of days.
    if (anyNA(iso_days(trimws(utils::head(known, 50L))))) trimws(values)
  } else if (are_years(known) || is.numeric(known) && are_month_digits(known)) {
    format(values, scientific = FALSE, trim = TRUE)
  }
  if (!is.null(texts)) replace(texts, is.na(values) | texts == "", NA)
}

are_years <- function(x) is.numeric(x) && !is.object(x) && length(x) > 0L && all(x %in% 1900:2200)

# Periods by their labels in the calendars of the daybook, the coarsest unit that has them all.
labelled_periods <- function(texts, calendars) {
  for (calendar in calendars) {
    grid <- calendar_grid(calendar)
    for (unit in rev(setdiff(names(grid), "day"))) {
      for (style in c("label", "key", "long")) {
        at <- match(tolower(texts), tolower(period_labels(grid[[unit]]$starts, unit,
          calendar, style)))
        if (!anyNA(at)) {
          return(list(unit = unit, calendar = calendar, starts = grid[[unit]]$starts[at]))
        }
      }
    }
  }
}

# Periods as dates columns have them (202607, Jul 2026, Q3 2026), where some calendar has
# just these.
written_periods <- function(texts, calendars) {
  first <- period_days(texts, end = FALSE)
  last <- period_days(texts)
  years <- grepl("^[0-9]{4}$", texts)
  first[years] <- day_of(as.integer(texts[years]), 1L)
  last[years] <- day_of(as.integer(texts[years]) + 1L, 1L) - 1L
  if (anyNA(first)) {
    return(NULL)
  }
  for (calendar in calendars) {
    for (unit in rev(setdiff(names(calendar_grid(calendar)), "day"))) {
      if (identical(as.integer(period_start(first, unit, calendar)), as.integer(first)) &&
        identical(as.integer(period_end(first, unit, calendar)), as.integer(last))) {
        return(list(unit = unit, calendar = calendar, starts = as.integer(first)))
      }
    }
  }
}

# What each line stands for: list(unit, calendar, told), without a unit where it is a day.
record_per <- function(said, taken, book) {
  if (!is.null(said$expr)) {
    period <- period_of_words(said$expr, book$calendars)
    if (is.null(period) && is.symbol(said$expr) && !is.null(said$env)) {
      period <- period_of_words(get0(as.character(said$expr), said$env, mode = "character") %||% "",
        book$calendars)
    }
    if (is.null(period)) raise("argument",
      c("{.arg per} is a unit, such as {.code month} or {.code day}.",
      "x" = paste0("It is ", quoted(code_text(said$expr)), ".")))
    if (period$unit == "day") {
      return(list())
    }
    calendar <- book$calendars[[period$calendar_name]]
    check_unit(period$unit, calendar)
    return(list(unit = period$unit, calendar = calendar))
  }
  if (!is.null(taken$periods)) {
    return(taken$periods[c("unit", "calendar")])
  }
  inferred_per(taken$book, book$calendars)
}

# The days on which a record has lines, each once.
days_of_record <- function(record) {
  days <- as.integer(line_days(engine_of(record)))
  which(tabulate(days - record$first + 1L, record$last - record$first + 1L) > 0L) +
    record$first - 1L
}

# Days that are all the first, or all the last, of months stand for these, or for longer periods; of
# one day alone nothing can be told.
inferred_per <- function(record, calendars) {
  # A few lines mostly tell that it is not so.
  some <- unique(as.integer(utils::head(line_days(engine_of(record)), 1000L)))
  if (is.null(alike_days(some[!is.na(some)], calendars))) {
    return(list())
  }
  days <- days_of_record(record)
  found <- if (length(days) > 1L) alike_days(days, calendars)
  if (is.null(found)) {
    return(list())
  }
  c(found[c("unit", "calendar")], list(told = paste0(quoted(record$date), " holds only ", found$end,
    " days of a ",
    found$unit, ": each line stands for the whole ", found$unit, "; ", option_said("per", "day"),
    " takes them as days")))
}

# The longest period of which some days are all the first, or all the last: list(unit,
# calendar, end).
alike_days <- function(days, calendars) {
  for (calendar in calendars) {
    for (unit in intersect(c("year", "half", "quarter", "month"), names(calendar_grid(calendar)))) {
      starts <- period_start(days, unit, calendar)
      if (anyNA(starts)) next
      if (all(days == starts)) return(list(unit = unit, calendar = calendar, end = "first"))
      if (all(days == period_end(days, unit, calendar)))
        return(list(unit = unit, calendar = calendar,
        end = "last"))
    }
  }
}
