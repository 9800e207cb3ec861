# Orders in Parquet files, column by column as they are needed. What a file says of itself stands at
# its end and is read here; the package that reads its columns works in processes of its own
# (source-apart.R). Texts come from it as codes, which are less to hand over.

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
  facts <- parquet_facts(path)
  names <- apart_from_periods(renamed(facts$names, reading$rename), told)
  kept <- if (is.null(reading$keep)) seq_along(names) else which(names %in%
    kept_names(names, reading$keep))
  for (name in names(reading$types)) check_column(name, names)
  # One reading of a few columns more costs less than another process for each.
  read <- function(places, spare) {
    if (length(spare) <= most_read_along) places <- c(places, spare)
    columns <- parquet_columns_apart(path, kept[places], facts, size)
    stats::setNames(Map(as_type_said, columns, names[kept[places]],
      MoreArgs = list(reading = reading, told = told)), places)
  }
  first <- which(names[kept] %in% wanted(names))
  new_late_columns(names[kept], sum(facts$rows), path, told_of(told, reading), read,
    read(first, integer()))
}

most_read_along <- 10L

# A column with a type of its own as what it was said to be.
as_type_said <- function(column, name, reading, told) {
  type <- reading$types[name]
  if (is.null(type) || is.na(type)) {
    return(column)
  }
  values <- if (is_coded(column)) expanded(column) else column
  texts <- texts_of_frame(data.frame(values))$columns[[1L]]
  said_type(texts, name, type, reading, told)
}

# What a file says of itself (see kernel_parquet_facts()), and its state when it did.
parquet_facts <- function(path) {
  state <- file_state(path)
  c(read_or_told(kernel_parquet_facts(path.expand(path)), path), list(state = state))
}

# Columns of a file, of a large one in two processes at the same time.
parquet_columns_apart <- function(path, places, facts, size) {
  check_unchanged(path, facts$state)
  if (length(places) < 2L || size < 2^22 || thread_count() < 2L || !forks_safely() || is_apart()) {
    return(read_apart(function() parquet_columns(path, places, facts), path, size))
  }
  shares <- even_shares(ifelse(facts$texts[places], 3, 1))
  columns <- vector("list", length(places))
  in_processes(2L, 2L, function(share) {
    read_within_limits(function() parquet_columns(path, places[shares[[share]]], facts), path, size)
  }, function(read, share) columns[shares[[share]]] <<- read, function(share) raise_damaged(path))
  columns
}

# The places of weights in two shares that weigh about the same.
even_shares <- function(weights) {
  first <- logical(length(weights))
  for (i in order(-weights)) first[i] <- sum(weights[first]) <= sum(
    weights[!first & seq_along(weights) != i])
  list(which(first), which(!first))
}

parquet_columns <- function(path, places, facts) {
  if (length(places) == 0L) {
    return(list())
  }
  # The package for whole numbers of 64 bits takes a while to be loaded.
  options <- nanoparquet::parquet_options(class = character(),
    read_int64_type = if (any(facts$wide[places])) "integer64" else "double")
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

# A file with several row groups is cut between these.
parquet_in_parts <- function(path, reading) {
  facts <- parquet_facts(path)
  all <- apart_from_periods(renamed(facts$names, reading$rename), new_telling(path))
  groups <- split(seq_along(facts$rows), cumsum(facts$bytes) %/% part_bytes())
  part <- function(own) {
    force(own)
    new_file_part(path, sum(facts$bytes[own]), function(wanted, text) {
      stats::setNames(row_group_columns(path, own, match(wanted, all), facts), wanted)
    }, numbers = all[facts$doubles])
  }
  names <- if (is.null(reading$keep)) all else kept_names(all, reading$keep)
  list(path = path, names = names, parts = lapply(unname(groups), part))
}

row_group_columns <- function(path, groups, places, facts) {
  check_unchanged(path, facts$state)
  bytes <- sum(facts$bytes[groups])
  if (length(groups) == length(facts$rows)) {
    return(read_apart(function() parquet_columns(path, places, facts), path, bytes))
  }
  cut <- tempfile("groups", fileext = ".parquet")
  on.exit(unlink(cut))
  read_or_told(kernel_parquet_part(path.expand(path), groups[1L], groups[length(groups)],
    places, cut), path)
  read_apart(function() parquet_columns(cut, places, facts), path, bytes)
}

# Whether a file is larger in memory than may be held at once, and can be cut.
is_large_parquet <- function(path) {
  if (!grepl("[.]parquet$", path, ignore.case = TRUE) ||
    kernel_file_kind(path.expand(path)) != "file") {
    return(FALSE)
  }
  facts <- rlang::try_fetch(parquet_facts(path), drystack_error = function(e) NULL)
  length(facts$rows) > 1L && sum(facts$bytes) > most_bytes()
}
