# Databases that are reached through DBI: names and constants are quoted by it.

# What a database says against a statement, as an error of our own. What drivers warn of is no
# matter of the user's.
asked <- function(db, sql, ask) {
  if (!DBI::dbIsValid(db$con)) {
    raise("database", c(paste0("The connection to ", braces_kept(db$words %||% "the database"),
      " is closed."),
      ">" = "Open it again, and make the daybook from it."))
  }
  rlang::try_fetch(suppressWarnings(ask()), error = unless_ours(function(e) {
    said <- trimws(conditionMessage(e))
    raise("database", c(
      paste0("The database could not answer for ", braces_kept(db$words %||% "it"), "."),
      "x" = braces_kept(said),
      "i" = braces_kept(paste("It was asked:", substr(sql, 1L, 300L)))
    ))
  }))
}

# Carries out what is asked of a database where it may only read, or may write what is ours.
within_access <- function(db, writes, ask) UseMethod("within_access")

#' @export
within_access.default <- function(db, writes, ask) ask()

#' @export
database_rows.drystack_dbi <- function(db, sql) {
  rows <- asked(db, sql, function() {
    within_access(db, FALSE, function() DBI::dbGetQuery(db$con, sql))
  })
  lapply(as.list(rows), function(column) {
    if (inherits(column, "integer64")) kernel_int64_doubles(column)
      else column
  })
}

#' @export
database_run.drystack_dbi <- function(db, sql) {
  asked(db, sql, function() within_access(db, TRUE, function() DBI::dbExecute(db$con, sql)))
  invisible()
}

#' @export
sql_name.drystack_dbi <- function(db, name) {
  as.character(DBI::dbQuoteIdentifier(db$con, enc2utf8(name)))
}

#' @export
sql_values.drystack_dbi <- function(db, values) {
  if (is.character(values)) as.character(DBI::dbQuoteString(db$con,
    enc2utf8(values))) else NextMethod()
}

#' @export
columns_in.drystack_dbi <- function(db) {
  sql <- paste("SELECT * FROM", db$relation, "o WHERE 1 = 0")
  names(asked(db, sql, function() {
    within_access(db, FALSE, function() DBI::dbGetQuery(db$con, sql))
  }))
}

#' @export
tables_in.drystack_dbi <- function(db) asked(db, "its tables", function() DBI::dbListTables(db$con))

#' @export
has_table.drystack_dbi <- function(db, table) {
  asked(db, "its tables", function() table %in% DBI::dbListTables(db$con))
}

#' @export
primary_key.drystack_dbi <- function(db) NULL

# By what a first value is in R.
#' @export
column_kind_in.drystack_dbi <- function(db, name) {
  sql <- paste0("SELECT o.", sql_name(db, name), " AS v FROM ", db$relation, " o WHERE o.",
    sql_name(db, name),
    " IS NOT NULL LIMIT 1")
  some <- asked(db, sql, function() {
    within_access(db, FALSE, function() DBI::dbGetQuery(db$con, sql))
  })$v
  if (is.logical(some)) "condition"
  else if (inherits(some, "Date")) "date"
  else if (inherits(some, "POSIXct")) "time"
  else if (inherits(some, "integer64") || is.integer(some)) "whole"
  else if (is.numeric(some)) "number"
  else "text"
}
