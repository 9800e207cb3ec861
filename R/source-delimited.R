# Orders in delimited text.

read_delimited <- function(path, reading) {
  check_file(path)
  scanned <- scanned_orders(path, reading)
  if (is.null(scanned)) delimited_orders(read_bytes(path), path, reading) else as.data.frame(scanned)
}

delimited_orders <- function(bytes, path, reading) {
  decoded <- decoded_bytes(bytes, path, reading$encoding)
  header <- found_header(decoded$bytes, path, reading)
  read <- read_records(decoded$bytes, header, path)
  ends_open <- ends_within_line(decoded$bytes)
  refined_orders(
    list(names = header$names, columns = read$columns, records = read$records, odd = read$odd,
      titles = header$titles, ends_open = ends_open),
    path, reading, decoded$encoding
  )
}

# Whether text ends without the line end that its other lines have: it may have been cut off there.
ends_within_line <- function(bytes) {
  last <- utils::tail(bytes, 1L)
  length(last) > 0L && !as.integer(last) %in% c(0L, 10L, 13L, 26L)
}

file_ends_within_line <- function(path, size) {
  connection <- file(path.expand(path), "rb")
  on.exit(close(connection))
  seek(connection, size - 1)
  ends_within_line(readBin(connection, "raw", 1L))
}

open_end_words <- "the last line has no line end as the others have: the file may have been cut off"
