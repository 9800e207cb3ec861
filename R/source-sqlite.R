# SQLite: a column may hold values of any type, so kinds are settled by what it holds.

open_sqlite <- function(text, user, password) {
  path <- sub("^sqlite:(//)?", "", text)
  needs_package("RSQLite", "SQLite")
  if (path != ":memory:" && !file.exists(path)) {
    raise("database", c("There is no file {.val {path}}.", "i" = paste0("Paths are taken from ", quoted(getwd()), ".")))
  }
  con <- rlang::try_fetch(
    DBI::dbConnect(RSQLite::SQLite(), path, flags = RSQLite::SQLITE_RO),
    error = function(e) raise("database", c("{.val {path}} cannot be opened.", "x" = braces_kept(conditionMessage(e))))
  )
  db <- new_database(con, "drystack_sqlite")
  asked(db, path, function() DBI::dbGetQuery(con, "SELECT COUNT(*) FROM sqlite_master"))
  db
}

needs_package <- function(package, what) {
  if (!requireNamespace(package, quietly = TRUE)) {
    raise("database", c("The package {.pkg {package}} is needed to read {what}.",
      ">" = "{.code install.packages(\"{package}\")}"))
  }
}

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

#' @export
column_kind_in.drystack_sqlite <- function(db, name) {
  x <- paste0("o.", sql_name(db, name))
  text <- paste0("typeof(", x, ") = 'text'")
  count <- function(condition) paste0("COALESCE(SUM(", condition, "), 0)")
  day <- paste0("substr(", x, ", 1, 10)")
  is_day <- paste0("(", x, " GLOB '[12][0-9][0-9][0-9]-[01][0-9]-[0-3][0-9]*' AND date(", day, ") = ", day, ")")
  found <- database_rows(db, paste0(
    "SELECT COUNT(", x, ") AS n, ", count(text), " AS texts, ", count(paste0("typeof(", x, ") = 'real'")), " AS reals, ",
    count(paste0("typeof(", x, ") = 'blob'")), " AS blobs, ", count(paste0("(", text, " AND ", is_day, ") IS TRUE")),
    " AS days, ", count(paste0(text, " AND length(", x, ") > 10")), " AS timed, MAX(CASE WHEN typeof(", x,
    ") = 'integer' THEN ABS(", x, ") END) AS largest FROM ", db$relation, " o"
  ))
  if (found$blobs > 0) raise("column", paste0("Column ", quoted(name), " holds bytes that are no text."))
  if (found$texts > 0 || found$n == 0) {
    days <- found$n > 0 && found$days == found$n
    return(if (days && (found$timed == 0 || is_declared_time(db, name))) "iso" else if (days) "text_time" else "text")
  }
  if (found$reals > 0) {
    return("number")
  }
  if (!is.na(found$largest) && found$largest >= 2^53) {
    return("text")
  }
  if (is_declared(db, name, "BOOL")) "condition" else "whole"
}

declared_type <- function(db, name) {
  if (is.null(db$table)) {
    return("")
  }
  types <- database_rows(db, paste0("PRAGMA table_info(", db$relation, ")"))
  toupper(types$type[match(name, types$name)] %||% "")
}

is_declared <- function(db, name, type) isTRUE(startsWith(declared_type(db, name), type))

is_declared_time <- function(db, name) is_declared(db, name, "DATETIME") || is_declared(db, name, "TIMESTAMP")

# Of texts that may be declared to compare otherwise, the bytes count.
#' @export
sql_column.drystack_sqlite <- function(db, name, kind) {
  x <- paste0("o.", sql_name(db, name))
  if (kind != "text") {
    return(x)
  }
  paste0("(CAST(", x, " AS TEXT) COLLATE BINARY)")
}

#' @export
sql_double.drystack_sqlite <- function(db, x) {
  if (is_day_kind(x$kind)) paste0("CAST(", sql_day(db, x), " AS REAL)") else paste0("CAST(", x$sql, " AS REAL)")
}

#' @export
sql_day.drystack_sqlite <- function(db, x) {
  switch(x$kind,
    iso = paste0("CAST(julianday(substr(", x$sql, ", 1, 10)) - 2440587.5 AS INTEGER)"),
    days = paste0("CAST(", x$sql, " AS INTEGER)"),
    serial = paste0("(CAST(", x$sql, " AS INTEGER) - 25569)")
  )
}

#' @export
sql_exact_sum.drystack_sqlite <- function(db, sql, kind) paste0("CAST(SUM(", sql, ") AS TEXT)")

# Filled by parameters, so that numbers stay what they are.
#' @export
database_table.drystack_sqlite <- function(db, keys, values) {
  name <- paste0("drystack_", db$tables <- (db$tables %||% 0L) + 1L)
  type <- function(x) if (is.numeric(x)) "REAL" else if (is.logical(x)) "INTEGER" else "TEXT"
  database_run(db, paste0("DROP TABLE IF EXISTS temp.", name))
  database_run(db, paste0("CREATE TEMPORARY TABLE ", name, " (k ", type(keys), " PRIMARY KEY, v ", type(values),
    ") WITHOUT ROWID"))
  asked(db, name, function() {
    DBI::dbWithTransaction(db$con, DBI::dbExecute(db$con, paste0("INSERT INTO temp.", name, " VALUES (?, ?)"),
      params = list(if (is.logical(keys)) as.integer(keys) else keys, if (is.logical(values)) as.integer(values) else values)))
  })
  name
}
