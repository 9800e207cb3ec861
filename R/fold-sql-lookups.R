# Columns of a lookup that is a table of the same database as the orders: joined there, whatever
# its size.

# A column of such a lookup as SQL; NULL where it is looked up in another way.
sql_looked_up_there <- function(query, tree) {
  engine <- query$engine
  meaning <- if (tree$kind == "column") engine$meanings[[tree$id]]
  if (!identical(meaning$kind, "looked_up")) {
    return(NULL)
  }
  lookup <- engine$meanings[[meaning$lookup]]
  own <- engine$meanings[[lookup$by]]
  if (own$kind != "elsewhere") {
    several <- own$kind == "worked_out" && length(source_names(engine, lookup$by)) > 1L
    return(if (several) sql_by_number(query, tree$id, meaning, lookup))
  }
  if (is_of_database(lookup$there, engine$db)) sql_of_joined_lookup(query, tree$id,
    meaning, lookup, own)
}

sql_of_joined_lookup <- function(query, id, meaning, lookup, own) {
  engine <- query$engine
  source <- sql_of_source(engine, own$name)
  key <- sql_of_lookup(lookup$there, lookup$key)
  value <- sql_of_lookup(lookup$there, meaning$column)
  if (is.null(key) || is.null(value) || key$kind != source$kind ||
    !key$kind %in% c("text", "whole")) {
    return(NULL)
  }
  joined_lookup(query, lookup$there, paste0("ds_l_", id), source, key, value)
}

is_of_database <- function(there, db) !is.null(there$con) && identical(there$con, db$con)

# A column as what is selected of it; NULL for kinds that are told by their values.
sql_of_lookup <- function(db, name) {
  kind <- rlang::try_fetch(column_kind_in(db, name), drystack_error_column = function(e) "other")
  if (kind %in% c("text", "whole", "decimal", "number") || is_day_kind(kind)) {
    new_sql(sql_column(db, name, kind), kind)
  }
}

# A key stands once, as it did when the lookup was looked at: a second row that has come since then
# doubles no order line.
joined_lookup <- function(query, there, name, source, key, value) {
  db <- query$db
  rows <- paste0("SELECT ", sql_out_key(db, key), " AS k, min(", sql_out(db, value), ") AS v FROM ",
    there$relation, " o WHERE ", key$sql, " IS NOT NULL GROUP BY ", sql_out_key(db, key))
  query$joins[[name]] <- paste0("LEFT JOIN (", rows, ") ", name, " ON ", name, ".k = ",
    sql_out_key(db, source))
  kind <- if (is_day_kind(value$kind)) "days" else if (value$kind == "text") "text" else "number"
  new_sql(paste0(name, ".v"), kind)
}

# A lookup by a number that is worked out of several columns there: joined by it.
sql_by_number <- function(query, id, meaning, lookup) {
  engine <- query$engine
  values <- meaning$values
  beside <- kept(engine, "by number", id, function() {
    list(id = paste("by number", id), keys = as.numeric(lookup$keys),
      values = if (is.factor(values))
        as.character(values) else if (inherits(values, "Date")) as.numeric(
        values) else plain_values(values),
      none = NA, kind = kind_of_values(values, column_node(meaning$column, id), engine$db),
        levels = levels(values),
      large = TRUE)
  })
  result <- new_sql(NULL, beside$kind, beside$levels)
  result$sql <- sql_beside(query$db, query, sql_of_column(query, lookup$by), beside)
  result
}
