#' Read order records from a file
#'
#' By the ending of the file: delimited text with a header line (comma, semicolon or tab,
#' found from the header; plain or gzip-compressed), JSON lines (`.jsonl`, `.ndjson`: one
#' object a line), Parquet, or the first worksheet of an xlsx file. `-` reads delimited text
#' from standard input. In text, columns become whole numbers, numbers, `TRUE`/`FALSE`, dates
#' (ISO form only) or text; digits that begin with a zero stay text, as they are codes and not
#' numbers. Empty cells are missing.
#'
#' @param path The file, or `"-"`. Its text must be UTF-8.
#' @return A data frame with one row for each record; its attribute `path` is the file.
#' @section Errors: `drystack_error_file` for a file that is not there, cannot be read, is
#'   empty, has only a header, is not UTF-8, or has a record with more or fewer cells than the
#'   header (the line is named).
#' @examples
#' orders <- read_orders(harrowgill_path("orders.csv"))
#' head(orders)
#' @export
read_orders <- function(path) {
  own_setting()
  check_text(path, "path")
  orders <- if (path == "-") read_standard_input() else reader_for(path)(path)
  check_width(path, length(orders))
  if (nrow(orders) == 0L) {
    raise("file", c(paste0("The file ", quoted(path), " has a header but no records."),
      ">" = "Check the export."))
  }
  if (path != "-") attr(orders, "path") <- path
  orders
}

# Readers by file ending; all other files are delimited text.
reader_for <- function(path) {
  ending <- tolower(tools::file_ext(path))
  readers <- list(jsonl = read_json_lines, ndjson = read_json_lines,
    parquet = read_parquet_file, xlsx = read_xlsx_file)
  if (!ending %in% names(readers)) {
    return(read_delimited)
  }
  check_file(path)
  function(path) read_or_told(readers[[ending]](path), path)
}

read_standard_input <- function() {
  connection <- file("stdin", open = "rb", raw = TRUE)
  on.exit(close(connection))
  delimited_orders(text_bytes(read_or_told(bytes_of_stream(connection), "-"), "-"), "-")
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
    if (held > most_bytes()) stop("more comes than the ", format_bytes(most_bytes()), " that are allowed")
  }
  as.raw(unlist(parts))
}

read_parquet_file <- function(path) {
  whole <- nanoparquet::parquet_options(class = character(), read_int64_type = "integer64")
  size <- file.size(path)
  check_size(path, size)
  orders <- read_apart(function() as.data.frame(nanoparquet::read_parquet(path, options = whole)), path, size)
  orders[] <- lapply(orders, plain_whole_numbers)
  orders
}

# Texts that stand for dates, numbers or truth become these, as in delimited text.
with_types <- function(orders) {
  orders[] <- lapply(orders, function(x) if (is.character(x)) typed_column(x) else x)
  orders
}
