# The Parquet writer: the plain columns of one table, with their types.

write_parquet_file <- function(bundle, path) {
  nanoparquet::write_parquet(only_table(bundle, ".parquet")$data(), path)
}
