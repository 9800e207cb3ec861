# The columns of parts: read when they are asked for, kept in memory as long as they are few, and
# held to be the same kind in all parts.

# Some columns of a part by name, and what is to be learned of those that were read:
# list(columns, learned).
part_read <- function(engine, i, names) {
  columns <- lapply(stats::setNames(nm = names), function(name) engine$held[[held_key(i, name)]])
  missing <- names[vapply(columns, is.null, NA)]
  if (length(missing) > 0L) columns[missing] <- columns_read(engine, i, missing)
  list(columns = columns,
    learned = lapply(missing, function(name) column_learned(engine, i, name, columns[[name]])))
}

part_columns <- function(engine, i, names) {
  read <- part_read(engine, i, names)
  for (learned in read$learned) learn_column(engine, i, learned)
  read$columns
}

held_key <- function(i, name) paste(i, name)

columns_read <- function(engine, i, names) {
  texts <- names(Filter(function(kind) kind == "text", engine$kinds))
  columns <- engine$parts[[i]]$read(names, text = texts)[names]
  columns[names %in% texts] <- lapply(columns[names %in% texts], as_texts)
  columns
}

# What is to be known of a column of a part: its kind, the texts it holds where not all are known,
# whether all of it is unknown, and the column itself where it may be kept.
column_learned <- function(engine, i, name, column) {
  bytes <- bytes_of(column)
  list(
    name = name, kind = kind_held(column), unknown = is.logical(column) && all(is.na(column)),
    texts = if (is_coded(column) && !name %in% engine$known_texts) column$texts,
    held = if (holds_columns(engine) && engine$bytes + bytes <= most_held()) column, bytes = bytes
  )
}

most_held <- function() allowed_memory() / 32

# Where few of them could be kept, handing them over takes longer than reading them again.
holds_columns <- function(engine) bytes_of_parts(engine) <= 4 * most_held()

bytes_of_parts <- function(engine) sum(vapply(engine$parts, function(part) part$bytes + 0, 0))

learn_column <- function(engine, i, learned) {
  settle_kind(engine, learned)
  if (is.null(learned$held) || engine$bytes + learned$bytes > most_held()) {
    return(invisible())
  }
  engine$bytes <- engine$bytes + learned$bytes
  assign(held_key(i, learned$name), learned$held, envir = engine$held)
}

# What a column holds must be the same in all parts: whole and other numbers are the same kind.
kind_held <- function(column) {
  if (is_coded(column) || is.character(column)) "text"
    else if (is.numeric(column) && !is.object(column)) "number"
    else class(column)[1L]
}

settle_kind <- function(engine, learned) {
  name <- learned$name
  kind <- learned$kind
  if (!is.null(learned$texts)) engine$texts[[name]] <- unique(
    c(engine$texts[[name]], learned$texts))
  known <- engine$kinds[[name]]
  if (kind == "logical" && (is.null(known) || learned$unknown)) {
    if (!learned$unknown) engine$kinds[[name]] <- kind
  } else if (is.null(known)) {
    engine$kinds[[name]] <- kind
  } else if (!identical(known, kind) && known != "text") {
    engine$kinds[[name]] <- "text"
    rm(list = intersect(held_key(seq_along(engine$parts), name), ls(engine$held)),
      envir = engine$held)
    rlang::abort("", class = "drystack_retyped")
  }
}

# A file with types of its own may hold numbers where others hold texts.
as_texts <- function(column) {
  if (is_coded(column) || is.character(column)) column
  else ifelse(is.na(column), NA_character_, member_text(column))
}

bytes_of <- function(column) {
  if (is_coded(column)) 4 * length(column$codes) + 64 * length(column$texts)
  else (if (is.integer(column) || is.logical(column)) 4 else 8) * length(column)
}

# The days of a part. Texts are read as those of all parts settle it.
part_days <- function(engine, column) {
  if (!is_coded(column)) {
    return(read_days(column, engine$date$name, engine$date$order, engine$date$undated))
  }
  if (is.null(engine$day_of_text)) {
    if (is_apart()) rlang::abort("", class = "drystack_needs_all")
    engine$day_of_text <- settled_days(engine)
  }
  unname(engine$day_of_text[column$texts])[column$codes]
}

# The day of each different text of the date column.
settled_days <- function(engine) {
  name <- engine$date$name
  texts <- again_where_retyped(function() {
    lapply(seq_along(engine$parts), function(i) {
      column <- part_columns(engine, i, name)[[1L]]
      if (is_coded(column)) column$texts else unique(as.character(column))
    })
  })
  texts <- unique(unlist(texts))
  texts <- texts[!is.na(texts)]
  dates <- read_dates(texts, name, engine$date$order, engine$date$undated)
  engine$told <- c(engine$told, dates$told)
  stats::setNames(as.integer(dates$days), texts)
}
