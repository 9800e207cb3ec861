# SQLite: a column may hold values of any type, so kinds are settled by what it holds.

open_sqlite <- function(text, user, password) {
  path <- sub("^sqlite:(//)?", "", text)
  check_packages("RSQLite", "SQLite", "sqlite", "database")
  if (path != ":memory:" && kernel_file_kind(path.expand(path)) != "file") {
    raise("database", c(
      if (file.exists(path)) "{.val {path}} is not a database file." else paste0("There is no ",
        "file {.val {path}}."),
      "i" = paste0("Paths are taken from ", quoted(getwd()), ".")))
  }
  con <- rlang::try_fetch(
    DBI::dbConnect(RSQLite::SQLite(), path, flags = RSQLite::SQLITE_RO,
      loadable.extensions = FALSE),
    error = function(e) {
      raise("database", c("{.val {path}} cannot be opened.",
        "x" = braces_kept(conditionMessage(e))))
    }
  )
  db <- new_database(con, "drystack_sqlite")
  asked(db, path, function() DBI::dbGetQuery(con, "SELECT count(*) FROM sqlite_master"))
  asked(db, path, function() DBI::dbExecute(con, "PRAGMA query_only = ON"))
  db$own <- TRUE
  db
}

# A file that we opened is read only; our own temporary tables are written with the lock taken off.
#' @export
within_access.drystack_sqlite <- function(db, writes, ask) {
  if (!writes) {
    return(ask())
  }
  own <- isTRUE(db$own)
  if (own) DBI::dbExecute(db$con, "PRAGMA query_only = OFF")
  before <- changes_in(db)
  on.exit({
    db$own_changes$count <- db$own_changes$count + changes_in(db) - before
    if (own) DBI::dbExecute(db$con, "PRAGMA query_only = ON")
  })
  ask()
}

# It counts what this connection has changed, and knows of what others have; our own tables are
# no orders.
#' @export
orders_token.drystack_sqlite <- function(db) {
  paste(database_rows(db, "PRAGMA data_version")$data_version,
    changes_in(db) - (db$own_changes$count %||% 0))
}

changes_in <- function(db) plain_numbers(DBI::dbGetQuery(db$con, "SELECT total_changes() AS n")$n)

# The number of the row tells the lines of a table; views and queries have none.
#' @export
primary_key.drystack_sqlite <- function(db) {
  if (is.null(db$table)) {
    return(NULL)
  }
  has_rows <- rlang::try_fetch({
    DBI::dbGetQuery(db$con, paste0("SELECT o.rowid FROM ", db$relation, " o LIMIT 1"))
    type <- DBI::dbGetQuery(db$con, paste0("SELECT type FROM sqlite_master WHERE name = ",
      sql_values(db, db$table[length(db$table)])))$type
    identical(type, "table") && !"rowid" %in% tolower(db$columns)
  }, error = function(e) FALSE)
  if (has_rows) "rowid"
}

#' @export
sql_key.drystack_sqlite <- function(db) {
  if (identical(db$key, "rowid")) "o.rowid" else NextMethod()
}

# SQLite sorts numbers before texts and texts before bytes: the ends of a column tell its types.
#' @export
column_kind_in.drystack_sqlite <- function(db, name) {
  x <- paste0("o.", sql_name(db, name))
  found <- db$ends[[name]] %||% column_ends(db, x)[[1L]]
  if (may_hold_blanks(db, name, found)) {
    found <- column_ends(db, paste0("CASE WHEN NOT ", is_blank_sql(db, name, x), " THEN ",
      x, " END"))[[1L]]
    db$blanks[[name]] <- TRUE
  }
  if (found$most == "blob") raise("column", paste0("Column ", quoted(name),
    " holds bytes that are not text."))
  db$odd[[name]] <- found$real > 0 && any(is.infinite(plain_numbers(unlist(found[c("a", "b")]))))
  if (found$most == "text") check_no_zero_in_texts(db, name, x)
  if (found$most == "null") kind_of_nothing(db, name)
  else if (found$most == "text") kind_of_texts(db, name, found)
  else if (found$real > 0) "number"
  else whole_kind(db, name, max(abs(plain_numbers(unlist(found[c("a", "b")])))))
}

# R's texts end at a zero byte: members that differ behind one would be put together.
check_no_zero_in_texts <- function(db, name, x) {
  zero <- database_rows(db, paste0("SELECT count(*) AS n FROM ", db$relation, " o WHERE typeof(", x,
    ") = 'text' AND instr(CAST(", x, " AS BLOB), x'00') > 0"))$n
  if (plain_numbers(zero) > 0) {
    raise("column", c(paste0("Column ", quoted(name), " of ", braces_kept(db$words),
      " holds texts with a byte 0 in them."), "x" = paste0("They stand on ",
      counted_lines(plain_numbers(zero)), "."),
      ">" = "Mend them in the database, or cut them in a query of your own."))
  }
}

# Sums of small ones stay within 64 bits, however many there are.
whole_kind <- function(db, name, largest) {
  db$small[[name]] <- largest < 2^31
  if (largest >= 2^53) "large" else if (is_declared(db, name, "BOOL")) "condition" else "whole"
}

# The least and the greatest of some expressions and what they are, in one pass.
column_ends <- function(db, x) {
  asked <- paste0("min(", x, "), max(", x, "), typeof(min(", x, ")), typeof(max(", x,
    ")), coalesce(max(typeof(", x, ") = 'real'), 0)")
  found <- database_rows(db, paste0("SELECT ", paste(asked, collapse = ", "), " FROM ",
    db$relation, " o"))
  lapply(seq_along(x), function(i) {
    stats::setNames(as.list(found)[(i - 1L) * 5L + 1:5], c("a", "b", "least", "most", "real"))
  })
}

# What is looked at of columns is looked at together.
#' @export
look_ahead.drystack_sqlite <- function(db, names) {
  names <- setdiff(names, names(db$ends))
  if (length(names) > 1L) {
    db$ends[names] <- column_ends(db, paste0("o.", vapply(names, sql_name, "", db = db)))
  }
}

# A column without a value is what it was declared to be.
kind_of_nothing <- function(db, name) {
  type <- declared_type(db, name)
  if (grepl("CHAR|TEXT|CLOB", type)) "text"
  else if (startsWith(type, "DATE") || startsWith(type, "TIMESTAMP")) "iso"
  else if (startsWith(type, "BOOL")) "condition"
  else "number"
}

# Texts among numbers or days may be empty ones.
may_hold_blanks <- function(db, name, found) {
  if (found$most != "text" || (found$least == "text" && all(is_day_text(c(found$a, found$b))))) {
    return(FALSE)
  }
  found$least != "text" || is_day_text(found$b) || identical(name, db$undated$name)
}

# Texts are days where all of them are.
kind_of_texts <- function(db, name, found) {
  if (found$least != "text" || !all(is_day_text(c(found$a, found$b)))) {
    return("text")
  }
  x <- sql_column(db, name, "iso")
  all <- database_rows(db, paste0("SELECT DISTINCT ", x, " AS v FROM ", db$relation, " o WHERE ", x,
    " IS NOT NULL LIMIT 500001"))$v
  if (length(all) > 5e5 || !all(is_day_text(all))) "text"
  else if (all(nchar(all) == 10L)) "iso"
  else if (!all(grepl(clock_text, all))) if (is_declared_time(db, name)) "iso" else "text_zone"
  else if (is_declared_time(db, name)) "time"
  else "text_time"
}

# A day, and a time of it without a zone.
clock_text <- paste0("^[0-9]{4}-[0-9]{2}-[0-9]{2}([T ",
  "]([01][0-9]|2[0-3]):[0-5][0-9](:[0-5][0-9]([.][0-9]+)?)?)?$")

is_day_text <- function(texts) {
  texts[!validUTF8(texts)] <- ""
  days <- suppressWarnings(iso_days(substr(texts, 1L, 10L)))
  !is.na(days) & grepl("^[0-9]{4}-[0-9]{2}-[0-9]{2}($|[T ])", texts)
}

# Empty texts, as imported files have them where nothing is known; in the date column what was said
# to mean no date, too.
is_blank_sql <- function(db, name, x) {
  words <- if (identical(name, db$undated$name)) db$undated$words
  paste0("(typeof(", x, ") = 'text' AND trim(", x, ") IN (", paste(sql_values(db, c("", words)),
    collapse = ", "), "))")
}

declared_type <- function(db, name) {
  if (is.null(db$table)) {
    return("")
  }
  types <- database_rows(db, paste0("PRAGMA table_info(", db$relation, ")"))
  toupper(types$type[match(name, types$name)] %||% "")
}

is_declared <- function(db, name, type) isTRUE(startsWith(declared_type(db, name), type))

is_declared_time <- function(db, name) {
  is_declared(db, name, "DATETIME") || is_declared(db, name, "TIMESTAMP")
}

# Of texts that may be declared to compare otherwise, the bytes count.
#' @export
sql_column.drystack_sqlite <- function(db, name, kind) {
  x <- paste0("o.", sql_name(db, name))
  if (kind != "text") {
    known <- c(
      if (isTRUE(db$blanks[[name]])) paste("NOT", is_blank_sql(db, name, x)),
      if (isTRUE(db$odd[[name]])) paste0("abs(", x, ") <= 1.7976931348623157e308")
    )
    return(if (length(known) > 0L) paste0("(CASE WHEN ",
      paste(known, collapse = " AND "), " THEN ", x, " END)") else x)
  }
  paste0("(CAST(", x, " AS TEXT) COLLATE BINARY)")
}

#' @export
sql_double.drystack_sqlite <- function(db, x) {
  if (is_day_kind(x$kind)) paste0("CAST(", sql_day(db, x), " AS REAL)") else paste0("CAST(", x$sql,
    " AS REAL)")
}

# A date-time is a text of a day with a time.
#' @export
sql_seconds.drystack_sqlite <- function(db, x) {
  part <- function(form, type) paste0("CAST(strftime('", form, "', ", x$sql, ") AS ", type, ")")
  paste0("(", part("%s", "INTEGER"), " - ", part("%S", "INTEGER"), " + ", part("%f", "REAL"), ")")
}

#' @export
sql_hour.drystack_sqlite <- function(db, x) paste0("CAST(strftime('%H', ", x$sql, ") AS INTEGER)")

#' @export
sql_at_day.drystack_sqlite <- function(db, day, kind) {
  sql_at_day.drystack_database(db, day, if (kind == "time") "iso" else kind)
}

#' @export
sql_day.drystack_sqlite <- function(db, x) {
  switch(x$kind,
    iso = , time = paste0("CAST(julianday(substr(", x$sql, ", 1, 10)) - 2440587.5 AS INTEGER)"),
    days = paste0("CAST(", x$sql, " AS INTEGER)"),
    serial = paste0("(CAST(", x$sql, " AS INTEGER) - 25569)")
  )
}

#' @export
sql_text_type.drystack_sqlite <- function(db) "TEXT"

# Bytes by their digits.
#' @export
sql_as_text.drystack_sqlite <- function(db, name) {
  new_sql(paste0("hex(o.", sql_name(db, name), ")"), "text")
}

#' @export
sql_exact_sum.drystack_sqlite <- function(db, name, x) {
  if (isTRUE(x$small)) {
    return(paste0("CAST(sum(", name, ") AS TEXT)"))
  }
  # It refuses sums beyond 64 bits: the upper and lower halves of numbers are added up apart.
  sum <- paste0("(sum(", name, " >> 32) * 4294967296 + sum(", name, " & 4294967295))")
  paste0("CASE typeof(", sum, ") WHEN 'real' THEN printf('%!.17g', ", sum, ") ELSE CAST(", sum,
    " AS TEXT) END")
}

# Filled by parameters, so that numbers stay what they are.
#' @export
database_table.drystack_sqlite <- function(db, keys, values) {
  name <- new_table_name()
  type <- function(x) if (is.numeric(x)) "REAL" else if (is.logical(x)) "INTEGER" else "TEXT"
  database_run(db, paste0("DROP TABLE IF EXISTS temp.", name))
  database_run(db, paste0("CREATE TEMPORARY TABLE ", name, " (k ", type(keys), " PRIMARY KEY, v ",
    type(values),
    ") WITHOUT ROWID"))
  params <- list(if (is.logical(keys)) as.integer(keys) else keys,
    if (is.logical(values)) as.integer(values)
    else values)
  # A savepoint stands within a transaction of the user's as it does without one.
  put <- function() {
    DBI::dbExecute(db$con, "SAVEPOINT drystack")
    on.exit(DBI::dbExecute(db$con, "RELEASE drystack"))
    DBI::dbExecute(db$con, paste0("INSERT INTO temp.", name, " VALUES (?, ?)"), params = params)
  }
  asked(db, name, function() within_access(db, TRUE, put))
  list(name = name, from = name)
}
