# Before a file takes the place of another it is held against what its format says of its end: a
# disk that was full, or a library that did not notice, leaves a file that ends too early.

check_written <- function(path) {
  kernel_sync_file(path.expand(path))
  bytes <- file.size(path)
  if (is.na(bytes) || bytes == 0) stop("nothing was written: is the disk full?")
  whole <- ends_of_formats()[[tolower(tools::file_ext(path))]]
  if (!is.null(whole) && !isTRUE(tryCatch(whole(path, bytes), error = function(e) FALSE))) {
    stop("the file does not end as it should: is the disk full?")
  }
}

# For each ending a function of a path and its size; files of text are written by the kernel,
# which sees what is lacking.
ends_of_formats <- function() {
  list(
    png = function(path, bytes) identical(last_bytes(path, bytes, 12L)[5:8], charToRaw("IEND")),
    svg = function(path, bytes) grepl("</svg>\\s*$", rawToChar(last_bytes(path, bytes, 40L))),
    pdf = function(path, bytes) grepl("%%EOF\\s*$", rawToChar(last_bytes(path, bytes, 40L))),
    parquet = function(path, bytes) {
      identical(last_bytes(path, bytes, 4L), charToRaw("PAR1")) &&
        is.list(nanoparquet::read_parquet_metadata(path))
    },
    xlsx = function(path, bytes) {
      archive <- kernel_read_file(path.expand(path), bytes)
      for (place in seq_along(kernel_zip_parts(archive)$name)) kernel_zip_part(archive, place)
      TRUE
    }
  )
}

last_bytes <- function(path, bytes, count) {
  connection <- file(path, open = "rb")
  on.exit(close(connection))
  seek(connection, max(bytes - count, 0))
  readBin(connection, "raw", count)
}
