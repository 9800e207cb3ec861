# The orders that a command names: files, or a database.

database_options <- function() {
  list(
    option("table", "T", ""),
    option("query", "SQL", ""),
    option("key", "K", "of a database (--orders sqlite:shop.db): what is read, and its key", many = TRUE)
  )
}

orders_from <- function(values) {
  names <- vapply(database_options(), `[[`, "", "name")
  if (!is_database_text(values$orders)) {
    said <- intersect(names, names(Filter(Negate(is.null), values)))
    if (length(said) > 0L) raise("usage", c(paste0("--", said[1L], " is for orders in a database."),
      ">" = "Name one: {.code --orders sqlite:shop.db}."))
    return(orders_as_needed(values$orders, reading_from(values), wanted = function(names) {
      columns_spoken_of(names, values)
    }))
  }
  of_files <- setdiff(vapply(reading_options(), `[[`, "", "name"), "zone")
  said <- intersect(of_files, names(Filter(Negate(is.null), values)))
  if (length(said) > 0L) raise("usage", paste0("--", said[1L], " is for orders in files."))
  orders_in(values$orders, table = values$table, query = values$query, key = values$key,
    zone = values$zone %||% "UTC")
}
