# The last periods of figures whose measure asks for a history: a rollup of the same members by that
# period, met by the members of each row.

# By measure list(unit, figures: for each row its last periods).
rollup_histories <- function(ask, book, rows) {
  wanted <- Filter(function(measure) !is.null(measure$history), ask$measures)
  if (length(wanted) == 0L) {
    return(NULL)
  }
  if (length(Filter(is_period_axis, ask$axes)) > 0L) {
    raise("argument", c("A history stands in a rollup without periods.",
      ">" = "Leave out {.code history}, or the period the table is asked by."))
  }
  lapply(wanted, function(measure) measure_history(measure, ask, book, rows))
}

measure_history <- function(measure, ask, book, rows) {
  said <- measure$history$expr
  period <- read_axes(list(measure$history), book)
  if (!is_period_axis(period[[1L]])) {
    raise("argument", paste0("{.code history} is a unit such as {.code month}, not {.val ",
      "{rlang::as_label(said)}}."))
  }
  book <- within_dates(book, latest(history_length, !!said))
  past <- answer(new_ask("rollup", c(period, ask$axes),
    stats::setNames(list(measure), measure$name),
    totals = only_rows("all", "none")), book)
  past <- past$rows
  starts <- sort(unique(vctrs::vec_data(past$axes[[1L]])))
  starts <- starts[!is.na(starts)]
  # Members of any text, and none where a total releases the axis.
  key <- function(axes) {
    do.call(paste, c(list(""), lapply(unname(axes), function(values) {
      values <- as.character(values)
      ifelse(is.na(values), "-", paste0(nchar(values, "bytes"), ":", values))
    }), sep = "\r"))
  }
  of_row <- key(rows$axes)
  of_row[rows$role == "others"] <- NA
  place <- match(paste(key(past$axes[-1L]), vctrs::vec_data(past$axes[[1L]])),
    outer(of_row, starts, paste))
  found <- matrix(NA_real_, length(of_row), length(starts))
  found[place[!is.na(place)]] <- as.numeric(past$figures[[1L]])[!is.na(place)]
  list(unit = period[[1L]]$unit, figures = unname(split(found, row(found))))
}

# The figures at the end of each of the last periods of a unit.
history_length <- 13L
