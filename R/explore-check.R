# The check of the orders: how each column reads, what was found, and what can be changed. Of a new
# file it is made once the first table stands, and offered.

said_check <- function(app, window, said) {
  now <- window$state$now
  base <- base_of(app, now)
  tell_window(window, "check", list(html = check_html(base),
    choices = if (!is.null(opened_in(app, now$report)$path)) reading_choices(now$reading,
      base$book$made$names, opened_in(app, now$report)$path)))
}

# How much there is to know of the orders before they are trusted.
said_offer <- function(app, window, said) {
  base <- base_of(app, window$state$now)
  tell_window(window, "offered", list(n = nrow(findings_of(base))))
}

# Worked out once for a daybook.
findings_of <- function(base) {
  remembered_in(base$made, "findings", function() {
    as.data.frame(check(base$book))[c("check", "column", "count", "examples", "advice")]
  })
}

check_html <- function(base) {
  book <- base$book
  facts <- column_facts(book)
  columns <- data.frame(Column = facts$name, "Reads as" = ifelse(facts$name ==
    book$date, "the date",
    facts$kind), "Begins with" = first_values_shown(book), check.names = FALSE)
  found <- findings_of(base)
  names(found) <- sentence_case(names(found))
  html <- function(title, data) html_table(data_sheet(title, "", character(), data))
  paste(c(
    "<h2>What was found</h2>", html("Findings", found),
    "<h2>How the columns read</h2>", html("Columns", columns),
    if (length(book$made$told) > 0L) c("<h2>What reading did</h2>",
      paste0("<p>", html_text(shown_text(book$made$told)), "</p>"))
  ), collapse = "")
}

first_values_shown <- function(book) {
  engine <- engine_of(book)
  vapply(names(book$columns), function(name) {
    some <- utils::head(column_kind(engine, column_node(name, book$columns[[name]])), 3L)
    paste(as.character(some), collapse = ", ")
  }, "")
}

# What may be chosen or typed, and what is; columns: those that may be the date.
# What the form of the file does not have is not offered.
reading_choices <- function(reading, columns, path) {
  choice <- function(key, says, values) {
    list(key = key, says = says, value = reading[[key]] %||% "",
      values = lapply(names(values), function(words) list(words = words, value = values[[words]])))
  }
  typed <- function(key, says, hint) {
    said <- reading[[key]]
    pairs <- if (!is.null(names(said))) paste0(names(said), "=", unlist(said)) else unlist(said)
    list(key = key, says = says, value = paste(pairs, collapse = ","), hint = hint)
  }
  one_of <- function(words) stats::setNames(words, words)
  choices <- list(
    choice("date", "The date is", c("as found" = "", one_of(columns))),
    choice("encoding", "Encoding", c("as found" = "", one_of(known_encodings))),
    choice("date_order", "Dates", c("as the column settles it" = "",
      stats::setNames(names(date_order_words), date_order_words))),
    choice("decimal", "Decimal mark", c("as found" = "", "point" = ".", "comma" = ",")),
    choice("thousands", "Thousands", c("as found" = "", "comma" = ",", "point" = ".", "blank" = " ",
      "apostrophe" = "'")),
    choice("separator", "Between columns", c("as found" = "", "comma" = ",",
      "semicolon" = ";", "tab" = "\t", "bar" = "|")),
    choice("uneven", "Lines with too many or too few cells", c("refused" = "",
      "filled with empty ones" = "fill",
      "left out" = "drop")),
    choice("totals_lines", "Totals lines", c("left out where proven" = "", "kept" = "keep")),
    typed("header", "Header", "none, first, or names"),
    typed("skip", "Lines above the header", "a number"),
    typed("drop_lines", "Lines to leave out", "a pattern: ^#"), typed("missing", "Means not known",
      "tbc,n/a"),
    typed("types", "Columns are", "order_id=text"),
    typed("rename", "Call columns", "net=Net sales"),
    typed("widths", "Widths of fields", "10,12,8"), typed("quote", "Quote", "one character"),
    typed("zone", "Time zone", "Europe/London"), typed("sheet", "Worksheet", "by name or number"),
    typed("inside", "File of the archive", "its name")
  )
  idle <- setdiff(fields_of_forms, fields_that_apply(forms_of_files(files_meant(path))))
  Filter(function(one) !one$key %in% idle, choices)
}

# A new file is checked first, unless that would take long.
checks_first <- function(app, said) {
  app$opened$check && !nzchar(said$address %||% "") &&
    base_of(app, app$opened$state$now)$book$rows <= most_checked_first
}

most_checked_first <- 1e6
