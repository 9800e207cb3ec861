# Orders of a standing report that stay in a database. A report holds no password: user and password
# come from the environment, as may the name of the database ("$SHOP_DATABASE").

document_database <- function(document, outside) {
  said <- document$said$orders
  orders_in(database_said(document, outside), table = said$table, query = said$query,
    key = unlist(said$key), zone = said$zone %||% "UTC")
}

# The text that names the database; a file of SQLite lies where a report may read.
database_said <- function(document, outside) {
  text <- as.character(document$said$orders$database)
  if (startsWith(text, "$")) {
    name <- substring(text, 2L)
    text <- variable(name)
    if (is.null(text)) {
      at_line(document, list("orders", "database"), raise("database",
        c("The environment variable {.val {name}} names no database: it is not set.",
        ">" = "Set it, for example to {.val sqlite:shop.db}.")))
    }
  }
  if (!startsWith(text, "sqlite:")) {
    return(text)
  }
  paste0("sqlite:", inner_path(sub("^sqlite:(//)?", "", text), document,
    list("orders", "database"), outside))
}

# A document whose orders are the lines of a record in a database.
orders_of_record <- function(document, said) {
  document$said$orders <- said[intersect(names(said), c("database", "table", "query", "key"))]
  document
}

# The databases of a document: that of its orders, and those of the records beside them.
databases_said <- function(document) {
  records <- Filter(function(one) !is.null(one$database), document$said$records)
  c(if (orders_key(document) == "database") list(document),
    unname(lapply(records, orders_of_record, document = document)))
}

# What a build was made from: the file of SQLite; any other database is taken as new.
database_files <- function(document, outside) {
  text <- database_said(document, outside)
  if (startsWith(text, "sqlite:")) sub("^sqlite:", "", text)
}
