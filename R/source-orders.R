#' Read order records from a file
#'
#' The contents of the file decide how it is read: delimited text with a header line (comma,
#' semicolon, tab or bar, found from the
#' first lines; or fields of fixed width; plain or gzip-compressed), JSON lines (`.jsonl`,
#' `.ndjson`: one object a line), Parquet, a worksheet of a workbook (`.xlsx`, `.xls`, `.ods`), the
#' largest table of an HTML page, or one of these in a zip archive. A misleading ending does not
#' matter. `-` reads delimited text from standard input. In text, columns become
#' whole numbers, numbers,
#'   `TRUE`/`FALSE`, dates
#' (ISO form only) or text; digits that begin with a zero stay text, as they are codes and not
#' numbers. Empty cells are missing.
#'
#' Whatever else an export contains is detected and reported (in `attr(orders, "reading")$told` and
#' in the notes of tables): another encoding, title lines above the header, headers and titles
#' repeated at page breaks, a line of units, footers, empty lines and columns; totals lines where
#' the lines above prove them; amounts as people write them (`\u00a3`1,234.50, 1.234,50, (268.04),
#' 268.04-, CR and DR, percent signs), where every value of the column can be read in the same way;
#' texts that stand for unknown values. Repeated names get a number, names of periods a prefix.
#' Anything that cannot be guessed safely stays as it is until you say how to read it. What you
#' say of the values (amounts, dates, unknown values, columns) holds in every form of file; of how
#' text is cut, only where the form has it (`separator` for Parquet is an error).
#'
#' @param path The file, or `"-"`.
#' @param encoding `"UTF-8"`, `"UTF-16LE"`, `"UTF-16BE"`, `"windows-1252"` or `"latin1"`. Default:
#'   found from the text.
#' @param separator,quote Of delimited text, one character each (`"tab"` too). Default: found from
#'   the first lines, and the double quote.
#' @param skip How many lines to skip above the header. Default: detected.
#' @param decimal,thousands The marks in amounts: `"."` or `","`; `","`, `"."`, `" "` or `"'"`.
#'   Default: as the whole column, or another column of the file, settles it.
#' @param missing Texts that stand for unknown values, such as `c("tbc", "x")`.
#' @param totals_lines `"proven"`: leave out totals lines that the lines above prove;
#'   `"keep"`: keep all lines.
#' @param rename New names of columns by the old: `c(net = "Net sales")`.
#' @param keep The columns to keep, by the names they have then. Default: all.
#' @param types What columns are: `c(order_id = "text", net = "amount", due = "date")`.
#' @param date_order How dates are written, as in [daybook()].
#' @param zone The time zone of date-times in text, which are then read as date-times.
#' @param header `"none"` for a file whose first line is an order line (columns are `column_1` and
#'   so on), `"first"` where its first line holds names whatever it looks like, or
#'   the names themselves.
#' @param drop_lines Regular expressions: lines of text that match one are left out.
#' @param uneven Records with too many or too few cells: `"fill"` adds empty cells at the end,
#'   `"drop"` leaves the records out and counts them. Default: an error.
#' @param widths Fields of fixed width, in characters. Default: detected where blanks separate them.
#' @param sheet The worksheet of a workbook, by name or number. Default: the first
#'   that holds orders.
#' @param inside The file of an archive that holds several.
#' @return A data frame with one row for each record; its attributes `path` and `reading` tell the
#'   file and how it was read.
#' @section Errors: `drystack_error_file` for a file that is not there, cannot be read, is
#'   empty, has only a header, is UTF-8 in parts only, or has a record with more or fewer cells
#'   than the header (the line is named); `drystack_error_amount` for a column that should hold
#'   amounts but does not.
#' @seealso [look_at()] says what a file holds; [orders_in()] for databases; [daybook()] takes
#'   paths, too.
#' @examples
#' orders <- read_orders(harrowgill_path("orders.csv"))
#' head(orders)
#' export <- tempfile(fileext = ".csv")
#' writeLines(c(
#'   "Harrowgill Stone Yard;;", "ordered on;depot;net", "31.08.2026;Skelby;1.234,50", ";;1.234,50"
#' ), export)
#' read_orders(export)
#' @export
read_orders <- function(path, encoding = NULL, separator = NULL, quote = NULL, skip = NULL,
  decimal = NULL, thousands = NULL, missing = NULL, totals_lines = "proven",
  rename = NULL, keep = NULL,
  types = NULL, date_order = NULL, zone = NULL, header = NULL, drop_lines = NULL, uneven = NULL,
  widths = NULL, sheet = NULL, inside = NULL) {
  own_setting()
  check_text(path, "path")
  orders_in_file(path, checked_reading(
    encoding = encoding, separator = separator, quote = quote, skip = skip, decimal = decimal,
    thousands = thousands, missing = missing, totals_lines = totals_lines,
    rename = rename, keep = keep,
    types = types, date_order = date_order, zone = zone, header = header, drop_lines = drop_lines,
    uneven = uneven, widths = widths, sheet = sheet, inside = inside
  ))
}

orders_in_file <- function(path, reading = new_reading()) {
  check_no_address(path)
  if (path == "-" || file.exists(path)) check_said_of_files(path, reading)
  orders <- if (path == "-") read_standard_input(reading) else reader_for(path)(path, reading)
  orders <- orders_that_hold(orders, path)
  if (path != "-") attr(orders, "path") <- path
  orders
}

# What names a database is no file, and may hold a password.
check_no_address <- function(path) {
  if (is_database_text(path)) {
    raise("database", c(paste0(quoted(safe_words(path)), " names a database, not a file."),
      ">" = "Say which table of it: {.code orders_in(\"sqlite:shop.db\", \"orders\")}."))
  }
}

orders_that_hold <- function(orders, path) {
  check_width(path, length(names(orders)))
  if (nrow(orders) == 0L) {
    raise("file", c(paste0("The file ", quoted(path), " has a header but no records."),
      ">" = "Check the export."), header = names(orders))
  }
  orders
}

# The orders of a file with those columns read at once that are wanted, the others when they are
# needed, where the file allows it; spare: whether others may be read with
# them (see scanned_orders()).
orders_as_needed <- function(path, reading, wanted, spare = FALSE) {
  check_no_address(path)
  if (holds_states(path)) {
    return(kept_states(path))
  }
  if (in_parts(path)) {
    return(orders_in_parts(path, reading, wanted))
  }
  read <- if (path != "-") {
    check_file(path)
    check_said_of_files(path, reading)
    switch(file_form(path), parquet = parquet_orders(path, reading, wanted),
      text = scanned_orders(path, reading, wanted, spare))
  }
  if (is.null(read)) orders_in_file(path, reading) else orders_that_hold(read, path)
}

#' @export
as_orders.character <- function(orders, wanted = character()) {
  check_text(orders, "orders")
  orders_as_needed(orders, new_reading(), function(names) {
    columns_spoken_of(names, wanted)
  }, spare = TRUE)
}

# The columns that some texts may speak of.
columns_spoken_of <- function(names, texts) {
  texts <- unlist(texts)
  texts <- texts[!is.na(texts)]
  Filter(function(name) any(grepl(name, texts, fixed = TRUE)), names)
}

read_standard_input <- function(reading) {
  connection <- file("stdin", open = "rb", raw = TRUE)
  on.exit(close(connection))
  delimited_orders(read_or_told(bytes_of_stream(connection), "-"), "-", reading)
}

# Of a stream whose end is not known.
bytes_of_stream <- function(connection) {
  parts <- list()
  held <- 0
  repeat {
    part <- readBin(connection, "raw", 2^20)
    if (length(part) == 0L) break
    parts[[length(parts) + 1L]] <- part
    held <- held + length(part)
    if (held > most_bytes()) stop("more comes than the ", format_bytes(most_bytes()),
      " that are allowed")
  }
  as.raw(unlist(parts))
}
