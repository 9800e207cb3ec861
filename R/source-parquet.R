# Orders in Parquet files, column by column as they are needed. The package that reads them works in
# a process of its own (source-apart.R); texts come from it as codes, which are less to hand over.

read_parquet_file <- function(path, reading) {
  orders <- as.data.frame(parquet_orders(path, reading))
  attr(orders, "path") <- path
  orders
}

parquet_orders <- function(path, reading, wanted = identity) {
  check_file(path)
  size <- file.size(path)
  check_size(path, size)
  told <- new_telling(path)
  names_of <- function(names) apart_from_periods(renamed(names, reading$rename), told)
  first <- read_apart(function() {
    file <- parquet_facts(path)
    quiet <- rlang::try_fetch(names_of(file$names), drystack_error = function(e) character())
    file$places <- which(quiet %in% wanted(quiet))
    file$columns <- parquet_columns(path, file$places)
    file
  }, path, size)
  names <- names_of(first$names)
  kept <- if (is.null(reading$keep)) seq_along(names) else which(names %in% kept_names(names, reading$keep))
  read <- function(places) read_apart(function() parquet_columns(path, kept[places]), path, size)
  held <- first$places %in% kept
  new_late_columns(names[kept], first$rows, path, told_of(told, reading), read,
    stats::setNames(first$columns[held], match(first$places[held], kept)))
}

# What a file says of itself: the names of its columns, and how many rows it has.
parquet_facts <- function(path) {
  metadata <- nanoparquet::read_parquet_metadata(path)
  schema <- metadata$schema
  leaves <- is.na(schema$num_children) | schema$num_children == 0L
  list(names = schema$name[leaves], rows = as.integer(metadata$file_meta_data$num_rows))
}

parquet_columns <- function(path, places) {
  if (length(places) == 0L) {
    return(list())
  }
  options <- nanoparquet::parquet_options(class = character(), read_int64_type = "integer64")
  columns <- nanoparquet::read_parquet(path, col_select = as.integer(places), options = options)
  lapply(unname(as.list(columns)), function(column) {
    if (is.character(column)) encoded_texts(column) else plain_whole_numbers(column)
  })
}

encoded_texts <- function(values) {
  coded <- kernel_encode(values, thread_count())
  texts <- enc2utf8(values[coded$first])
  if (anyDuplicated(texts) > 0L) values else new_coded(texts, coded$codes)
}
