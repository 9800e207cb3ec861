# What a file is, by what it begins with; its ending tells of text what kind it is, and of Parquet
# that it is damaged.

# "text", "json", "gzip", "parquet", "workbook" (.xlsx), "old workbook" (.xls), "sheets"
# (OpenDocument), "html", "archive", or the words for what is no table.
file_form <- function(path) {
  if (path == "-" || kernel_file_kind(path.expand(path)) != "file") {
    return("text")
  }
  first <- read_or_told(kernel_read_file(path.expand(path), min(file.size(path), 4096)), path)
  for (form in names(first_bytes)) {
    if (any(vapply(first_bytes[[form]], begins_with, NA, bytes = first))) {
      return(if (form == "archive") archive_form(path) else form)
    }
  }
  if (is_html(first)) "html" else forms_by_ending()[[tolower(file_ending(path))]] %||% "text"
}

# What a file is by its ending where its first bytes do not tell.
forms_by_ending <- function() list(jsonl = "json", ndjson = "json", parquet = "parquet")

first_bytes <- list(
  archive = list(c(0x50, 0x4b, 0x03, 0x04)), gzip = list(c(0x1f, 0x8b)),
  parquet = list(charToRaw("PAR1")),
  "old workbook" = list(c(0xd0, 0xcf, 0x11, 0xe0)), "a PDF document" = list(charToRaw("%PDF")),
  "a picture" = list(c(0x89, 0x50, 0x4e, 0x47), c(0xff, 0xd8, 0xff), charToRaw("GIF8")),
  "a text document (RTF)" = list(charToRaw("{\\rtf")),
    "a database (SQLite)" = list(charToRaw("SQLite format 3")),
  "an archive that is not read (7z or RAR)" = list(c(0x37, 0x7a, 0xbc, 0xaf), charToRaw("Rar!")),
  "a workbook of XML (2003)" = list(charToRaw("<?xml version=\"1.0\"?>\n<?mso"),
    charToRaw("<?xml version=\"1.0\"?>\r\n<?mso"))
)

is_html <- function(bytes) {
  bytes <- without_order_mark(bytes)
  text <- rawToChar(bytes[bytes != 0])
  grepl("^\\s*(<!--.*?-->\\s*)*(<!doctype html|<html|<table|<head|<meta|<body|<style)", text,
    ignore.case = TRUE, useBytes = TRUE)
}

# By the parts that an archive has.
archive_form <- function(path) {
  size <- file.size(path)
  if (size > most_bytes()) {
    return("archive")
  }
  names <- read_or_told(kernel_zip_parts(read_bytes(path)), path)$name
  if (any(startsWith(names, "xl/"))) "workbook"
  else if (any(startsWith(names, "word/"))) "a text document"
  else if (any(startsWith(names, "ppt/"))) "slides"
  else if ("content.xml" %in% names && "mimetype" %in% names) "sheets"
  else "archive"
}

# What the ending of a file promises, where it is something else.
other_form_words <- function(path, form) {
  ending <- tolower(file_ending(path))
  if (ending %in% c("xls", "xlsx", "ods") && form %in% c("text", "html"))
    paste0("the file is ", if (form == "text") "delimited text" else "a page with a table",
      ", no workbook")
}
