# Records beside the orders in a document: from options and reports to the daybook, and back.

record_of_document <- function(book, name, document, values, options) {
  said <- document$said$records[[name]]
  at <- list("records", name)
  at_line(document, at, {
    given <- options$records[[name]]
    if (length(given) == 0L) given <- record_orders(said, document, at, options)
    shape <- if (!is.null(said$shape)) said(read_expression(
      filled_expression(said$shape, values, document, at), "shape")$expr)
    check_name <- record_name(stats::setNames(list(given), name), book)
    add_record(book, check_name, taken_record(given, rlang::new_quosure(said$date), book,
      as.character(unlist(said$undated))), list(
      by = if (!is.null(said$by)) unlist(said$by),
      per = said(if (!is.null(said$per)) str2lang(as.character(said$per))),
      spread = as.character(unlist(said$spread %||% "none")), shape = shape,
      regardless = if (!is.null(said$regardless)) as.character(unlist(said$regardless))))
  })
}

record_orders <- function(said, document, at, options) {
  if (!is.null(said$lines)) {
    return(typed_lines(said$lines))
  }
  if (is.null(said$database)) {
    path <- inner_path(said$file, document, at, options$outside)
    return(orders_as_needed(path, said_reading(said), wanted = function(names) character()))
  }
  document_database(orders_of_record(document, said), options$outside)
}

# Lines that are typed where they are said: [{month: 2026-07, depot: Skelby, target: 240000}, ...].
typed_lines <- function(lines) {
  names <- unique(unlist(lapply(lines, names)))
  whole <- is.list(lines) && length(lines) > 0L && all(vapply(lines, function(one) {
    is.list(one) && rlang::is_named(one) && all(lengths(one) == 1L)
  }, NA))
  if (!whole) {
    raise("standing", c("The lines of a record are a list, each with its columns.",
      ">" = "Write {.code lines: [{{month: 2026-07, depot: Skelby, target: 240000}}]}."))
  }
  columns <- lapply(stats::setNames(names, names), function(name) {
    texts <- vapply(lines, function(one) as.character(one[[name]] %||% NA), "")
    utils::type.convert(texts, as.is = TRUE)
  })
  structure(columns, class = "data.frame", row.names = seq_along(lines))
}
