# The columns of parts: read when they are asked for, kept in memory as long as they are few, and
# held to be the same kind in all parts.

# Some columns of a part by name, and what is to be learned of those that were read:
# list(columns, learned).
part_read <- function(engine, i, names) {
  columns <- lapply(stats::setNames(nm = names), function(name) engine$held[[held_key(i, name)]])
  missing <- names[vapply(columns, is.null, NA)]
  read <- if (length(missing) > 0L) columns_read(engine, i, missing)
  columns[missing] <- read
  told <- attr(read, "told")
  list(columns = columns, learned = lapply(missing, function(name) {
    c(column_learned(engine, i, name, columns[[name]]), list(told = told[[name]]))
  }))
}

part_columns <- function(engine, i, names) {
  read <- part_read(engine, i, names)
  for (learned in read$learned) learn_column(engine, i, learned)
  read$columns
}

held_key <- function(i, name) paste(i, name)

columns_read <- function(engine, i, names) {
  texts <- names(Filter(function(kind) kind == "text", engine$kinds))
  read <- engine$parts[[i]]$read(names, text = texts)
  columns <- read[names]
  columns[names %in% texts] <- lapply(columns[names %in% texts], as_texts)
  structure(columns, told = attr(read, "told"))
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

# Where few of them could be kept, handing them over takes longer than reading them again.
holds_columns <- function(engine) bytes_of_parts(engine) <= 4 * most_held()

bytes_of_parts <- function(engine) sum(vapply(engine$parts, function(part) part$bytes + 0, 0))

learn_column <- function(engine, i, learned) {
  settle_kind(engine, learned)
  if (length(learned$told) > 0L) engine$told_of[[learned$name]] <- unique(
    c(engine$told_of[[learned$name]], list(list(path = engine$parts[[i]]$path,
      told = learned$told))))
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
    engine$told_of[[name]] <- NULL
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

# The days of a part. Texts and numbers are read as those of all parts settle it; dates and
# date-times leave nothing to settle.
part_days <- function(engine, column) {
  texts <- is_coded(column)
  if (!texts && is.object(column)) {
    return(read_days(column, engine$date$name, engine$date$order, engine$date$undated))
  }
  if (is.null(engine$settled)) {
    if (is_apart()) rlang::abort("", class = "drystack_needs_all")
    engine$settled <- settled_days(engine)
  }
  days <- engine$settled$days[match(if (texts) column$texts else column, engine$settled$values)]
  if (texts) days[column$codes] else days
}

# The different values of the date column in all parts, and the day of each.
settled_days <- function(engine) {
  name <- engine$date$name
  values <- again_where_retyped(function() {
    lapply(seq_along(engine$parts), function(i) {
      column <- part_columns(engine, i, name)[[1L]]
      unique(if (is_coded(column)) column$texts else column)
    })
  })
  values <- unique(unlist(values))
  values <- values[!is.na(values)]
  dates <- read_dates(values, name, engine$date$order, engine$date$undated)
  engine$told <- c(engine$told, dates$told)
  list(values = values, days = as.integer(dates$days))
}
