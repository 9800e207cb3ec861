# What the engine for orders in a database (fold-database.R) asks of a database. The defaults are
# what the SQL standard says; a dialect is a file source-<name>.R with a constructor and the methods
# in which it differs.
#
# A database is an environment with fields relation (what stands after FROM), columns (the names of
# its columns), key (names of columns that tell order lines apart and say their order, or NULL),
# zone (of date-times), words (what messages call it), undated (list(name, words): texts that mean
# no date).
#
# Expressions are list(sql, kind, levels: of a factor, or NULL). The kinds:
#   whole, decimal: numbers that the database adds up exactly; large: whole ones that no double
#   holds, whose members are texts; number: doubles
#   text, condition; date, and iso, days, serial: days as texts, since 1970 and as spreadsheets
#   count them
#   time, zoned: date-times of no zone, and instants

# The rows that a query gives: a list of columns, numbers as doubles, NA for NULL.
database_rows <- function(db, sql) UseMethod("database_rows")

# Carries a statement out that gives no rows.
database_run <- function(db, sql) UseMethod("database_run")

# What tells that the orders are others than before, as far as the database says: a text.
orders_token <- function(db) UseMethod("orders_token")

#' @export
orders_token.drystack_database <- function(db) {
  key <- if (length(db$key) == 1L) paste0(", max(", sql_key(db), ") AS k")
  paste(unlist(database_rows(db, paste0("SELECT count(*) AS n", key, " FROM ", db$relation, " o"))),
    collapse = " ")
}

# A name, and constants (one each), as the dialect writes them.
sql_name <- function(db, name) UseMethod("sql_name")
sql_values <- function(db, values) UseMethod("sql_values")

# The kind of a column, settled by its declared type or by what it holds; "text_time" and
# "text_zone" for texts that begin with a day.
column_kind_in <- function(db, name) UseMethod("column_kind_in")

# Told before the kinds of several columns are asked for, where one pass can look at them together.
look_ahead <- function(db, names) UseMethod("look_ahead")

#' @export
look_ahead.default <- function(db, names) NULL

# A column as an expression that compares, groups and sorts texts by code point.
sql_column <- function(db, name, kind) UseMethod("sql_column")

# An expression as a double, and the days since 1970 of one that tells days.
sql_double <- function(db, x) UseMethod("sql_double")
sql_day <- function(db, x) UseMethod("sql_day")

# The beginning of a day as a constant to which a date column compares.
sql_at_day <- function(db, day, kind) UseMethod("sql_at_day")

# That a day is one of some days in a row, as conditions.
sql_within <- function(db, day, from, to) UseMethod("sql_within")

#' @export
sql_within.drystack_database <- function(db, day, from, to) {
  c(paste0(day$sql, " >= ", sql_at_day(db, from, day$kind)),
    paste0(day$sql, " < ", sql_at_day(db, to + 1L, day$kind)))
}

# The seconds since 1970 of a date-time (of its own zone where it has none), and its hour.
sql_seconds <- function(db, x) UseMethod("sql_seconds")
sql_hour <- function(db, x) UseMethod("sql_hour")

# A query over order lines: inner, what each line gives, by names; from: what follows, from FROM on;
# selected: what is selected of these, by names; group: the names it is grouped by, NULL
# for none; tail.
sql_query <- function(db, inner, from, selected, group = NULL, tail = "") UseMethod("sql_query")

# The first and last lines of each group where `value` is known, by the columns of `sorts`: what
# sql_query() takes, and gives the lines in that order.
ends_in <- function(db, inner, from, group, sorts, value) UseMethod("ends_in")

# Whether an expression is among some values; unknown where it is.
sql_listed <- function(db, x, listed) UseMethod("sql_listed")

#' @export
sql_listed.drystack_database <- function(db, x, listed) paste0("(", listed, ")")

# Some letters of a text, from a place on.
sql_letters <- function(db, x, from, length) UseMethod("sql_letters")

#' @export
sql_letters.drystack_database <- function(db, x, from, length) {
  paste0("substr(", x, ", ", number_texts(from), ", ", number_texts(length), ")")
}

# What texts are called.
sql_text_type <- function(db) UseMethod("sql_text_type")

# The span that a day lies in, -1 for none; day: SQL of a day within those of the spans.
sql_span <- function(db, day, spans) UseMethod("sql_span")

# The exact sum, as text, of what is called `name` in a query and is the expression x.
sql_exact_sum <- function(db, name, x) UseMethod("sql_exact_sum")

# How many known values an expression has; `name`: what x is called in a query.
sql_known <- function(db, name, x) UseMethod("sql_known")

#' @export
sql_known.drystack_database <- function(db, name, x) paste0("count(", name, ")")

# How many different values an expression has, as a whole number.
sql_distinct <- function(db, x) UseMethod("sql_distinct")

#' @export
sql_distinct.drystack_database <- function(db, x) paste0("count(DISTINCT ", x, ")")

# The two values in the middle of those known and finite (one twice, of an odd number), in no more
# time than it takes to hand them all over: c(low, high), or NULL. `name`: what the expression x is
# called in a query.
sql_middle <- function(db, name, x) UseMethod("sql_middle")

#' @export
sql_middle.drystack_database <- function(db, name, x) NULL

# A table of the session with the columns k and v, filled with values: its name in SQL.
database_table <- function(db, keys, values) UseMethod("database_table")

# A column of a type that is not read, as text.
sql_as_text <- function(db, name) UseMethod("sql_as_text")

# The columns that tell and order its lines, as SQL; NULL where there are none.
sql_key <- function(db) UseMethod("sql_key")

#' @export
sql_values.drystack_database <- function(db, values) {
  if (inherits(values, "Date")) values <- as.numeric(values)
  texts <- if (is.logical(values)) ifelse(values, "TRUE", "FALSE")
    else if (is.numeric(values)) number_texts(values)
    else sql_texts(values)
  texts[is.na(values)] <- "NULL"
  texts
}

# As many digits as tell a double from its neighbours.
number_texts <- function(x) {
  texts <- formatC(x, digits = 15L, format = "g", width = 1L)
  differ <- !is.na(x) & as.numeric(texts) != x
  texts[differ] <- formatC(x[differ], digits = 17L, format = "g", width = 1L)
  texts
}

# Texts by the standard: a quote is doubled, nothing else means anything.
sql_texts <- function(x) {
  paste0("'", gsub("'", "''", enc2utf8(as.character(x)), fixed = TRUE), "'")
}

#' @export
sql_name.drystack_database <- function(db, name) {
  paste0("\"", gsub("\"", "\"\"", enc2utf8(name), fixed = TRUE), "\"")
}

#' @export
sql_column.drystack_database <- function(db, name, kind) paste0("o.", sql_name(db, name))

#' @export
sql_double.drystack_database <- function(db, x) {
  switch(x$kind,
    condition = paste0("CASE WHEN ", x$sql, " THEN 1e0 WHEN NOT ", x$sql, " THEN 0e0 END"),
    date = , iso = , days = , serial = paste0("CAST(", sql_day(db, x), " AS DOUBLE PRECISION)"),
    paste0("CAST(", x$sql, " AS DOUBLE PRECISION)")
  )
}

#' @export
sql_day.drystack_database <- function(db, x) {
  switch(x$kind,
    date = , time = day_of_date(x$sql),
    iso = day_of_date(paste0("CAST(SUBSTRING(", x$sql, " FROM 1 FOR 10) AS DATE)")),
    days = paste0("CAST(floor(", x$sql, ") AS INTEGER)"),
    serial = paste0("(CAST(floor(", x$sql, ") AS INTEGER) - 25569)")
  )
}

# What lies between two dates is said in many ways, their fields in one.
day_of_date <- function(date) {
  days <- day_of_fields(function(name) paste0("EXTRACT(", name, " FROM ", date, ")"))
  paste0("CAST(", days, " AS INTEGER)")
}

# The day since 1970 by year, month and day (each as SQL, by its name), in years that begin
# with March.
day_of_fields <- function(field) {
  year <- paste0("(", field("YEAR"), " - CASE WHEN ", field("MONTH"), " < 3 THEN 1 ELSE 0 END)")
  month <- paste0("(", field("MONTH"), " + CASE WHEN ", field("MONTH"), " < 3 THEN 9 ELSE -3 END)")
  each <- function(years) paste0("FLOOR(", year, " / ", years, ".0)")
  paste0("365 * ", year, " + ", each(4), " - ", each(100), " + ", each(400),
    " + FLOOR((153 * ", month, " + 2) / 5.0) + ", field("DAY"), " - 719469")
}

#' @export
sql_at_day.drystack_database <- function(db, day, kind) {
  text <- format(as_day_date(day))
  switch(kind,
    date = paste0("DATE '", text, "'"),
    iso = paste0("'", text, "'"),
    days = format(day),
    serial = format(day + 25569),
    time = paste0("TIMESTAMP '", text, " 00:00:00'")
  )
}

#' @export
sql_seconds.drystack_database <- function(db, x) {
  raise_not_said(db, "date-times as values", "Work the day out in a query of your own.")
}

#' @export
sql_hour.drystack_database <- function(db, x) paste0("EXTRACT(HOUR FROM ", x$sql, ")")

#' @export
sql_exact_sum.drystack_database <- function(db, name, x) {
  paste0("CAST(sum(", name, ") AS VARCHAR(60))")
}

#' @export
sql_query.drystack_database <- function(db, inner, from, selected, group = NULL, tail = "") {
  paste0(
    "SELECT ", named_sql(selected), " FROM (SELECT ", named_sql(inner), " ", from, ") x",
    if (!is.null(group)) paste0(" GROUP BY ", paste(group, collapse = ", ")), tail
  )
}

named_sql <- function(columns) {
  paste(ifelse(columns == names(columns), columns, paste(columns, "AS", names(columns))),
    collapse = ", ")
}

#' @export
ends_in.drystack_database <- function(db, inner, from, group, sorts, value) {
  row_number <- function(sort) {
    paste0("ROW_NUMBER() OVER (PARTITION BY ", paste(group, collapse = ", "), " ORDER BY ",
      paste(sort, collapse = ", "), ")")
  }
  all <- stats::setNames(nm = names(inner))
  selected <- c(all, ds_up = row_number(sorts), ds_down = row_number(paste(sorts, "DESC")))
  database_rows(db, paste0("SELECT ", named_sql(all), " FROM (",
    sql_query(db, inner, from, selected,
    tail = paste0(" WHERE ", value, " IS NOT NULL")),
    ") y WHERE ds_up = 1 OR ds_down = 1 ORDER BY ", paste(sorts, collapse = ", ")))
}

#' @export
sql_text_type.drystack_database <- function(db) "VARCHAR(4000)"

#' @export
sql_as_text.drystack_database <- function(db, name) {
  new_sql(paste0("CAST(o.", sql_name(db, name), " AS ", sql_text_type(db), ")"), "text")
}

#' @export
sql_key.drystack_database <- function(db) if (!is.null(db$key)) paste0("o.", sql_name(db, db$key))

# Of all daybooks of the session: several may ask through one connection.
new_table_name <- function() {
  named_tables$count <- named_tables$count + 1L
  paste0("drystack_", Sys.getpid(), "_", named_tables$count)
}

named_tables <- list2env(list(count = 0L), parent = emptyenv())

# By rows of constants, some hundred at a time.
#' @export
database_table.drystack_database <- function(db, keys, values) {
  name <- new_table_name()
  database_run(db, paste0("CREATE TEMPORARY TABLE ", name, " (k ", sql_type_of(db, keys),
    " PRIMARY KEY, v ", sql_type_of(db, values), ")"))
  for (rows in split(seq_along(keys), (seq_along(keys) - 1L) %/% 500L)) {
    database_run(db, paste0("INSERT INTO ", name, " VALUES ",
      sql_pairs(db, keys[rows], values[rows])))
  }
  list(name = name, from = name)
}

sql_type_of <- function(db, x) {
  if (is.numeric(x)) "DOUBLE PRECISION" else if (is.logical(x)) "BOOLEAN" else sql_text_type(db)
}

sql_pairs <- function(db, keys, values) {
  paste0("(", sql_values(db, keys), ", ", sql_values(db, values), ")", collapse = ", ")
}

is_day_kind <- function(kind) kind %in% c("date", "iso", "days", "serial")

is_number_kind <- function(kind) kind %in% c("whole", "large", "decimal", "number")

is_exact_kind <- function(kind) kind %in% c("whole", "large", "decimal")

# What the dialect of a database cannot say.
raise_not_said <- function(db, what, instead) {
  raise("engine", c(
    paste0("This cannot be worked out in ", braces_kept(db$words), ": ", braces_kept(what), "."),
    ">" = braces_kept(instead)
  ))
}

# What a database gave as numbers; what is none is unknown.
plain_numbers <- function(x) suppressWarnings(as.numeric(x))
