#' Read order records from a file
#'
#' By the ending of the file: delimited text with a header line (comma, semicolon or tab, found from the header; plain or
#' gzip-compressed), JSON lines (`.jsonl`, `.ndjson`: one object a line), Parquet, or the first worksheet of an xlsx file.
#' `-` reads delimited text from standard input. In text, columns become whole numbers, numbers, `TRUE`/`FALSE`, dates (ISO
#' form only) or text; digits that begin with a zero stay text, as they are codes and not numbers. Empty cells are missing.
#'
#' @param path The file, or `"-"`. Its text must be UTF-8.
#' @return A data frame with one row for each record; its attribute `path` is the file.
#' @section Errors: `drystack_error_file` for a file that is not there, cannot be read, is empty, has only a header, is not
#'   UTF-8, or has a record with more or fewer cells than the header (the line is named).
#' @examples
#' orders <- read_orders(harrowgill_path("orders.csv"))
#' head(orders)
#' @export
read_orders <- function(path) {
  own_setting()
  check_text(path, "path")
  orders <- if (path == "-") read_standard_input() else reader_for(path)(path)
  if (nrow(orders) == 0L) {
    raise("file", c(paste0("The file ", quoted(path), " has a header but no records."), ">" = "Check the export."))
  }
  if (path != "-") attr(orders, "path") <- path
  orders
}

# Readers by file ending; all other files are delimited text.
reader_for <- function(path) {
  ending <- tolower(tools::file_ext(path))
  readers <- list(jsonl = read_json_lines, ndjson = read_json_lines, parquet = read_parquet_file, xlsx = read_xlsx_file)
  if (!ending %in% names(readers)) {
    return(read_delimited)
  }
  check_file(path)
  function(path) {
    rlang::try_fetch(readers[[ending]](path), error = unless_ours(function(e) raise_unreadable(path, e)))
  }
}

read_standard_input <- function() {
  connection <- file("stdin", open = "rb", raw = TRUE)
  on.exit(close(connection))
  delimited_orders(text_bytes(bytes_of_stream(connection), "-"), "-")
}

read_parquet_file <- function(path) {
  whole <- nanoparquet::parquet_options(class = character(), read_int64_type = "integer64")
  orders <- as.data.frame(nanoparquet::read_parquet(path, options = whole))
  orders[] <- lapply(orders, plain_whole_numbers)
  orders
}

# Texts that stand for dates, numbers or truth become these, as in delimited text.
with_types <- function(orders) {
  orders[] <- lapply(orders, function(x) if (is.character(x)) typed_column(x) else x)
  orders
}
