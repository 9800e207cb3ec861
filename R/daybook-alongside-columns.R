# Columns, conditions and axes of the orders as a record beside them has them: by name, or by what
# was said of names (`by`), else by what a column comes of: a lookup by a key that the record has
# too, or an expression of its columns.

# The id in the record of a column of the orders, NULL where it has none.
column_beside <- function(id, record, book) {
  key <- paste("column", id)
  if (!exists(key, envir = record$known, inherits = FALSE)) {
    assign(key, found_beside(id, record, book) %||% NA_character_, envir = record$known)
  }
  found <- record$known[[key]]
  if (!is.na(found)) found
}

found_beside <- function(id, record, book) {
  name <- names(book$columns)[match(id, unlist(book$columns))]
  theirs <- if (name %in% names(record$by)) record$by[[name]] else name
  if (identical(name, book$date)) {
    return(if (is.null(record$per)) record$book$columns[[record$book$date]])
  }
  if (!is.na(name) && theirs %in% setdiff(names(record$book$columns), record$book$date)) {
    return(record$book$columns[[theirs]])
  }
  meaning <- engine_of(book)$meanings[[id]]
  switch(meaning$kind,
    looked_up = looked_up_beside(meaning, record, book),
    worked_out = worked_out_beside(meaning$tree, record, book)
  )
}

worked_out_beside <- function(tree, record, book) {
  tree <- tree_beside(tree, record, book)
  if (!is.null(tree)) new_meaning(engine_of(record$book), list(kind = "worked_out", tree = tree))
}

looked_up_beside <- function(meaning, record, book) {
  key <- paste("lookup", meaning$lookup)
  if (!exists(key, envir = record$known, inherits = FALSE)) {
    lookup <- engine_of(book)$meanings[[meaning$lookup]]
    by <- column_beside(lookup$by, record, book)
    table <- if (!is.null(by)) new_meaning(engine_of(record$book), list(kind = "lookup", by = by,
      keys = lookup$keys, key = lookup$key, there = NULL))
    assign(key, table %||% NA_character_, envir = record$known)
  }
  table <- record$known[[key]]
  if (!is.na(table)) new_meaning(engine_of(record$book), list(kind = "looked_up", lookup = table,
    values = meaning$values, column = meaning$column))
}

# An expression of columns of the orders, over those of the record; NULL where it lacks one.
tree_beside <- function(tree, record, book) {
  if (tree$kind == "column") {
    id <- column_beside(tree$id, record, book)
    return(if (!is.null(id)) column_node(tree$name, id))
  }
  args <- lapply(tree$args, tree_beside, record = record, book = book)
  if (any(vapply(args, is.null, NA))) {
    return(NULL)
  }
  tree$args <- args
  tree
}

# A condition of the orders as one of the record; NULL where the record lacks what it speaks of.
condition_beside <- function(condition, record, book) {
  if (!is.null(condition$limit)) {
    return(condition)
  }
  tree <- tree_beside(condition$tree, record, book)
  if (is.null(tree)) {
    return(NULL)
  }
  condition[c("tree", "key")] <- list(tree, tree_key(tree))
  condition
}

# An axis of a table over the record, NULL where it has no such column.
axis_beside <- function(axis, record, book) {
  if (axis$kind == "dimension") {
    axis$column <- column_beside(axis$column, record, book)
    return(if (!is.null(axis$column)) axis)
  }
  if (!is_cyclic_axis(axis) || axis$part == "hour_of_day") {
    return(NULL)
  }
  axis$column <- record$book$columns[[record$book$date]]
  finer <- !is.null(record$per) && match(part_unit_word(axis$part), period_units) <
    match(record$per$unit, period_units)
  if (!finer) axis
}
