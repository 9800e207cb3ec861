# PostgreSQL, through RPostgres: types are declared.

open_postgresql <- function(text, user, password) {
  address <- database_address(text)
  check_packages("RPostgres", "PostgreSQL", "postgresql", "database")
  given <- list(host = address$host, port = address$port, dbname = address$name, user = user,
    password = password,
    connect_timeout = as.character(database_patience()), timezone = "UTC", check_interrupts = TRUE)
  given <- Filter(function(x) !is.null(x) && nzchar(x), given)
  con <- rlang::try_fetch(do.call(DBI::dbConnect, c(list(RPostgres::Postgres()), given)),
    error = function(e) {
      raise("database", c(paste0("The database ", quoted(safe_words(text)), " cannot be reached."),
        "x" = braces_kept(trimws(conditionMessage(e)))))
    })
  db <- new_database(con, "drystack_postgresql")
  db$own <- TRUE
  db
}

# A query that was given with a report runs in a transaction that may only read; our own temporary
# tables are made in one that may write. On a connection of the user nothing of ours may spoil a
# transaction that is under way.
#' @export
within_access.drystack_postgresql <- function(db, writes, ask) {
  if (isTRUE(db$own)) {
    DBI::dbExecute(db$con, if (writes) "BEGIN READ WRITE" else "BEGIN READ ONLY")
    done <- FALSE
    on.exit(DBI::dbExecute(db$con, if (done) "COMMIT" else "ROLLBACK"))
    answer <- ask()
    done <- TRUE
    return(answer)
  }
  # Outside a transaction there is nothing to be spoilt, and no savepoint.
  saved <- rlang::try_fetch({
    DBI::dbExecute(db$con, "SAVEPOINT drystack")
    TRUE
  }, error = function(e) {
    if (grepl("transaction block", conditionMessage(e), fixed = TRUE)) FALSE else stop(e)
  })
  if (!saved) {
    return(ask())
  }
  done <- FALSE
  on.exit({
    if (!done) DBI::dbExecute(db$con, "ROLLBACK TO SAVEPOINT drystack")
    DBI::dbExecute(db$con, "RELEASE SAVEPOINT drystack")
  })
  answer <- ask()
  done <- TRUE
  answer
}

# Those of which something may be read.
#' @export
tables_in.drystack_postgresql <- function(db) {
  word <- function(name) {
    paste0("CASE WHEN ", name, " ~ '[.\"]' THEN '\"' || replace(", name,
      ", '\"', '\"\"') || '\"' ELSE ", name, " END")
  }
  unlist(database_rows(db, paste0(
    "SELECT CASE WHEN pg_table_is_visible(c.oid) THEN ", word("c.relname"), " ELSE ",
    word("n.nspname"), " || '.' || ", word("c.relname"),
    " END AS v FROM pg_class c JOIN pg_namespace n ON n.oid = ",
    "c.relnamespace WHERE c.relkind IN ('r', 'p', 'v', 'm', 'f') AND n.nspname !~ '^pg_' AND ",
      "n.nspname <> ",
    "'information_schema' AND has_any_column_privilege(c.oid, 'SELECT') ORDER BY 1")),
    use.names = FALSE)
}

# Of a table the columns that may be read.
#' @export
columns_in.drystack_postgresql <- function(db) {
  if (is.null(db$table)) {
    return(NextMethod())
  }
  names <- database_rows(db, paste0("SELECT attname::text AS v FROM pg_attribute WHERE attrelid = ",
    sql_values(db, db$relation), "::regclass AND attnum > 0 AND NOT attisdropped AND ",
    "has_column_privilege(attrelid, attnum, 'SELECT') ORDER BY attnum"))$v
  if (length(names) == 0L) {
    user <- database_rows(db, "SELECT current_user::text AS v")$v
    raise("database", c(paste0(quoted(user), " has no right to read ", braces_kept(db$words), "."),
      ">" = "Ask the database's owner to grant SELECT on it."),
      no_right = TRUE)
  }
  names
}

# Where no table may be made the values stand in the query itself.
#' @export
database_table.drystack_postgresql <- function(db, keys, values) {
  rlang::try_fetch(NextMethod(), drystack_error_database = function(e) {
    if (!grepl("permission denied|read-only transaction", conditionMessage(e))) {
      return(rlang::zap())
    }
    name <- new_table_name()
    list(name = name, from = paste0("(SELECT CAST(k AS ", sql_type_of(db, keys),
      ") AS k, CAST(v AS ",
      sql_type_of(db, values), ") AS v FROM (VALUES ", sql_pairs(db, keys, values),
      ") w(k, v)) ", name))
  })
}

# A line that was changed has a later transaction; a view does not say it. The lines are looked at
# again where a transaction has ended since, or one of the connection's own is under way.
#' @export
orders_token.drystack_postgresql <- function(db) {
  if (!is_of_lines(db)) {
    return(NextMethod())
  }
  now <- database_rows(db,
    "SELECT txid_current_snapshot()::text AS v, txid_current_if_assigned() IS NULL AS quiet")
  if (now$quiet && identical(now$v, db$looked_at$snapshot)) {
    return(db$looked_at$token)
  }
  found <- database_rows(db, paste0(
    "SELECT count(*)::text AS n, max(o.xmin::text::bigint)::text AS x FROM ", db$relation, " o"))
  token <- paste(unlist(found), collapse = " ")
  db$looked_at <- list(snapshot = now$v, token = token)
  token
}

# Whether the lines themselves are read, not a view or a query of them.
is_of_lines <- function(db) {
  if (is.null(db$of_lines)) {
    db$of_lines <- !is.null(db$table) && isTRUE(database_rows(db,
      paste0("SELECT relkind IN ('r', 'm', 'p') AND has_table_privilege(oid, 'SELECT') AS v ",
      "FROM pg_class WHERE oid = ", sql_values(db, db$relation), "::regclass"))$v)
  }
  db$of_lines
}

#' @export
primary_key.drystack_postgresql <- function(db) {
  if (is.null(db$table)) {
    return(NULL)
  }
  found <- database_rows(db,
    paste0("SELECT a.attname::text AS v FROM pg_index i JOIN pg_attribute a ON a.attrelid = ",
    "i.indrelid AND a.attnum = ANY (i.indkey) WHERE i.indisprimary AND i.indrelid = ",
    sql_values(db, db$relation),
    "::regclass ORDER BY array_position(i.indkey::int[], a.attnum::int)"))$v
  if (length(found) > 0L && all(found %in% db$columns)) found
}

#' @export
column_kind_in.drystack_postgresql <- function(db, name) {
  types <- db$types
  if (is.null(types)) {
    rows <- types_of_columns(db)
    types <- db$types <- stats::setNames(rows$type, rows$name)
  }
  type <- types[[name]]
  if (endsWith(type, "[]")) type <- paste("an array,", type)
  if (grepl("^(integer|smallint|bigint)", type)) whole_or_text(db, name, type)
  else if (startsWith(type, "numeric")) finite_or_text(db, name, "decimal")
  else if (grepl("^(real|double precision)", type)) finite_or_text(db, name, "number")
  else if (type == "boolean") "condition"
  else if (type == "date") finite_days(db, name, "date")
  else if (grepl("^timestamp.*with time zone", type)) finite_days(db, name, "zoned")
  else if (startsWith(type, "timestamp")) finite_days(db, name, "time")
  else if (grepl(types_of_text, type)) text_or_days(db, name)
  else raise("column", c(paste0("Column ", quoted(name), " of ", braces_kept(db$words),
    " cannot be read."),
    "x" = paste0("Its type is ", braces_kept(type), "."),
      ">" = "Turn it into a number, a date or text in a query."))
}

# What is text, or means what its text says.
types_of_text <- "^(text|character|name|citext|uuid|enum|inet|cidr|macaddr|time |bit|xml)"

# Of domains the type they are made of.
types_of_columns <- function(db) {
  columns <- if (is.null(db$table)) sql_types_of_query(db) else sql_types_of_table(db)
  as.data.frame(database_rows(db, paste0(
    "WITH RECURSIVE base(name, type, mod) AS (SELECT name, type, mod FROM ", columns,
    " UNION ALL SELECT b.name, t.typbasetype, t.typtypmod FROM base b JOIN pg_type t ON t.oid = ",
      "b.type ",
    "WHERE t.typtype = 'd') SELECT b.name::text AS name, CASE WHEN t.typtype = 'e' THEN 'enum' ",
      "ELSE ",
    "format_type(b.type, b.mod) END AS type FROM base b JOIN pg_type t ON t.oid = b.type ",
    "WHERE t.typtype <> 'd'")))
}

sql_types_of_table <- function(db) {
  paste0("(SELECT attname::text AS name, atttypid AS type, atttypmod AS mod FROM pg_attribute ",
    "WHERE attnum > 0 ",
    "AND NOT attisdropped AND attrelid = ", sql_values(db, db$relation), "::regclass) a")
}

sql_types_of_query <- function(db) {
  described <- asked(db, db$relation, function() {
    within_access(db, FALSE, function() described_query(db))
  })
  paste0("(VALUES ", paste0("(", sql_values(db, described$name), ", ", described$.oid, "::oid, -1)",
    collapse = ", "), ") a(name, type, mod)")
}

# The names and the numbers of the types of what a query gives.
described_query <- function(db) {
  result <- DBI::dbSendQuery(db$con, paste0("SELECT * FROM ", db$relation, " o WHERE 1 = 0"))
  on.exit(DBI::dbClearResult(result))
  DBI::dbColumnInfo(result)[c("name", ".oid")]
}

whole_or_text <- function(db, name, type) {
  if (type != "bigint") {
    return("whole")
  }
  x <- paste0("o.", sql_name(db, name))
  largest <- database_rows(db, paste0("SELECT max(abs(", x,
    "::numeric))::float8 AS v FROM ", db$relation, " o"))$v
  if (!is.na(largest) && largest >= 2^53) "large" else "whole"
}

# What is no number counts as unknown.
finite_or_text <- function(db, name, kind) {
  x <- paste0("o.", sql_name(db, name))
  odd <- database_rows(db, paste0("SELECT count(*) AS n FROM ", db$relation, " o WHERE ", x,
    "::float8 IN ('NaN', 'Infinity', '-Infinity')"))$n
  db$odd[[name]] <- as.numeric(odd) > 0
  kind
}

# An infinite day is no day of a calendar, and counts as unknown.
finite_days <- function(db, name, kind) {
  odd <- database_rows(db, paste0("SELECT count(*) AS n FROM ", db$relation, " o WHERE o.",
    sql_name(db, name),
    " IN ('infinity', '-infinity')"))$n
  db$infinite[[name]] <- as.numeric(odd) > 0
  kind
}

text_or_days <- function(db, name) {
  x <- known_text_sql(db, name)
  form <- paste0(x, " ~ '^[12][0-9]{3}-(0[1-9]|1[0-2])-(0[1-9]|[12][0-9]|3[01])$'")
  odd <- database_rows(db, paste0("SELECT 1 AS v FROM ", db$relation, " o WHERE NOT ",
    form, " LIMIT 1"))$v
  if (length(odd) > 0L) {
    return("text")
  }
  all <- database_rows(db, paste0("SELECT DISTINCT ", x, " AS v FROM ", db$relation, " o WHERE ", x,
    " IS NOT NULL LIMIT 100000"))$v
  if (length(all) %in% c(0L, 1e5) || anyNA(iso_days(all))) "text" else "iso"
}

# Texts without the blank ones, and in the date column without what was said to mean no date.
known_text_sql <- function(db, name) {
  words <- if (identical(name, db$undated$name)) db$undated$words
  x <- paste0("o.", sql_name(db, name), "::text")
  paste0("(CASE WHEN btrim(", x, ") NOT IN (", paste(sql_values(db, c("", words)), collapse = ", "),
    ") THEN ", x, " END)")
}

#' @export
sql_column.drystack_postgresql <- function(db, name, kind) {
  x <- paste0("o.", sql_name(db, name))
  if (kind == "text") paste0("(", x, "::text COLLATE \"C\")")
  else if (kind == "iso") paste0("(", known_text_sql(db, name), " COLLATE \"C\")")
  else if (isTRUE(db$odd[[name]])) paste0("(CASE WHEN ", x,
    "::float8 NOT IN ('NaN', 'Infinity', '-Infinity') THEN ", x, " END)")
  else if (isTRUE(db$infinite[[name]])) paste0("(CASE WHEN isfinite(", x, ") THEN ", x, " END)")
  else x
}

# The ends of each cell by one grouping, where one whole number is the key, and then their lines.
#' @export
ends_in.drystack_postgresql <- function(db, inner, from, group, sorts, value) {
  if (length(db$key) != 1L || column_kind_in(db, db$key) != "whole") {
    return(NextMethod())
  }
  at <- paste0("(ARRAY[", paste0(sorts, "::bigint", collapse = ", "), "])")
  known <- paste0(from, " AND ", inner[[value]], " IS NOT NULL")
  ends <- database_rows(db, sql_query(db, inner, known, c(own_names(group),
    ds_least = paste0("(min(", at, "))[2]"), ds_most = paste0("(max(", at, "))[2]")), group))
  keys <- unique(c(ends$ds_least, ends$ds_most))
  if (length(keys) > most_ends_said) {
    return(NextMethod())
  }
  if (length(keys) == 0L) keys <- 0
  own <- paste0(known, " AND ", inner[[sorts[2L]]], " IN (", paste(format(keys, scientific = FALSE,
    trim = TRUE),
    collapse = ", "), ")")
  database_rows(db, sql_query(db, inner, own, own_names(names(inner)), tail = paste(" ORDER BY",
    paste(sorts, collapse = ", "))))
}

most_ends_said <- 50000L

#' @export
sql_double.drystack_postgresql <- function(db, x) {
  if (x$kind == "condition") paste0("(", x$sql, ")::int::float8")
  else if (is_day_kind(x$kind)) paste0("(", sql_day(db, x), ")::float8")
  else if (x$kind == "number" && grepl("^[-0-9.e+]+$", x$sql)) paste0("'", x$sql, "'::float8")
  else if (x$kind == "number") x$sql
  else paste0("(", x$sql, ")::float8")
}

#' @export
sql_day.drystack_postgresql <- function(db, x) {
  switch(x$kind,
    date = paste0("(", x$sql, " - DATE '1970-01-01')"),
    iso = paste0("(", x$sql, "::date - DATE '1970-01-01')"),
    time = paste0("(", x$sql, "::date - DATE '1970-01-01')"),
    zoned = paste0("((", x$sql, " AT TIME ZONE ", sql_values(db, db$zone),
      ")::date - DATE '1970-01-01')"),
    days = paste0("floor(", x$sql, ")::int"),
    serial = paste0("(floor(", x$sql, ")::int - 25569)")
  )
}

#' @export
sql_at_day.drystack_postgresql <- function(db, day, kind) {
  if (kind != "zoned") {
    return(NextMethod())
  }
  paste0("(TIMESTAMP '", format(as_day_date(day)), " 00:00:00' AT TIME ZONE ",
    sql_values(db, db$zone), ")")
}

#' @export
sql_seconds.drystack_postgresql <- function(db, x) paste0("EXTRACT(EPOCH FROM ", x$sql, ")::float8")

#' @export
sql_hour.drystack_postgresql <- function(db, x) {
  local <- if (x$kind == "zoned") paste0("(", x$sql, " AT TIME ZONE ", sql_values(db, db$zone), ")")
    else x$sql
  paste0("EXTRACT(HOUR FROM ", local, ")::int")
}

#' @export
sql_text_type.drystack_postgresql <- function(db) "TEXT"

#' @export
sql_exact_sum.drystack_postgresql <- function(db, name, x) paste0("sum(", name, ")::text")
