# What a build keeps of its orders, so that the next can say what has changed: the order lines by
# the columns it reads, where a key tells them apart and they are in memory; else their states by
# day and by the columns its tables speak of.
#
# lines: the order lines by column, and their key; or states: see new_day_states()

kept_of_orders <- function(page, tables) {
  key <- unlist(page$document$said$orders$key)
  if (!is.null(key) && in_memory(page$book)) {
    for (name in key) check_column(name, page$book$made$names)
    columns <- columns_to_keep(page, union(key, columns_told(page)))
    if (length(columns) > 0L) check_key_told(columns, key)
    return(list(lines = columns, key = key))
  }
  tables <- Filter(is_comparable, tables)
  if (length(tables) == 0L) {
    return(list())
  }
  wanted <- states_wanted(tables, page$book)
  states <- day_states(page$book, wanted$by, wanted$amounts,
    some_values_of(page$book, columns_told(page)))
  list(states = own_states(states, page))
}

in_memory <- function(book) inherits(engine_of(book), "drystack_frame")

# As they came from their file, texts as codes.
columns_to_keep <- function(page, names) {
  if (length(own_conditions(page)) > 0L) {
    return(own_lines(lines_of_book(page$book, names), page))
  }
  engine <- engine_of(page$book)
  lapply(page$book$made$columns[names], function(id) {
    coded_column(engine, id) %||% frame_values(engine, id)
  })
}

# The columns that a report speaks of, beside those it lists.
columns_told <- function(page) {
  said <- page$document$said
  said$orders$columns <- NULL
  columns_spoken_of(page$book$made$names, said)
}

# A few values of some columns, which tell what they hold.
some_values_of <- function(book, names) {
  values <- lapply(stats::setNames(nm = names), function(name) {
    some <- column_kind(engine_of(book), column_node(name, book$made$columns[[name]]))
    if (is.factor(some)) some <- as.character(some)
    utils::head(c(some[!is.na(some)], some), 1L)
  })
  structure(values, class = "data.frame", row.names = 1L)
}

# The orders that a report for one member may tell of: those of the member. What cannot be told
# apart by a column of the orders is not kept.
own_lines <- function(lines, page) {
  for (one in own_columns(page)) lines <- if (one$name %in% names(lines))
    lines[is_member(lines[[one$name]], one$value), , drop = FALSE]
  if (NROW(lines) > 0L) structure(lines, row.names = seq_len(nrow(lines)))
}

own_states <- function(states, page) {
  for (one in own_columns(page)) {
    at <- match(one$name, states$by)
    if (is.null(states) || is.na(at)) {
      return(NULL)
    }
    states$rows <- states$rows[is_member(states$rows[[paste0("by", at)]], one$value),
      , drop = FALSE]
  }
  states
}

is_member <- function(values, member) as.character(values) %in% as.character(member)

# The columns to whose members a daybook is limited beyond its report.
own_columns <- function(page) {
  lapply(own_conditions(page), function(one) {
    column <- one$tree$args[[1L]]
    given <- page$book$made$columns
    list(name = if (column$id %in% given) names(given)[match(column$id, given)] else "",
      value = one$tree$args[[2L]]$value)
  })
}

# What JSON tells of them; the values themselves are those of frame_of_orders().
said_of_orders <- function(kept) {
  states <- kept$states
  data <- frame_of_orders(kept)
  if (length(data) == 0L) {
    return(list())
  }
  list(
    key = kept$key,
    states = if (!is.null(states)) list(by = I(states$by),
      amounts = lapply(states$amounts, function(one) list(text = one$text, needs = I(one$needs))),
      date = states$date, some = I(names(states$some))),
    columns = I(names(data)),
    times = I(which(unname(vapply(data, inherits, NA, "POSIXct"))))
  )
}

# The columns that the file of a build holds: lines, or states and a value of each column that they
# were made of.
frame_of_orders <- function(kept) {
  states <- kept$states
  if (is.null(states)) as.list(kept$lines)
  else c(states$rows, lapply(states$some, function(value) value[rep(1L, nrow(states$rows))]))
}

# Columns may share a name, and times are whole in doubles alone.
write_orders_told <- function(columns, path) {
  plain <- lapply(columns, function(x) {
    if (is_coded(x)) expanded(x)
    else if (is.factor(x)) as.character(x)
    else if (is.character(x) || is.logical(x) || inherits(x, "Date")) x
    else if (inherits(x, "integer64")) plain_values(x)
    else as.numeric(unclass(x))
  })
  names(plain) <- as.character(seq_along(plain))
  nanoparquet::write_parquet(whole_frame(plain), path)
}

# What an earlier build kept; an empty list where it kept nothing, or it cannot be read.
told_orders <- function(told) {
  file <- paste0(told$stem, ".parquet")
  said <- told$orders
  if (!file.exists(file)) {
    return(list())
  }
  rlang::try_fetch({
    columns <- stats::setNames(read_orders_told(file), unlist(said$columns))
    times <- unlist(said$times)
    columns[times] <- lapply(columns[times], as.POSIXct, origin = "1970-01-01", tz = "UTC")
    if (is.null(said$states)) {
      return(list(lines = whole_frame(columns), key = unlist(said$key)))
    }
    some <- seq_along(said$states$some) + length(columns) - length(said$states$some)
    rows <- whole_frame(columns[setdiff(seq_along(columns), some)])
    rows$day <- as.integer(rows$day)
    date <- said$states$date
    date <- list(name = date$name, order = unlist(date$order),
      undated = as.character(unlist(date$undated)))
    list(states = new_day_states(rows, as.character(unlist(said$states$by)),
      lapply(said$states$amounts, lapply, unlist),
      date, whole_frame(lapply(columns[some], utils::head, 1L))))
  }, error = function(e) list())
}

# As any Parquet file is read, which may be damaged.
read_orders_told <- function(file) {
  facts <- parquet_facts(file)
  columns <- parquet_columns(file, seq_along(facts$names), facts)
  lapply(columns, function(x) if (is_coded(x)) expanded(x) else x)
}

whole_frame <- function(columns) {
  structure(columns, class = "data.frame", row.names = seq_along(columns[[1L]]))
}
