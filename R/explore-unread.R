# Orders that cannot be opened as they are: the check page asks how they are read, and says what
# each way would mean.

# What the window is told: the error, the ways that lead to a table, and all that can be said.
ask_how_to_read <- function(app, window, said, error) {
  now <- window$state$now
  window$seen <- NULL
  ways <- ways_to_read(app, now, error)
  tell_window(window, "unread", list(
    n = said$n, html = error_html(error, advice = length(ways) == 0L), ways = ways,
    choices = reading_choices(now$reading, columns_unread(app, now),
      opened_in(app, now$report)$path),
    undo = length(window$state$past) > 0L, redo = length(window$state$future) > 0L
  ))
}

# Whether the page can ask: some way leads to a table, or the columns are known and one may
# be the date.
leads_on <- function(error, opened) {
  if (inherits(error, "drystack_error_column")) {
    return(TRUE)
  }
  if (!file.exists(opened$path) || file.size(opened$path) > most_tried) {
    return(FALSE)
  }
  !is.null(Find(function(way) !is.null(tried_way(way, opened, list())), possible_ways(error)))
}

# Bytes of a file that is read once for each way.
most_tried <- 2^25

# Each list(words, means, reading: as an act says it).
ways_to_read <- function(app, now, error) {
  opened <- opened_in(app, now$report)
  if (file.size(opened$path) > most_tried) {
    return(list())
  }
  remembered_in(app$bases, rlang::hash(list("ways", now$reading)), function() {
    ways <- lapply(possible_ways(error), function(way) {
      tried <- tried_way(way, opened, now$reading)
      if (!is.null(tried)) tried$means <- paste0(read_by_order(error$unsettled, way), tried$means)
      tried
    })
    unname(Filter(Negate(is.null), ways))
  })
}

# Ways that may help, by what went wrong: list(words, key, value).
possible_ways <- function(error) {
  ways <- function(key, words) {
    Map(function(words, value) list(words = words, key = key, value = value),
      unname(words), names(words))
  }
  texts <- Filter(function(text) !grepl(",", text, fixed = TRUE), error$no_dates)
  c(
    ways("date_order", date_order_words), ways("header", c(none = "columns have no names",
      first = "the first line names the columns")),
    ways("uneven", c(drop = "lines with too many or too few cells are left out",
      fill = "missing cells are empty")),
    ways("decimal", c("." = "a point is the decimal mark", "," = "a comma is the decimal mark")),
    if (length(texts) > 0L) list(list(words = paste(words_of(quoted(texts)),
      if (length(texts) > 1L) "mean no date"
      else "means no date"), key = "missing",
      value = paste(texts, collapse = ","))),
    ways("inside", stats::setNames(paste("the file", quoted(error$inside),
      recycle0 = TRUE), error$inside))
  )
}

date_order_words <- c(dmy = "day, month, year", mdy = "month, day, year", ymd = "year, month, day",
  serial = "day numbers of spreadsheets", serial1904 = "day numbers from 1904",
  epoch = "seconds since 1970", period_start = "periods by their first day",
  period_end = "periods by their last day")

# NULL where it does not lead to a table.
tried_way <- function(way, opened, reading) {
  reading[[way$key]] <- if (way$key == "missing") c(reading$missing,
    words_by_comma(way$value)) else way$value
  book <- rlang::try_fetch(opened$open(reading), drystack_error = function(e) NULL)
  if (!is.null(book)) list(words = sentence_case(way$words), means = lines_by_year(book),
    reading = lapply(reading, function(value) paste(unlist(value), collapse = ",")))
}

# "300 lines: 120 in 2025, 180 in 2026; 2 without a date"
lines_by_year <- function(book) {
  days <- line_days(engine_of(book))
  counts <- table(format(as_day_date(days[!is.na(days)]), "%Y"))
  told <- paste(if (length(counts) == 1L) "all" else format_figures(as.numeric(counts)),
    "in", names(counts))
  if (length(told) > most_years_told) told <- c(utils::head(told, most_years_told %/% 2L), "...",
    utils::tail(told, most_years_told %/% 2L))
  none <- sum(is.na(days))
  paste0(counted_lines(book$rows), ": ", paste(told, collapse = ", "),
    if (none > 0L) paste0("; ", format_figures(none), " without a date"))
}

most_years_told <- 6L

# What a date that can be read otherwise would be.
read_by_order <- function(text, way) {
  if (!is.null(text) && way$key == "date_order" && way$value %in% c("dmy", "mdy", "ymd")) {
    paste0(encodeString(text, quote = "\""), " is ", day_words(ordered_days(text, way$value)), ". ")
  }
}

# The columns, where they can be told although the orders cannot be opened.
columns_unread <- function(app, now) {
  looked <- rlang::try_fetch(opened_in(app, now$report)$look(now$reading),
    drystack_error = function(e) NULL)
  looked$column
}
