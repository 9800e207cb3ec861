# Files of data, of one table each: plain columns with their raw values.

write_parquet_file <- function(bundle, path) {
  nanoparquet::write_parquet(only_table(bundle, ".parquet")$data(), path)
}

# One line for each row, text in quotes where it must be (RFC 4180).
write_csv_file <- function(bundle, path) {
  write_text_lines(csv_lines(only_table(bundle, ".csv")$data(), isTRUE(bundle$guard)), path)
}

csv_lines <- function(data, guard = FALSE) {
  columns <- lapply(data, csv_cells, guard = guard)
  c(paste(csv_cells(names(data), guard), collapse = ","),
    do.call(paste, c(unname(columns), sep = ",")))
}

csv_cells <- function(values, guard) {
  number <- is.numeric(values) && !inherits(values, c("Date", "POSIXct", "integer64"))
  text <- if (number) number_in_full(as.numeric(values)) else as.character(values)
  if (!number) {
    different <- unique(text)
    text <- quoted_cells(different, guard)[match(text, different)]
  }
  text[is.na(values)] <- ""
  text
}

# With a guard, text that a spreadsheet would take for a formula has an apostrophe before it.
quoted_cells <- function(text, guard) {
  if (guard) {
    formula <- grepl("^[=+@\t\r-]", text)
    text[formula] <- paste0("'", text[formula])
  }
  unsafe <- grepl("[\",\r\n]|^\\s|\\s$", text)
  text[unsafe] <- paste0("\"", gsub("\"", "\"\"", text[unsafe], fixed = TRUE), "\"")
  text
}
