#' Add columns from a lookup
#'
#' A lookup has one row for each key: customers, products, depots. Its columns are added to the
#' order lines by their key. The number of order lines never changes: if the lookup lacks a key,
#' its columns are missing there, and notes name and count such keys.
#'
#' @param book A daybook.
#' @param lookup A data frame with one row for each key, the path of a file, or a table of a
#'   database ([orders_in()]). It
#'   is read into memory, unless it is a table of the orders' own connection, where it is joined.
#' @param by The key: the name of a column of both; or `c(bill_to = "customer_id")`, a column of the
#'   orders and the column of the lookup it points to. Several: `c("product_id", "region")`.
#' @param from For a lookup whose rows are valid from a day on, such as costs: the column with these
#'   days. An order line gets the row valid on the day of the order; before the first there is none.
#' @param prefix Put before the names of the added columns, so that a lookup can be used
#'   twice: `"bill_"` and `"ship_"`.
#' @param name What notes call the lookup; default the name of the variable or the file.
#' @return A daybook with the other columns of the lookup.
#' @section Errors: `drystack_error_lookup` for repeated keys (they are named), for missing
#'   keys in the lookup, and for columns the orders already have; `drystack_error_column` for a
#'   key column that is not there.
#' @seealso [check()] names keys without a row; [work_out()] adds columns from others.
#' @examples
#' yard <- harrowgill()
#' book <- daybook(yard$orders, date = ordered_on) |>
#'   enrich(yard$customers, by = "customer_id") |>
#'   enrich(yard$products, by = "product_id")
#' book
#' rollup(book, by = kind, sales = sum(amount))
#' @export
enrich <- function(book, lookup, by, prefix = "", name = NULL, from = NULL) {
  own_setting()
  said <- rlang::enexpr(lookup)
  file <- if (rlang::is_string(lookup)) lookup
  name <- name %||% if (!is.null(file)) sub("[.][^.]*$", "", basename(file))
    else rlang::as_label(if (rlang::is_call(said, "$")) said[[3L]] else said)
  check_daybook(book)
  check_text(prefix, "prefix")
  check_text(name, "name")
  if (!is.null(file)) lookup <- lookup_in_file(file)
  there <- if (is_in_database(lookup)) unclass(lookup)[[1L]]
  if (is_in_database(lookup)) lookup <- as.data.frame(lookup)
  if (!is.data.frame(lookup)) {
    raise("lookup", c("{.arg lookup} must be a data frame.", "x" = "It is {type_words(lookup)}."))
  }
  check_taken_columns(lookup, nrow(lookup), paste("the lookup", quoted(name)))
  lookup[] <- taken_columns(lookup)
  check_text(from, "from", optional = TRUE)
  if (length(by) > 1L || !is.null(from)) {
    return(enriched_by_number(book, lookup, by, from, prefix, name))
  }
  key <- lookup_key(by, book, lookup, name)
  values <- lookup[setdiff(names(lookup), key$theirs)]
  names(values) <- paste0(prefix, names(values))
  check_added_columns(names(values), book, name)
  engine <- engine_of(book)
  table <- new_meaning(engine, list(kind = "lookup", by = book$columns[[key$ours]],
    keys = lookup[[key$theirs]], key = key$theirs, there = there))
  for (place in seq_along(values)) {
    book$columns[[names(values)[place]]] <- new_meaning(engine,
      list(kind = "looked_up", lookup = table,
      values = values[[place]], column = setdiff(names(lookup), key$theirs)[place]))
  }
  book$lookups <- c(book$lookups, list(list(
    id = table, name = name, by = key$ours, theirs = key$theirs, prefix = prefix,
    path = attr(lookup, "path"), told = attr(lookup, "reading")$told,
    reading = attr(lookup, "reading")$said,
    columns = names(values)
  )))
  book
}

# By several keys, or by the row that is valid on the day of the order.
enriched_by_number <- function(book, lookup, by, from, prefix, name) {
  if (!is.character(by) || length(by) == 0L || anyNA(by)) raise("argument",
    "{.arg by} must be names of columns.")
  names(by) <- ifelse(rlang::names2(by) == "", by, rlang::names2(by))
  for (i in seq_along(by)) {
    check_column(names(by)[i], names(book$columns))
    check_column(by[[i]], names(lookup))
  }
  if (!is.null(from)) check_column(from, names(lookup))
  path <- attr(lookup, "path")
  values <- lookup[setdiff(names(lookup), c(by, from))]
  columns <- paste0(prefix, names(values), recycle0 = TRUE)
  check_added_columns(columns, book, name)
  numbers <- lookup_number(book, lookup, by, from, name)
  engine <- engine_of(book)
  number <- new_meaning(engine, list(kind = "worked_out", tree = numbers$tree))
  table <- new_meaning(engine, list(kind = "lookup", by = number, keys = numbers$keys, key = name,
    there = NULL,
    table = lookup))
  for (i in seq_along(values)) {
    book$columns[[columns[i]]] <- new_meaning(engine, list(kind = "looked_up", lookup = table,
      values = vctrs::vec_slice(values[[i]], numbers$rows), column = names(values)[i]))
  }
  book$lookups <- c(book$lookups, list(list(id = table, name = name, by = names(by),
    theirs = unname(by),
    from = from, prefix = prefix, path = path, told = attr(lookup, "reading")$told,
    reading = attr(lookup, "reading")$said,
    columns = columns, decode = numbers$decode)))
  book
}

# A lookup said as a file is read whole.
lookup_in_file <- function(file) {
  opened <- as_orders(file)
  if (!is_late(opened)) {
    return(opened)
  }
  structure(as.data.frame(opened), path = late(opened)$path)
}

lookup_key <- function(by, book, lookup, name) {
  if (!is.character(by) || length(by) != 1L || is.na(by)) {
    raise(
      "argument",
      c(
        "{.arg by} is one column name.",
        ">" = paste0("For example {.code by = \"customer_id\"} or {.code by = c(bill_to = ",
          "\"customer_id\")}.")
      )
    )
  }
  theirs <- unname(by)
  ours <- if (is.null(names(by)) || names(by) == "") theirs else names(by)
  check_column(ours, names(book$columns))
  check_dimension(column_kind(engine_of(book), column_node(ours, book$columns[[ours]])), ours)
  check_column(theirs, names(lookup))
  keys <- lookup[[theirs]]
  if (anyNA(keys)) {
    raise("lookup", c(
      paste0("The lookup ", quoted(name), " has no key in ", quoted(theirs),
        " at {rows_of(which(is.na(keys)))}."),
      ">" = "Leave these rows out."
    ))
  }
  twice <- unique(keys[duplicated(keys)])
  if (length(twice) > 0L) {
    raise("lookup", c(
      paste0("The lookup ", quoted(name), " has more than one row for a key of ",
        quoted(theirs), "."),
      "x" = "{length(twice)} key{?s}: {examples_of(twice)}, at {rows_of(which(keys %in% twice))}.",
      ">" = "Order lines would be doubled. Keep one row for each key."
    ))
  }
  list(ours = ours, theirs = theirs)
}

check_added_columns <- function(added, book, name) {
  there <- intersect(added, names(book$columns))
  if (length(there) > 0L) {
    raise("lookup", c(
      paste0("The orders have columns of the lookup ", quoted(name),
        " already: {examples_of(there)}."),
      ">" = "Give the new ones a prefix: {.code enrich(..., prefix = \"customer_\")}."
    ))
  }
  check_column_names(added)
}

# Keys that no row of a lookup has: list(keys, lines), the order lines they stand on.
unmatched_keys <- function(book, lookup) {
  found <- lookup_match(engine_of(book), lookup$id)
  keys <- found$unmatched
  if (!is.null(lookup$decode)) keys <- sort_values(unique(lookup$decode(as.numeric(keys))))
  list(keys = keys, lines = found$lines)
}
