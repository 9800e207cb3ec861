# Orders in delimited text.

read_delimited <- function(path) delimited_orders(text_bytes(read_bytes(path), path), path)

delimited_orders <- function(bytes, path) {
  read <- delimited_texts(bytes, path)
  columns <- lapply(read$columns, function(column) typed_values(column$texts)[column$codes])
  structure(columns, names = read$names, class = "data.frame", row.names = seq_len(read$records))
}
