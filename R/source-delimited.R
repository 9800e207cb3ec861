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
  refined_orders(
    list(names = header$names, columns = read$columns, records = read$records, odd = read$odd,
      titles = header$titles),
    path, reading, decoded$encoding
  )
}
