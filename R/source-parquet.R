# Orders in Parquet files, column by column as they are needed. What a file says of itself stands at
# its end and is read here, and so are columns in the form that most programs write. A package reads
# all others, in processes of its own (source-apart.R). Texts come as codes, which are less to hand
# over.

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
    spare <- spare[!facts$here[kept[spare]]]
    if (!all(facts$here[kept[places]]) && length(spare) <= most_read_along)
      places <- c(places, spare)
    columns <- parquet_columns(path, kept[places], facts)
    own <- new_telling(path)
    columns <- stats::setNames(Map(as_said, columns, names[kept[places]],
      MoreArgs = list(reading = reading, told = own)), places)
    structure(columns, told = own$all(reading)$told)
  }
  first <- read(which(names[kept] %in% wanted(names)), integer())
  for (line in attr(first, "told")) told$add(line)
  new_late_columns(names[kept], sum(facts$rows), path, told_of(told, reading), read, first)
}

most_read_along <- 10L

# A column as what it was said to be. What is said of texts holds for columns of texts.
as_said <- function(column, name, reading, told) {
  typed <- name %in% names(reading$types)
  if (!typed && (!is_of_texts(column) || all(lengths(reading[said_of_texts]) == 0L))) {
    return(column)
  }
  values <- if (is_coded(column)) expanded(column) else column
  texts <- texts_of_frame(data.frame(values))$columns[[1L]]
  texts$codes[texts$codes %in% which(!nzchar(kernel_trimmed(texts$texts)))] <- NA
  texts <- used_texts(without_missing_words(texts, reading$missing))
  values <- if (typed) said_type(texts, name, reading$types[[name]], reading, told)
    else texts_as_said(texts, name, reading, told)
  if (!is.null(attr(values, "currency"))) raise_several_currencies(name, attr(values, "currency"))
  values
}

# What is said of a column that is text whatever is said.
said_of_text <- function(name, reading) {
  reading$types <- if (length(reading$missing) > 0L) stats::setNames("text", name)
  reading[setdiff(said_of_texts, "missing")] <- list(NULL)
  reading
}

said_of_texts <- c("missing", "decimal", "thousands", "zone")

is_of_texts <- function(column) is_coded(column) || is.character(column)

# Texts stay texts unless it is said how they are written: as amounts with a mark, as date-times
# of a zone.
texts_as_said <- function(texts, name, reading, told) {
  marks <- !is.null(reading$decimal) || !is.null(reading$thousands)
  known <- !is_unknown_word(texts$texts)
  amounts <- if (marks && any(grepl("[^0-9]", texts$texts[known])))
    known_amounts(texts$texts, known, name, reading, told)
  if (!is.null(amounts) && !all(known)) tell_unknown(texts$texts[!known], name, told)
  times <- if (!is.null(reading$zone)) zoned_times(texts$texts, reading$zone)
  values_at(amounts %||% times %||% texts$texts, texts$codes)
}

# A column that is read by itself cannot put another one beside it.
raise_several_currencies <- function(name, currencies) {
  raise("amount", c(
    paste0("Column ", quoted(name), " holds amounts of several currencies."),
    "x" = "They are in {examples_of(unique(currencies[!is.na(currencies)]))}.",
    ">" = "Write the amounts and their currencies as two columns of the file."
  ))
}

# What a file says of itself (see kernel_parquet_facts()), and its state when it did.
parquet_facts <- function(path) {
  state <- file_state(path)
  c(read_or_told(kernel_parquet_facts(path.expand(path)), path), list(state = state))
}

# Columns of a file, or of some of its row groups that follow each other. Of a form that is not read
# here it may be known only once the values are looked at.
parquet_columns <- function(path, places, facts, groups = seq_along(facts$rows)) {
  check_unchanged(path, facts$state)
  columns <- vector("list", length(places))
  here <- which(facts$here[places])
  if (length(here) > 0L && is_held_easily(sum(facts$rows[groups]), length(here))) {
    found <- read_or_told(kernel_parquet_columns(path.expand(path), groups[1L],
      groups[length(groups)], places[here], thread_count()), path)
    columns[here] <- lapply(found, column_found)
  }
  apart <- which(lengths(columns, use.names = FALSE) == 0L)
  columns[apart] <- row_group_columns_apart(path, groups, places[apart], facts)
  columns
}

# Few bytes can say that they are many rows.
is_held_easily <- function(rows, columns) {
  rows > 0 && rows <= .Machine$integer.max && 8 * rows * columns <= most_bytes()
}

column_found <- function(found) {
  if (is.null(found$texts)) found$values else new_coded(found$texts, found$values)
}

row_group_columns_apart <- function(path, groups, places, facts) {
  if (length(places) == 0L) {
    return(list())
  }
  if (length(groups) == length(facts$rows)) {
    return(parquet_columns_apart(path, places, facts, file.size(path)))
  }
  cut <- tempfile("groups", fileext = ".parquet")
  on.exit(unlink(cut))
  read_or_told(kernel_parquet_part(path.expand(path), groups[1L], groups[length(groups)],
    places, cut), path)
  bytes <- sum(facts$bytes[groups])
  read_apart(function() package_columns(cut, places, facts), path, bytes)
}

# Columns that the package reads, of a large file in two processes at the same time.
parquet_columns_apart <- function(path, places, facts, size) {
  if (length(places) < 2L || size < 2^22 || thread_count() < 2L || !forks_safely() || is_apart()) {
    return(read_apart(function() package_columns(path, places, facts), path, size))
  }
  shares <- even_shares(ifelse(facts$texts[places], 3, 1))
  columns <- vector("list", length(places))
  in_processes(2L, 2L, function(share) {
    read_within_limits(function() package_columns(path, places[shares[[share]]], facts), path, size)
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

package_columns <- function(path, places, facts) {
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
  for (name in names(reading$types)) check_column(name, all)
  part <- function(own) {
    force(own)
    new_file_part(path, sum(facts$bytes[own]), function(wanted, text) {
      columns <- parquet_columns(path, match(wanted, all), facts, own)
      told <- lapply(stats::setNames(nm = wanted), function(name) new_telling(path))
      columns <- Map(function(column, name) {
        as_said(column, name, if (name %in% text) said_of_text(name, reading) else reading,
          told[[name]])
      }, stats::setNames(columns, wanted), wanted)
      structure(columns, told = lapply(told, function(own) own$all(reading)$told))
    }, numbers = setdiff(all[facts$doubles], names(reading$types)))
  }
  names <- if (is.null(reading$keep)) all else kept_names(all, reading$keep)
  list(path = path, names = names, parts = lapply(unname(groups), part))
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
