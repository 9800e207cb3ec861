# The largest table of a page, as some programs write what they call a workbook.

read_html_table <- function(path, reading) {
  text <- decoded_bytes(read_bytes(path), path, reading$encoding)$bytes
  page <- xml2::read_html(text, encoding = "UTF-8", options = c("RECOVER", "NOERROR", "NOBLANKS"))
  tables <- xml2::xml_find_all(page, "//table")
  rows <- lapply(tables, function(table) {
    xml2::xml_find_all(table, "./tr|./tbody/tr|./thead/tr|./tfoot/tr")
  })
  if (length(rows) == 0L) {
    raise("file", c(paste0("The page ", quoted(path), " holds no table."),
      ">" = "Export the orders as CSV."))
  }
  lines <- vapply(rows[[which.max(lengths(rows))]], line_of_row, "")
  own <- utils::modifyList(reading, list(separator = "\t", encoding = NULL), keep.null = TRUE)
  orders <- delimited_orders(bytes_of_lines(lines), path, own)
  attr(orders, "reading")["said"] <- list(reading)
  orders
}

line_of_row <- function(row) {
  cells <- xml2::xml_find_all(row, "./td|./th")
  texts <- gsub("[[:space:]\u00a0]+", " ", trimws(xml2::xml_text(cells),
    whitespace = "[[:space:]\u00a0]"))
  spans <- suppressWarnings(as.integer(xml2::xml_attr(cells, "colspan", default = "1")))
  spans[is.na(spans) | spans < 1L] <- 1L
  filled <- unlist(Map(function(text, span) c(text, rep("", span - 1L)), texts, pmin(spans, 100L)))
  paste0("\"", gsub("\"", "\"\"", filled, fixed = TRUE), "\"", collapse = "\t")
}
