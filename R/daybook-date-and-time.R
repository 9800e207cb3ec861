# Orders whose date and time of day stand in two columns: days are read off the one, hours
# off the other.

# `date = c(day, time)`, or the text "day + time": the names of the columns, the second NULL where
# there is but one.
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
  parts <- if (rlang::is_string(text) && !text %in% columns)
    trimws(strsplit(text, "+", fixed = TRUE)[[1L]])
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
