# How orders are read from a file: what the user said of it. What is not said is found.

# encoding, separator, quote, skip: of delimited text; decimal, thousands: the marks in amounts;
# missing: texts that mean nothing is known; totals_lines: "proven" or "keep"; rename, keep, types:
# of columns; date_order, zone: of dates and date-times in text
new_reading <- function(encoding = NULL, separator = NULL, quote = NULL, skip = NULL, decimal = NULL,
  thousands = NULL, missing = NULL, totals_lines = "proven", rename = NULL, keep = NULL, types = NULL,
  date_order = NULL, zone = NULL) {
  list(
    encoding = encoding, separator = separator, quote = quote, skip = skip, decimal = decimal,
    thousands = thousands, missing = missing, totals_lines = totals_lines, rename = rename, keep = keep,
    types = types, date_order = date_order, zone = zone
  )
}

# Checked at the door of every surface.
checked_reading <- function(...) {
  reading <- new_reading(...)
  if (!is.null(reading$encoding)) reading$encoding <- known_encoding(reading$encoding)
  if (!is.null(reading$separator)) reading$separator <- one_character(reading$separator, "separator")
  if (!is.null(reading$quote)) reading$quote <- one_character(reading$quote, "quote")
  if (!is.null(reading$skip)) reading$skip <- check_whole(reading$skip, "skip", 0L, 10000L)
  if (!is.null(reading$decimal)) check_choice(reading$decimal, c(".", ","), "decimal")
  if (!is.null(reading$thousands)) check_choice(reading$thousands, c(",", ".", " ", "'"), "thousands")
  check_choice(reading$totals_lines, c("proven", "keep"), "totals_lines")
  if (!is.null(reading$date_order)) check_choice(reading$date_order, date_orders, "date_order")
  if (!is.null(reading$zone) && !reading$zone %in% OlsonNames()) {
    raise("argument", c(
      paste0("There is no time zone ", quoted(reading$zone), "."),
      "x" = paste0(argument_said("zone"), " names none."),
      ">" = advise_word(reading$zone, OlsonNames(), "zones")
    ))
  }
  for (part in c("rename", "types")) check_pairs(reading[[part]], part)
  if (!is.null(reading$types)) {
    for (type in reading$types) check_choice(type, c("text", "amount", "date"), "types")
  }
  reading
}

check_pairs <- function(x, name) {
  if (is.null(x)) {
    return(invisible())
  }
  named <- is.character(x) && length(x) > 0L && !is.null(names(x)) && all(nzchar(names(x))) && !anyNA(x)
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
  check_choice(name, known_encodings, "encoding")
}

one_character <- function(x, name) {
  check_text(x, name)
  by_name <- c(tab = "\t", comma = ",", semicolon = ";", pipe = "|", none = "\001")
  if (x %in% names(by_name)) x <- by_name[[x]]
  if (nchar(x, "bytes") != 1L) {
    raise("argument", c(paste0(argument_said(name), " is one character."), "x" = "It is {.val {x}}.",
      ">" = "Say {.val ,}, {.val ;}, {.val |} or {.val tab}."))
  }
  x
}
