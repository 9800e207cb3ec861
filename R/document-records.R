# Records beside the orders in a document: from options and reports to the daybook, and back.

# 'targets = targets.csv, date = month, spread = days' as what a report says under the name.
records_of_texts <- function(texts, field) {
  read <- lapply(texts, record_of_text, option = field$option)
  stats::setNames(lapply(read, `[[`, "said"), vapply(read, `[[`, "", "name"))
}

record_of_text <- function(text, option) {
  whole <- tryCatch(str2lang(paste0("alongside(", text, ")")), error = function(e) NULL)
  args <- if (!is.null(whole)) as.list(whole)[-1L]
  names <- rlang::names2(args)
  keys <- setdiff(vapply(Filter(function(field) field$of == "record", document_fields()), `[[`, "", "name"),
    c("file", "database"))
  if (length(args) == 0L || names[1L] %in% c("", keys) || !all(names[-1L] %in% keys)) {
    raise("argument", c(paste0(option_prefix(option), quoted(text), " is no record beside the orders."),
      "i" = paste0("After its name and file it has: ", words_of(keys), "."),
      ">" = "Write {.val targets = \"targets.csv\", date = month, spread = days}."))
  }
  place <- plain_argument(args[[1L]])
  said <- stats::setNames(list(place), if (is_database_text(place)) "database" else "file")
  for (i in seq_along(args)[-1L]) said[[names[i]]] <- if (names[i] == "shape") code_text(args[[i]])
    else plain_argument(args[[i]])
  list(name = names[1L], said = said)
}

# A word, a text, or several of them by c().
plain_argument <- function(expr) {
  if (rlang::is_call(expr, "c")) {
    parts <- as.list(expr)[-1L]
    return(stats::setNames(lapply(parts, plain_argument), names(parts)))
  }
  if (is.character(expr)) expr else code_text(expr)
}

record_text <- function(name, records) {
  said <- records[[name]]
  place <- intersect(c("file", "database"), names(said))
  rest <- said[setdiff(names(said), place)]
  shape <- rest$shape
  rest$shape <- NULL
  paste(c(paste(name_text(name), "=", value_text(as.character(said[[place]]))),
    vapply(names(rest), function(key) paste(key, "=", r_value(several_or_one(rest[[key]]))), ""),
    if (!is.null(shape)) paste("shape =", shape)), collapse = ", ")
}

several_or_one <- function(value) if (length(value) == 1L && is.null(names(value))) value[[1L]] else value

record_of_document <- function(book, name, document, values, options) {
  said <- document$said$records[[name]]
  at <- list("records", name)
  at_line(document, at, {
    given <- options$records[[name]]
    if (length(given) == 0L) given <- record_orders(said, document, at, options)
    shape <- if (!is.null(said$shape)) said(read_expression(
      filled_expression(said$shape, values, document, at), "shape")$expr)
    check_name <- record_name(stats::setNames(list(given), name), book)
    add_record(book, check_name, taken_record(given, rlang::new_quosure(said$date), book), list(
      by = if (!is.null(said$by)) unlist(said$by),
      per = said(if (!is.null(said$per)) str2lang(as.character(said$per))),
      spread = as.character(unlist(said$spread %||% "none")), shape = shape,
      regardless = if (!is.null(said$regardless)) as.character(unlist(said$regardless))))
  })
}

record_orders <- function(said, document, at, options) {
  if (is.null(said$database)) {
    return(inner_path(said$file, document, at, options$outside))
  }
  inside <- document
  inside$said$orders <- said[intersect(names(said), c("database", "table", "query", "key"))]
  document_database(inside, options$outside)
}

# As a report says it again.
saved_record <- function(record, folder) {
  made <- record$made
  if (is.null(made$path) && is.null(made$database)) {
    raise("standing", c(paste0("The record ", quoted(record$name), " was not read from a file."),
      ">" = "Give {.fn alongside} the path of its file."))
  }
  place <- if (!is.null(made$database)) {
    Filter(Negate(is.null), c(list(database = made$database$text), made$database[c("table", "query", "key")]))
  } else {
    list(file = relative_path(made$path, folder))
  }
  c(place, record_said(record)[-1L])
}

# What is said of a record beside its lines.
record_said <- function(record) {
  rule <- unique(unlist(record$spread))
  said <- list(
    file = record$name, date = record$made$date, per = record$made$per,
    by = if (length(record$by) > 0L) as.list(record$by),
    spread = if (length(rule) > 0L) several_or_one(as.list(rule)),
    shape = if (!is.null(record$shape)) tree_text(record$shape),
    regardless = if (length(record$regardless) > 0L) several_or_one(as.list(record$regardless))
  )
  Filter(Negate(is.null), said)
}

r_record <- function(name, said) {
  place <- if (is.null(said$database)) value_text(said$file)
    else r_call("orders_in", c(value_text(said$database), r_named(said[c("table", "query", "key")])))
  r_call("alongside", c(paste(name_text(name), "=", place), paste("date =", name_text(said$date)),
    if (!is.null(said$per)) paste("per =", said$per), r_named(said[c("by", "spread")]),
    if (!is.null(said$shape)) paste("shape =", said$shape), r_named(said["regardless"])))
}
