# The worksheets of OpenDocument workbooks (ISO/IEC 26300), from their part content.xml.

read_open_sheets <- function(path, reading) {
  bytes <- read_bytes(path)
  parts <- kernel_zip_parts(bytes)
  check_unpacked(path, sum(parts$size), length(bytes))
  content <- xml2::read_xml(kernel_zip_part(bytes, match("content.xml", parts$name)),
    options = c("NOBLANKS"))
  tables <- xml2::xml_find_all(content, "//table:table")
  names <- xml2::xml_attr(tables, "name")
  sheet_orders(names, function(place) open_grid(tables[[place]], path), path, reading)
}

# The cells of a worksheet by columns, each a list of values, NA for empty ones.
open_grid <- function(table, path) {
  rows <- xml2::xml_find_all(table, ".//table:table-row")
  cells <- xml2::xml_find_all(table, ".//table:table-cell|.//table:covered-table-cell")
  if (length(cells) == 0L) {
    return(list())
  }
  row <- rep(seq_along(rows), xml2::xml_length(rows))
  spans <- counts_said(cells, "number-columns-repeated")
  values <- open_values(cells)
  known <- !vapply(values, function(value) length(value) == 1L && is.na(value), NA)
  # An empty cell at the end of a row stands for all columns to the edge of the sheet.
  spans[!known] <- pmin(spans[!known], most_read_columns)
  last <- unlist(lapply(split(spans, row), cumsum), use.names = FALSE)
  if (!any(known)) {
    return(list())
  }
  repeated <- counts_said(rows, "number-rows-repeated")
  filled <- seq_along(rows) %in% row[known]
  repeated[!filled] <- 1L
  if (sum(as.numeric(spans[known]) * repeated[row[known]]) > most_open_cells) raise_unreadable(path,
    "a worksheet of it repeats more cells than are read")
  starts <- cumsum(c(1L, utils::head(repeated, -1L)))
  grid <- rep(list(rep(list(NA), max(starts + repeated - 1L))), max(last[known]))
  for (i in which(known)) {
    for (column in (last[i] - spans[i] + 1L):last[i]) {
      grid[[column]][starts[row[i]] + seq_len(repeated[row[i]]) - 1L] <- values[i]
    }
  }
  grid
}

most_open_cells <- 2e7

counts_said <- function(nodes, name) {
  counts <- suppressWarnings(as.integer(xml2::xml_attr(nodes, name)))
  ifelse(is.na(counts) | counts < 1L, 1L, counts)
}

open_values <- function(cells) {
  type <- xml2::xml_attr(cells, "value-type")
  values <- rep(list(NA), length(cells))
  numbers <- which(type %in% c("float", "currency", "percentage"))
  values[numbers] <- as.list(as.numeric(xml2::xml_attr(cells[numbers], "value")))
  dates <- which(type == "date")
  values[dates] <- lapply(sub("T", " ", xml2::xml_attr(cells[dates], "date-value"), fixed = TRUE),
    function(text) {
      as.POSIXct(text, tz = "UTC", tryFormats = c("%Y-%m-%d %H:%M:%OS", "%Y-%m-%d"))
    })
  flags <- which(type == "boolean")
  values[flags] <- as.list(xml2::xml_attr(cells[flags], "boolean-value") == "true")
  texts <- setdiff(which(!is.na(type)), c(numbers, dates, flags))
  said <- vapply(cells[texts], function(cell) {
    paste(xml2::xml_text(xml2::xml_find_all(cell, "./text:p")), collapse = "\n")
  }, "")
  values[texts] <- as.list(ifelse(nzchar(said), said, NA_character_))
  values
}
