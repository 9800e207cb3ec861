#' Orders in a database
#'
#' A daybook of orders that stay in a database: asks become SQL that groups there and gives back the
#' sums of each cell, never order lines. [behind()] and [listing()] fetch the lines they show. The
#' words, tables, notes and explanations are the same as for orders in memory.
#'
#' @param con A connection of DBI, or text that names a database: `"sqlite:shop.db"`,
#'   `"postgresql://host:5432/shop"`, `"clickhouse://host:8123/shop"`.
#' @param table The name of a table or view, with its schema where it needs one: `"sales.orders"`; a
#'   part that holds a dot stands in double quotes.
#' @param query A query of your own instead of a table: `"SELECT * FROM orders WHERE yard = 'N'"`.
#' @param key The columns that tell one order line from another and say their order within a day.
#'   Default: the number of the row in SQLite, the primary key elsewhere. Without one `first()` and
#'   `last()` are an error.
#' @param zone The time zone in which instants count on a day; default `"UTC"`, which notes tell.
#' @param user,password Of a database that is named by text. Default: the environment variables
#'   `DRYSTACK_USER` and `DRYSTACK_PASSWORD`, where they are set.
#' @return Orders as [daybook()] takes them.
#' @section What is worked out where: Sums of whole numbers and decimals are exact, as are those of
#'   doubles that stand for decimals of up to four places; other doubles are added up by the
#'   database, and the note of a table says so. Conditions and columns of the row language become
#'   SQL; what is worked out of a single column by other words (`regroup()`, `toupper()`,
#'   `start_of()`, columns of a lookup that is a data frame) is worked out here for each of its
#'   different values (as many as memory allows), and put beside them in a temporary table. A lookup
#'   that is a table of the same connection is joined there ([enrich()]). Medians and the like fetch
#'   the different values of each cell; so do distinct counts, but for tables without totals whose
#'   cells share no day. Dates may be dates, date-times, texts that begin as 2026-08-31, or day
#'   numbers (since 1970, or as spreadsheets count).
#' @section Waiting: A server that does not answer at first is waited for 10 seconds, or
#'   `options(drystack.patience = )` seconds. An ask may take as long as it takes; an
#'   interrupt ends it.
#' @section Errors: `drystack_error_database` for a database that cannot be reached or refuses a
#'   query, for a table that is not there (the nearest name is offered); `drystack_error_engine` for
#'   words that cannot be worked out there, and for more order lines than memory allows.
#' @seealso [daybook()] takes it; [keep_states()] folds it once.
#' @examples
#' if (requireNamespace("RSQLite", quietly = TRUE)) {
#'   con <- DBI::dbConnect(RSQLite::SQLite())
#'   yard <- harrowgill()
#'   yard$orders$ordered_on <- as.character(yard$orders$ordered_on)
#'   DBI::dbWriteTable(con, "orders", yard$orders)
#'   book <- daybook(orders_in(con, "orders"), date = ordered_on)
#'   print(rollup(book, by = c(depot, year), sales = sum(amount)))
#'   DBI::dbDisconnect(con)
#' }
#' @export
orders_in <- function(con, table = NULL, query = NULL, key = NULL, zone = "UTC", user = NULL,
  password = NULL) {
  own_setting()
  if (is.null(table) == is.null(query)) {
    raise("argument", c("Orders in a database are a {.arg table} or a {.arg query}.",
      ">" = "For example {.code orders_in(con, \"orders\")}."))
  }
  check_text(table %||% query, if (is.null(table)) "query" else "table")
  check_text(zone, "zone")
  if (!zone %in% OlsonNames()) raise("argument",
    "{.val {zone}} is not a time zone: see {.code OlsonNames()}.")
  db <- opened_database(con, user, password)
  db$zone <- zone
  db$made <- list(text = if (is.character(con)) con, table = table, query = query,
    key = if (!is.null(key)) as.list(key), zone = if (zone != "UTC") zone)
  if (is.null(table)) settle_query(db, query) else settle_table(db, table)
  settle_key(db, key)
  structure(list(db), class = "drystack_orders_in_database")
}

#' @export
names.drystack_orders_in_database <- function(x) unclass(x)[[1L]]$columns

#' @export
print.drystack_orders_in_database <- function(x, ...) {
  cat("Orders in ", unclass(x)[[1L]]$words, ": ", words_of(names(x)), "\n", sep = "")
  invisible(x)
}

# A database of a connection, or of text that names one: by its first word.
opened_database <- function(con, user, password) {
  if (is.character(con)) {
    check_text(con, "con")
    return(named_database(con, user %||% variable("DRYSTACK_USER"),
      password %||% variable("DRYSTACK_PASSWORD")))
  }
  if (!inherits(con, "DBIConnection")) {
    raise("argument", c(paste0("{.arg con} must be a connection of DBI, or text such as {.val ",
      "sqlite:shop.db}."),
      "x" = "It is {type_words(con)}."))
  }
  dialect <- dialect_of(class(con)[1L])
  new_database(con, dialect)
}

variable <- function(name) {
  value <- Sys.getenv(name)
  if (nzchar(value)) value
}

named_database <- function(text, user, password) {
  openers <- list("sqlite:" = open_sqlite, "postgresql:" = open_postgresql,
    "clickhouse:" = open_clickhouse)
  for (name in names(openers)) {
    if (startsWith(text, name)) {
      return(openers[[name]](text, user, password))
    }
  }
  raise("database", c(
    "{.val {safe_words(text)}} is not the name of a database.",
    ">" = paste("Write {.val sqlite:shop.db}, {.val postgresql://host:5432/shop}",
      "or {.val clickhouse://host:8123/shop}.")
  ))
}

# The beginning of a text that names a database, as far as it can hold no password: its first word
# and its host.
safe_words <- function(text) {
  scheme <- regmatches(text, regexpr("^[A-Za-z][A-Za-z0-9+.-]*:(//)?", text))
  if (length(scheme) == 0L) {
    return("...")
  }
  rest <- substring(text, nchar(scheme) + 1L)
  host <- regmatches(sub("^.*@", "", rest), regexpr("^[A-Za-z0-9._-]+(:[0-9]+)?(?=$|/)",
    sub("^.*@", "", rest),
    perl = TRUE))
  paste0(scheme, host, if (length(host) == 0L) "...")
}

is_database_text <- function(text) {
  grepl("^(sqlite|postgresql|clickhouse):", text) || is_address(text) ||
    grepl("\\b(password|pwd)[[:space:]]*=", text)
}

# Where something is in a net: no file has such a name.
is_address <- function(text) grepl("^[A-Za-z][A-Za-z0-9+.-]+://", text)

# The host, port and name that a text says; it holds neither user nor password, nor anything else.
database_address <- function(text) {
  if (grepl("[@?;]", text)) {
    raise("database", c("A database is named without its user and password.",
      "x" = paste0("This holds more than an address: ", quoted(safe_words(text)), "."),
      ">" = "Give {.arg user} and {.arg password}, or set DRYSTACK_USER and DRYSTACK_PASSWORD."))
  }
  form <- "^[a-z]+:(//)?(\\[[0-9A-Fa-f:.]+\\]|[^:/]*)(:([0-9]+))?(/([^/]*))?$"
  parts <- regmatches(text, regexec(form, text))[[1L]]
  if (length(parts) == 0L) {
    raise("database", c(paste0("The address of the database cannot be read: ",
      quoted(safe_words(text)), "."),
      ">" = "Write it as {.val postgresql://host:5432/shop}."))
  }
  list(host = parts[3L], port = parts[5L], name = parts[7L])
}

new_database <- function(con, dialect, words = NULL) {
  db <- new.env(parent = emptyenv())
  db$con <- con
  db$words <- words
  # What we write ourselves, for all daybooks of these orders.
  db$own_changes <- list2env(list(count = 0), parent = emptyenv())
  structure(db, class = c(dialect, "drystack_dbi", "drystack_database"))
}

dialect_of <- function(class) {
  switch(class,
    SQLiteConnection = "drystack_sqlite", PqConnection = "drystack_postgresql",
    "drystack_ansi"
  )
}

settle_table <- function(db, table) {
  parts <- if (has_table(db, table)) table else table_parts(table)
  db$table <- parts
  db$relation <- paste(vapply(parts, sql_name, "", db = db), collapse = ".")
  db$words <- db$words %||% paste("the table", table)
  columns <- rlang::try_fetch(columns_in(db), drystack_error_database = function(e) {
    raise_no_table(db, table, e)
  })
  db$columns <- columns
}

# A schema and a table, each in double quotes where it holds a dot or a quote: "my.schema"."a ""b"
table_parts <- function(table) {
  parts <- regmatches(table, gregexpr("\"([^\"]|\"\")*\"|[^.]+", table))[[1L]]
  quoted <- grepl("^\".*\"$", parts)
  parts[quoted] <- gsub("\"\"", "\"", substr(parts[quoted], 2L,
    nchar(parts[quoted]) - 1L), fixed = TRUE)
  parts
}

settle_query <- function(db, query) {
  # What the query ends with may be a comment.
  db$relation <- paste0("(", check_query(query), "\n)")
  db$words <- db$words %||% "the query"
  db$columns <- columns_in(db)
}

raise_no_table <- function(db, table, e) {
  known <- tables_in(db)
  if (table %in% known || isTRUE(e$no_right)) rlang::cnd_signal(e)
  raise("database", c(paste0("There is no table ", quoted(table), " in the database."),
    if (length(known) > 0L) advise_word(table, known, "tables")
    else c(">" = "There is no table that this user may read.")))
}

settle_key <- function(db, key) {
  if (!is.null(key)) {
    for (name in key) check_column(name, db$columns)
    db$key <- key
  } else {
    db$key <- primary_key(db)
  }
}

# The names of the columns of a table or query, of the tables, and of the primary key (or NULL).
columns_in <- function(db) UseMethod("columns_in")
tables_in <- function(db) UseMethod("tables_in")
has_table <- function(db, table) UseMethod("has_table")
primary_key <- function(db) UseMethod("primary_key")

# A table of a database as a data frame: a lookup, say.
#' @export
as.data.frame.drystack_orders_in_database <- function(x, ...) rows_in_database(unclass(x)[[1L]])

# What is looked at of orders: all, or of very many the first.
first_orders_of <- function(orders) {
  db <- unclass(orders)[[1L]]
  looked <- rows_in_database(db, " LIMIT 100000")
  attr(looked, "path") <- db$made$text
  attr(looked, "reading") <- list(said = db$made[c("table", "query", "key", "zone")])
  looked
}

rows_in_database <- function(db, tail = "") {
  x <- lapply(stats::setNames(nm = db$columns), function(name) {
    rlang::try_fetch({
      kind <- sub("^text_.*", "text", column_kind_in(db, name))
      new_sql(sql_column(db, name, kind), kind)
    }, drystack_error_column = function(e) sql_as_text(db, name))
  })
  out <- paste(vapply(x, sql_out, "", db = db), "AS", paste0("c", seq_along(x)), collapse = ", ")
  found <- database_rows(db, paste0("SELECT ", out, " FROM ", db$relation, " o", tail))
  structure(stats::setNames(Map(values_out, found, x, MoreArgs = list(db = db)), db$columns),
    class = "data.frame", row.names = seq_along(found[[1L]]))
}

# Seconds that a server may take for its first word.
database_patience <- function() {
  check_whole(getOption("drystack.patience", 10L), "options(drystack.patience)", 1L, 3600L)
}
