# Days as people say them, the same on every surface: "today", "yesterday", "3 weeks ago", "last
# order", "last month", "end of last quarter", "first day of this year", "last closed month". They
# go by the day on which they are worked out and by the first calendar, and become dates at once.

# What they go by: today; last: that of the last order; calendar; closed: gives the last closed
# period of a unit.
new_day_facts <- function(today, last, calendar, closed) {
  list(today = as.integer(today), last = as.integer(last), calendar = calendar, closed = closed)
}

# The facts of a daybook. Reports are built on a day of their own, all else today.
day_facts <- function(book, today = book$today %||% Sys.Date()) {
  new_day_facts(today, book$last, book$calendars[[1L]], function(unit) {
    if (is.null(book$closing)) raise("argument", c("The daybook has no closing rule.",
      ">" = "Give it one: {.code closing(book, after = 14)}."))
    book$as_of <- as.integer(today)
    last_closed(book, unit, book$calendars[[1L]])
  })
}

day_word_examples <- c("today", "yesterday", "last order", "last month end", "end of last quarter",
  "start of this year", "2 weeks ago", "last closed month")

units_said <- paste0("(", paste(period_units, collapse = "|"), ")")

# c(first, last) of what words say, or NULL where they say no day. A day is its own first and last.
days_of_words <- function(text, facts) {
  text <- gsub("\\s+", " ", trimws(tolower(text)))
  both <- function(day) rep(as.integer(day), 2L)
  plain <- switch(text, today = facts$today, yesterday = facts$today - 1L,
    "last order" = facts$last)
  if (!is.null(plain)) {
    return(both(plain))
  }
  ago <- words_matched("^([0-9]{1,4}) (day|week|month|quarter|year)s? ago$", text)
  if (!is.null(ago)) {
    return(both(day_ago(facts$today, as.integer(ago[1L]), ago[2L])))
  }
  end <- words_matched(paste0("^last ", units_said, " end$"), text)
  if (!is.null(end)) text <- paste("end of last", end)
  edge <- words_matched("^(?:the )?(start|end|first day|last day) of (?:the )?(.*)$", text)
  period <- period_of_day_words(if (is.null(edge)) text else edge[2L], facts)
  if (is.null(period)) {
    return(NULL)
  }
  days <- c(as.integer(start_of(period)), as.integer(end_of(period)))
  if (is.null(edge)) days else both(days[if (edge[1L] %in% c("start", "first day")) 1L else 2L])
}

# "last month", "this quarter", "last closed month": a period, or NULL.
period_of_day_words <- function(text, facts) {
  parts <- words_matched(paste0("^(this|last|last closed) ", units_said, "$"),
    trimws(tolower(text)))
  if (is.null(parts)) {
    return(NULL)
  }
  unit <- parts[2L]
  check_unit(unit, facts$calendar)
  if (parts[1L] == "last closed") {
    return(facts$closed(unit))
  }
  start <- period_start(facts$today, unit, facts$calendar)
  if (parts[1L] == "last") start <- period_start(start - 1L, unit, facts$calendar)
  new_period(start, unit, facts$calendar)
}

# The parts of a pattern that a text fits, NULL where it does not.
words_matched <- function(pattern, text) {
  found <- regmatches(text, regexec(pattern, text, perl = TRUE))[[1L]]
  if (length(found) > 0L) found[-1L]
}

# The same day so many units before; of a month that is shorter its last day.
day_ago <- function(day, n, unit) {
  if (unit %in% c("day", "week")) {
    return(day - n * c(day = 1L, week = 7L)[[unit]])
  }
  civil <- civil_parts(day)
  month <- civil$year * 12L + civil$month - 1L - n * c(month = 1L, quarter = 3L, year = 12L)[[unit]]
  first <- day_of(month %/% 12L, month %% 12L + 1L)
  last <- day_of((month + 1L) %/% 12L, (month + 1L) %% 12L + 1L) - 1L
  min(first + civil$day - 1L, last)
}

# One day that is a date or is said in words: of a period its first or its last.
said_day <- function(x, name, book, edge = c("end", "start")) {
  days <- if (is.character(x) && length(x) == 1L && !is.na(x) && is.na(iso_days(x)))
    days_of_words(x, day_facts(book))
  if (is.null(days)) {
    return(check_day(x, name))
  }
  check_years(days, name)
  days[if (edge[1L] == "start") 1L else 2L]
}

# Whether a text says another day on other days.
moves_by_day <- function(text) {
  facts <- new_day_facts(0L, 0L, civil_calendar(),
    function(unit) new_period(0L, unit, civil_calendar()))
  # Words that need a closing rule say a day all the same.
  day_said <- function(one) {
    !is.null(rlang::try_fetch(days_of_words(one, facts), drystack_error = function(e) 1))
  }
  words <- vapply(text, day_said, NA)
  any(words & tolower(trimws(text)) != "last order")
}
