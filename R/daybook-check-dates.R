# Checks of the dates: their span and gaps, lines without one or in the future, late
# entries, months that drop.

find_dates <- function(book, today) {
  new_finding(
    "dates", book$rows - book$undated, paste(day_words(book$first), "to", day_words(book$last)),
    "See that the export covers the days you report on.", book$date, "note"
  )
}

find_gaps <- function(book, today) {
  days <- sort(unique(as.integer(book$days[!is.na(book$days)])))
  between <- diff(days)
  # Of few days the longest gap would be among the usual ones.
  usual <- if (length(between) < 100L) 0.95 else 0.99
  long <- which(between > max(8, 3 * stats::quantile(between, usual, names = FALSE, type = 1L)))
  if (length(between) < 20L || length(long) == 0L) {
    return(NULL)
  }
  from <- utils::head(long, 5L)
  new_finding(
    "gap in dates", length(long), paste(day_words(days[from] + 1L),
      "to", day_words(days[from + 1L] - 1L), collapse = ", "),
    "Ask whether orders of these days are missing from the export.", book$date
  )
}

find_undated <- function(book, today) {
  if (book$undated == 0) {
    return(NULL)
  }
  new_finding(
    "undated lines", book$undated, rows_of(which(is.na(book$days))),
    "No figure includes them: enter their dates.", book$date
  )
}

find_future <- function(book, today) {
  rows <- which(book$days > today)
  if (length(rows) == 0L) {
    return(NULL)
  }
  new_finding(
    "future lines", length(rows), row_examples(rows, format(as_day_date(book$days))),
    "A mistyped year, or orders entered in advance: an as-of date leaves them out.", book$date
  )
}

find_late <- function(book, today) {
  known <- which(!is.na(book$days))
  days <- as.integer(book$days[known])
  late <- known[days < cummax(days)]
  if (length(late) == 0L || length(late) > 0.01 * length(known)) {
    return(NULL)
  }
  new_finding(
    "late entries", length(late), row_examples(late, format(as_day_date(book$days))),
    "Entered after later orders: earlier reports of these periods have changed.", book$date
  )
}

# Whole civil months only.
find_drops <- function(book, today) {
  calendar <- civil_calendar()
  days <- as.integer(book$days[!is.na(book$days)])
  months <- calendar_grid(calendar)$month
  first <- period_position(book$first, "month", calendar)
  lines <- tabulate(period_position(days, "month", calendar) - first + 1L)
  last <- length(lines) - (months$ends[first + length(lines) - 1L] > book$last)
  at <- seq_len(last)
  at <- at[at > 13L]
  drops <- at[lines[at] < 0.5 * lines[at - 1L] & lines[at] < 0.5 * lines[at - 12L]]
  if (length(drops) == 0L) {
    return(NULL)
  }
  labels <- period_labels(months$starts[first + drops - 1L], "month", calendar)
  new_finding(
    "drop in lines", length(drops), paste0(
      labels, ": ", format_count(lines[drops]), " lines after ", format_count(lines[drops - 1L])
    )[seq_len(min(5L, length(drops)))] |>
      paste(collapse = ", "),
    "Ask whether a part of the orders is missing from the export.", book$date
  )
}
