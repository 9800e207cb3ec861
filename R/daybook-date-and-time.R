# Orders whose date and time of day stand in two columns: days are read off the one, hours off the other.

# `date = c(day, time)`, or the text "day + time": the names of the columns, the second NULL where there
# is but one.
date_and_time <- function(quo, columns) {
  if (rlang::quo_is_missing(quo)) {
    return(list(date = column_word(quo, columns, "date"), time = NULL))
  }
  expr <- rlang::quo_get_expr(quo)
  if (rlang::is_call(expr, c("c", "+"), n = 2L)) {
    words <- vapply(as.list(expr)[-1L], function(part) {
      column_word(rlang::new_quosure(part, rlang::quo_get_env(quo)), columns, "date")
    }, "")
    return(list(date = words[1L], time = words[2L]))
  }
  text <- if (is.character(expr) || rlang::is_call(expr, c("$", "[["))) rlang::eval_tidy(quo)
  parts <- if (rlang::is_string(text) && !text %in% columns) trimws(strsplit(text, "+", fixed = TRUE)[[1L]])
  if (length(parts) == 2L) {
    for (part in parts) check_column(part, columns)
    return(list(date = parts[1L], time = parts[2L]))
  }
  list(date = column_word(quo, columns, "date"), time = NULL)
}

# A daybook whose hours are read off another column than its days.
with_time_of_day <- function(book, time) {
  if (is.null(time)) {
    return(book)
  }
  tree <- call_node("hour_of", list(column_node(time, book$columns[[time]])))
  column_kind(engine_of(book), tree)
  book$hours <- new_meaning(engine_of(book), list(kind = "worked_out", tree = tree))
  book$made$time <- time
  book
}

# How the date is said again.
date_said_again <- function(book) paste(c(book$date, book$made$time), collapse = " + ")

# The hour of a time of day, 0 to 23: of date-times; of texts such as "13:45", "1.45 pm" or "1345"; of
# numbers, parts of a day below 1 as sheets have them, else hours and minutes such as 1345.
hour_of <- function(x) {
  if (inherits(x, "POSIXct")) {
    return(as.numeric(local_seconds(x) %/% 3600 %% 24))
  }
  x <- as_plain(x)
  if (inherits(x, "difftime")) {
    return(hour_in_day(as.numeric(x, units = "hours")))
  }
  if (is.numeric(x)) {
    return(if (all(x >= 0 & x < 1, na.rm = TRUE)) hour_in_day(24 * x + 1e-9) else hour_and_minute(x))
  }
  text <- trimws(tolower(as.character(x)))
  found <- regmatches(text,
    regexec("^([0-9]{1,2})(?:[:.h]?([0-5][0-9]))?(?:[:.][0-5][0-9](?:[.,][0-9]+)?)? ?(am|pm)?$",
    text, perl = TRUE))
  vapply(found, function(parts) {
    if (length(parts) == 0L) {
      return(NA_real_)
    }
    hour <- as.numeric(parts[2L])
    if (parts[4L] == "") {
      return(hour_in_day(hour))
    }
    if (hour < 1 || hour > 12) NA_real_ else hour %% 12 + 12 * (parts[4L] == "pm")
  }, 0)
}

hour_in_day <- function(hours) ifelse(!is.na(hours) & hours >= 0 & hours < 24, floor(hours), NA_real_)

hour_and_minute <- function(x) {
  ifelse(!is.na(x) & x == floor(x) & x %% 100 < 60, hour_in_day(x %/% 100), NA_real_)
}
