# The Parquet writer: the plain columns of one table, with their types.

write_parquet_file <- function(document, path) {
  nanoparquet::write_parquet(only_table(document, ".parquet")$data(), path)
}
