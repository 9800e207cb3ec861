# How orders are read from a file: what the user said of it. What is not said is found.

# encoding, separator, quote, skip: of delimited text; header: "none", "first" or the
# names of columns;
# drop_lines: patterns of lines that are none; uneven: "fill" or "drop" records of another
# number of cells;
# widths: of fields; sheet: of a workbook; inside: the file in an archive; decimal, thousands: the
# marks in amounts;
# missing: texts that mean nothing is known; totals_lines: "proven" or "keep"; rename, keep, types:
# of columns; date_order, zone: of dates and date-times in text
new_reading <- function(encoding = NULL, separator = NULL, quote = NULL, skip = NULL,
  decimal = NULL,
  thousands = NULL, missing = NULL, totals_lines = "proven", rename = NULL,
  keep = NULL, types = NULL,
  date_order = NULL, zone = NULL, header = NULL, drop_lines = NULL, uneven = NULL, widths = NULL,
  sheet = NULL, inside = NULL) {
  list(
    encoding = encoding, separator = separator, quote = quote, skip = skip, decimal = decimal,
    thousands = thousands, missing = missing, totals_lines = totals_lines,
    rename = rename, keep = keep,
    types = types, date_order = date_order, zone = zone, header = header, drop_lines = drop_lines,
    uneven = uneven, widths = widths, sheet = sheet, inside = inside
  )
}

decimal_marks <- c(".", ",")

totals_lines_words <- c("proven", "keep")

uneven_words <- c("fill", "drop")

column_types <- c("text", "amount", "date")

# Checked at the door of every surface.
checked_reading <- function(...) {
  reading <- new_reading(...)
  if (!is.null(reading$encoding)) reading$encoding <- known_encoding(reading$encoding)
  if (!is.null(reading$separator)) reading$separator <- one_character(
    reading$separator, "separator")
  if (!is.null(reading$quote)) reading$quote <- one_character(reading$quote, "quote")
  if (!is.null(reading$skip)) reading$skip <- check_whole(reading$skip, "skip", 0L, 10000L)
  if (!is.null(reading$decimal)) check_choice(reading$decimal, decimal_marks, "decimal")
  if (!is.null(reading$thousands)) check_choice(reading$thousands,
    names(thousands_marks), "thousands")
  check_choice(reading$totals_lines, totals_lines_words, "totals_lines")
  if (!is.null(reading$date_order)) check_choice(reading$date_order, date_orders, "date_order")
  if (!is.null(reading$zone) && !reading$zone %in% OlsonNames()) {
    raise("argument", c(
      paste0("There is no time zone ", quoted(reading$zone), "."),
      "x" = paste0(argument_said("zone"), " is not one."),
      ">" = advise_word(reading$zone, OlsonNames(), "zones")
    ))
  }
  if (!is.null(reading$uneven)) check_choice(reading$uneven, uneven_words, "uneven")
  if (!is.null(reading$header)) check_texts_given(reading$header, "header")
  if (!is.null(reading$drop_lines)) check_texts_given(reading$drop_lines, "drop_lines")
  if (!is.null(reading$widths)) reading$widths <- checked_widths(reading$widths)
  if (!is.null(reading$sheet)) reading$sheet <- as.character(reading$sheet)
  if (!is.null(reading$inside)) check_text(reading$inside, "inside")
  for (part in c("rename", "types")) check_pairs(reading[[part]], part)
  if (!is.null(reading$types)) {
    for (type in reading$types) check_choice(type, column_types, "types")
  }
  reading
}

check_texts_given <- function(x, name) {
  if (!is.character(x) || length(x) == 0L || anyNA(x) || !all(nzchar(x))) {
    raise("argument", c(paste0(argument_said(name), " must be text."),
      "x" = "It is {type_words(x)}."))
  }
}

# As numbers, or texts of them as options have them.
checked_widths <- function(x) {
  widths <- suppressWarnings(as.integer(x))
  if (length(widths) < 2L || anyNA(widths) || any(widths < 1L)) {
    raise("argument", c(paste0(argument_said("widths"),
      " must be the width of each field, in characters."),
      ">" = paste0("For example ", braces_kept(option_said("widths", "6,10,16,9")), ".")))
  }
  widths
}

# The whole command that reads a file, with what was said and more.
reading_command <- function(path, reading, ...) {
  said <- utils::modifyList(Filter(Negate(is.null), reading), list(...))
  if (identical(said$totals_lines, "proven")) said$totals_lines <- NULL
  if (surface$name == "R") {
    return(paste0("read_orders(", encodeString(path, quote = "\""), ", ", paste(vapply(names(said),
      function(name) {
        paste(name, "=", paste(deparse(said[[name]]), collapse = " "))
      }, ""), collapse = ", "), ")"))
  }
  if (surface$name == "shell") {
    return(paste(c("drystack look --orders", shQuote(path, "sh"), options_of_reading(said)),
      collapse = " "))
  }
  given <- list(...)
  paste(vapply(names(given), function(name) option_said(name, given[[name]]), ""), collapse = ", ")
}

options_of_reading <- function(said) {
  unlist(Map(function(values, name) {
    values <- as.character(if (is.null(names(values))) values else paste0(
      names(values), "=", values))
    if (name %in% c("header", "widths")) values <- paste(values, collapse = ",")
    paste0("--", gsub("_", "-", name, fixed = TRUE), " ", shQuote(values, "sh"))
  }, said, names(said)), use.names = FALSE)
}

check_pairs <- function(x, name) {
  if (is.null(x)) {
    return(invisible())
  }
  named <- is.character(x) && length(x) > 0L && !is.null(names(x)) &&
    all(nzchar(names(x))) && !anyNA(x)
  if (!named) {
    raise("argument", c(paste0(argument_said(name), " must be text with names."),
      ">" = paste0("For example ", name, " = c(",
        if (name == "types") "order_id = \"text\"" else "net = \"Net sales\"", ").")))
  }
}

known_encoding <- function(name) {
  check_text(name, "encoding")
  plain <- function(x) gsub("[^a-z0-9]", "", tolower(x))
  also <- c(cp1252 = "windows-1252", utf16 = "UTF-16LE", iso88591 = "latin1", ansi = "windows-1252")
  at <- match(plain(name), plain(known_encodings))
  if (!is.na(at)) {
    return(known_encodings[at])
  }
  if (plain(name) %in% names(also)) {
    return(also[[plain(name)]])
  }
  raise("argument", c(paste0("There is no encoding ", quoted(name), "."),
    ">" = paste0("Known are ", paste(known_encodings, collapse = ", "), ".")))
}

one_character <- function(x, name) {
  check_text(x, name)
  by_name <- c(tab = "\t", comma = ",", semicolon = ";", pipe = "|", none = "\001")
  if (x %in% names(by_name)) x <- by_name[[x]]
  if (nchar(x, "bytes") != 1L) {
    raise("argument", c(paste0(argument_said(name), " is one character."),
      "x" = "It is {.val {x}}.",
      ">" = "Say {.val ,}, {.val ;}, {.val |} or {.val tab}."))
  }
  x
}
