# Order lines of a database: what is fetched of them stays in a store, with a place by which they
# are told. Where a table has one whole number as its key, that is the place.

# The most order lines that are fetched: beside memory, what a person could look at.
most_lines_fetched <- function() min(5e6, allowed_memory() / 400)

new_store <- function() {
  store <- new.env(parent = emptyenv())
  store$places <- numeric()
  store$keys <- character()
  store$columns <- NULL
  store
}

# Some columns as they are selected; what no ask can read is shown as text.
selected_columns <- function(engine, names) {
  lapply(names, function(name) {
    x <- rlang::try_fetch(sql_of_source(engine, name), drystack_error_column = function(e) {
      sql_as_text(engine$db, name)
    })
    c(x, list(shown = TRUE))
  })
}

# Lines that need no place among the orders do not go through the store.
#' @export
lines_as_given.drystack_database_engine <- function(engine, ids, scope) {
  check_lines_fetched(engine, engine$rows)
  query <- new_query(engine)
  names <- vapply(ids, function(id) engine$meanings[[id]]$name, "")
  look_ahead(engine$db, names)
  x <- selected_columns(engine, names)
  out <- paste0(vapply(x, sql_out, "", db = engine$db), " AS c", seq_along(x), collapse = ", ")
  found <- database_rows(engine$db, paste0("SELECT ", out, " ", sql_from(query),
    sql_where(sql_conditions_met(query, scope))))
  unname(Map(values_out, found, x, MoreArgs = list(db = engine$db)))
}

# Lines that were fetched are asked in memory.
#' @export
engine_of_lines.drystack_database_engine <- function(engine, lines) frame_of_values(engine, lines)

# All columns of some order lines: list(columns: as they come out, key: the texts of their key).
fetched_columns <- function(engine, query, conditions) {
  names <- engine$db$columns
  x <- selected_columns(engine, names)
  out <- vapply(x, sql_out, "", db = engine$db)
  key <- sql_key(engine$db)
  selected <- c(paste0(out, " AS c", seq_along(out)), if (!is.null(key))
    paste0(key, " AS k", seq_along(key)))
  sorted <- if (!is.null(key)) paste0(" ORDER BY ", paste(key, collapse = ", "))
    else paste0(" ORDER BY ", paste(vapply(x, `[[`, "", "sql"), collapse = ", "))
  found <- database_rows(engine$db, paste0("SELECT ", paste(selected, collapse = ", "), " ",
    sql_from(query), sql_where(conditions), sorted))
  columns <- Map(values_out, found[seq_along(names)], x, MoreArgs = list(db = engine$db))
  list(columns = stats::setNames(columns, names), key = found[-seq_along(names)])
}

# The days of values of the date column.
days_of_values <- function(engine, values) {
  if (inherits(values, "Date")) as.integer(values) else local_days(values)
}

# Puts lines into the store, those that it has not yet; gives their places.
stored <- function(engine, fetched) {
  store <- engine$store
  rows <- length(fetched$columns[[1L]])
  key <- fetched$key
  single <- length(key) == 1L && is.numeric(key[[1L]])
  texts <- if (length(key) == 0L) paste0("n", length(store$keys) + seq_len(rows))
    else if (single) number_texts(key[[1L]]) else do.call(paste, c(key, sep = "\r"))
  check_key(engine, texts)
  known <- match(texts, store$keys)
  new <- is.na(known)
  places <- if (single) key[[1L]] else length(store$places) + cumsum(new)
  places[!new] <- store$places[known[!new]]
  store$keys <- c(store$keys, texts[new])
  store$places <- c(store$places, places[new])
  added <- lapply(fetched$columns, function(column) column[new])
  store$columns <- if (is.null(store$columns)) added else Map(c, store$columns, added)
  store$frame <- NULL
  places
}

check_key <- function(engine, texts) {
  twice <- unique(texts[duplicated(texts)])
  if (length(twice) > 0L) {
    raise("engine", c(
      paste0("The key ", quoted(paste(engine$db$key, collapse = ", ")),
        " does not tell order lines apart."),
      "x" = paste0("{length(twice)} value{?s} {?stands/stand} on several: ",
        "{examples_of(gsub('\r', ', ', twice))}."),
      ">" = "Name all columns that do: {.code orders_in(con, table, key = c(order_id, line))}."
    ))
  }
}

# The store as an engine in memory.
store_frame <- function(engine) {
  store <- engine$store
  if (is.null(store$frame)) store$frame <- frame_of_values(engine, store$columns)
  # Columns may have been worked out since.
  with_meanings(store$frame, engine, function(meaning) {
    list(kind = "source", values = store$columns[[meaning$name]])
  })
}

in_store <- function(engine, places) match(places, engine$store$places)

# Where the order lines of a part are: list(query, conditions).
part_sql <- function(engine, part) {
  query <- new_query(engine)
  conditions <- c(
    sql_conditions_met(query, part$job$scope),
    sql_days_of_job(query, part$job, part$book, part$from, part$to), sql_members(query, part)
  )
  for (condition in part$job$scope) {
    if (!is.null(condition$limit)) conditions <- c(conditions, sql_members(query, condition$limit))
  }
  list(query = query, conditions = conditions)
}

# Dated within some days; by another date only orders that the daybook sees.
sql_days_of_job <- function(query, job, book, from, to) {
  day <- sql_of_column(query, job$date$id)
  if (!is_day_kind(day$kind) && !day$kind %in% c("time", "zoned")) {
    read_days(values_out(character(), day, query$db), job$date$name)
  }
  within <- sql_within(query$db, day, from, to)
  if (job$date$name == book$date) {
    return(within)
  }
  own <- date_expression(query$engine)
  c(within, paste0(own$sql, " < ", sql_at_day(query$db, book$as_of + 1L, own$kind)))
}

# Of some members: each of the tables of places has a row that fits.
sql_members <- function(query, part) {
  vapply(part$members, function(table) {
    if (length(table) == 1L) {
      return(sql_any(sql_at_places(query, part, names(table), table[[1L]])))
    }
    columns <- lapply(names(table), function(name) {
      places <- unique(table[[name]])
      vapply(places, sql_at_place, "", query = query, part = part, name = name)[
        match(table[[name]], places)]
    })
    sql_any(do.call(paste, c(columns, sep = " AND ")))
  }, "")
}

# The conditions of which one has to hold: those of members that are values are one list.
sql_at_places <- function(query, part, name, places) {
  dimension <- part$dimensions[[name]]
  kept <- vapply(part$kept, function(kept) kept$dimension == name, NA)
  listed <- places <= length(dimension$members) & !by_day(dimension) & !any(kept)
  c(
    if (sum(listed) > 1L) sql_member(query, dimension, places[listed])
    else vapply(places[listed], sql_at_place, "", query = query, part = part, name = name),
    vapply(places[!listed], sql_at_place, "", query = query, part = part, name = name)
  )
}

# One of some conditions, in halves: databases limit how deep an expression may be.
sql_any <- function(conditions) {
  n <- length(conditions)
  if (n == 1L) {
    return(paste0("(", conditions, ")"))
  }
  first <- seq_len(n %/% 2L)
  paste0("(", sql_any(conditions[first]), " OR ", sql_any(conditions[-first]), ")")
}

# A dimension where it has the member at a place; after members were put together, these have the
# place behind the last one.
sql_at_place <- function(place, query, part, name) {
  dimension <- part$dimensions[[name]]
  kept <- Filter(function(kept) kept$dimension == name, part$kept)
  if (length(kept) > 0L) {
    kept <- kept[[1L]]
    if (place == kept$last + 1L) {
      own <- list(dimensions = part$dimensions, kept = list(), members = list(kept$places))
      return(paste0("NOT ", sql_members(query, own)))
    }
    if (place > kept$last) place <- place - 1L
    own <- list(dimensions = part$dimensions, kept = list())
    return(sql_at_place(place, query, own, name))
  }
  sql_member(query, dimension, place)
}

# At a place, or at one of several that all are members.
sql_member <- function(query, dimension, place) {
  x <- if (by_day(dimension)) NULL else sql_of_axis(query, dimension$axis)
  if (place[1L] > length(dimension$members)) {
    return(if (is.null(x)) "1 = 0" else paste0("(", x$sql, " IS NULL)"))
  }
  if (is.null(x)) {
    return(sql_days_of_part(query, dimension, place))
  }
  value <- dimension$values[dimension$place %in% place]
  constant <- if (x$kind == "hour") as.character(as.integer(value)) else sql_values(query$db, value)
  is <- if (length(constant) == 1L) paste(" =", constant)
    else paste0(" IN (", paste(constant, collapse = ", "), ")")
  paste0("coalesce(", sql_out_key(query$db, x), is, ", ", sql_values(query$db, FALSE), ")")
}

# A part of the date: the days of the record that are of it.
sql_days_of_part <- function(query, dimension, place) {
  facts <- query$engine$facts
  days <- facts$first:facts$last
  own <- place_of(part_factor(days, dimension$axis$part, dimension$axis$calendar), dimension)
  day <- sql_day(query$db, date_expression(query$engine))
  paste0("(", day, " IN (", paste(days[own %in% place], collapse = ", "), "))")
}

#' @export
count_lines.drystack_database_engine <- function(engine, part) {
  of <- part_sql(engine, part)
  plain_numbers(database_rows(engine$db, paste0("SELECT count(*) AS n ", sql_from(of$query),
    sql_where(of$conditions)))$n)
}

#' @export
order_lines.drystack_database_engine <- function(engine, part) {
  lines <- count_lines(engine, part)
  check_lines_fetched(engine, lines)
  of <- part_sql(engine, part)
  stored(engine, fetched_columns(engine, of$query, of$conditions))
}

check_lines_fetched <- function(engine, lines) {
  if (lines > most_lines_fetched()) {
    raise("engine", c(
      paste0("{format_count(lines)} order lines of ", braces_kept(engine$db$words),
        " would be fetched."),
      "x" = "{format_count(most_lines_fetched())} are allowed.",
      ">" = "Ask for fewer: limit the dates or the scope, or roll them up.",
      ">" = "More memory allows more lines: {.code options(drystack.memory = 64e9)}."
    ))
  }
}

#' @export
all_lines.drystack_database_engine <- function(engine) {
  if (is.null(engine$store$all)) {
    check_lines_fetched(engine, engine$rows)
    engine$store$all <- stored(engine, fetched_columns(engine, new_query(engine), NULL))
  }
  engine$store$all
}

#' @export
line_values.drystack_database_engine <- function(engine, tree, rows = NULL) {
  rows <- rows %||% all_lines(engine)
  line_values(store_frame(engine), tree, in_store(engine, rows))
}

#' @export
line_days.drystack_database_engine <- function(engine) {
  all <- all_lines(engine)
  line_days(store_frame(engine))[in_store(engine, all)]
}

#' @export
rows_of_orders.drystack_database_engine <- function(engine, rows) rows

#' @export
orders_part.drystack_database_engine <- function(engine, rows) {
  frame <- store_frame(engine)
  orders_part(frame, in_store(engine, rows))
}

#' @export
distinct_values.drystack_database_engine <- function(engine, part, tree) {
  of <- part_sql(engine, part)
  x <- sql_of(of$query, tree)
  found <- database_rows(engine$db, paste0("SELECT DISTINCT ", sql_out(engine$db, x), " AS v ",
    sql_from(of$query), sql_where(of$conditions)))
  values_out(found$v, x, engine$db)
}

# By the database's own SUM.
#' @export
sum_of_lines.drystack_database_engine <- function(engine, part, tree) {
  of <- part_sql(engine, part)
  x <- sql_of(of$query, tree)
  number <- is_number_kind(x$kind) || x$kind == "condition"
  sums <- if (number) paste0(", sum(", sql_double(engine$db, x), ") AS s, sum(abs(",
    sql_double(engine$db, x), ")) AS a")
  found <- database_rows(engine$db, paste0("SELECT count(", x$sql, ") AS n", sums, " ",
    sql_from(of$query), sql_where(of$conditions)))
  value <- function(x) if (is.null(x) || is.na(x)) 0 else plain_numbers(x)
  list(value = value(found$s), added = value(found$a), known = plain_numbers(found$n))
}
