# The CSV writer: raw values, one line for each row, text in quotes where it must be (RFC 4180).

write_csv_file <- function(sheet, path) write_text_lines(csv_lines(sheet), path)

csv_lines <- function(sheet) {
  columns <- lapply(sheet$columns, function(column) csv_cells(column$raw))
  names <- vapply(sheet$columns, `[[`, "", "name")
  if (sheet$with_role) {
    names <- c(names, ".role")
    columns <- c(columns, list(sheet$role))
  }
  c(paste(csv_cells(names), collapse = ","), do.call(paste, c(unname(columns), sep = ",")))
}

csv_cells <- function(values) {
  text <- if (is.numeric(values)) number_in_full(values) else as.character(values)
  unsafe <- grepl("[\",\r\n]|^\\s|\\s$", text)
  text[unsafe] <- paste0("\"", gsub("\"", "\"\"", text[unsafe], fixed = TRUE), "\"")
  text[is.na(values)] <- ""
  text
}

# The shortest decimal that reads back as the same double.
number_in_full <- function(x) {
  text <- sprintf("%.15g", x)
  longer <- which(!is.na(x))
  longer <- longer[as.numeric(text[longer]) != x[longer]]
  text[longer] <- sprintf("%.17g", x[longer])
  text
}
