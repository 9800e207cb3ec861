# A document: all that can be said of orders and tables as plain texts and numbers, by the keys of a
# standing report. A report is its YAML, a command a document with one block.
#
# said:   what is said; file, lines, where: the report and the lines of its keys, NULL where there
# is none
# folder: where its paths begin and must stay; NULL where they are what they are
# braces: TRUE where texts in braces stand for parameters; read: measures, as they were once read

new_document <- function(said, file = NULL, lines = NULL, where = NULL, folder = NULL,
  braces = FALSE) {
  list(said = said, file = file, lines = lines, where = where, folder = folder, braces = braces,
    read = new.env(parent = emptyenv()))
}

# The parts of a document that say its orders and daybook.
book_parts <- c("orders", "book", "trading", "closing", "as_known", "shown")

# What the options of a command say; with a kind of table, of one block of that kind.
document_of_options <- function(values, kind = NULL) {
  said <- list()
  block <- list()
  for (field in fields_of(c(book_parts, "block"), kind)) {
    texts <- values[[field$option]]
    if (is.null(texts)) next
    type <- field_types()[[field$type]]
    value <- type$read(texts, field)
    name <- if (is.null(type$key)) field$name else type$key(texts)
    if (field$of == "block") block[[name]] <- value
      else if (field$of == "book") said[[name]] <- value
      else said[[field$of]][[name]] <- value
  }
  if (!is.null(kind)) said$page <- list(stats::setNames(list(block), kind))
  new_document(said)
}

# The options that say a document: for each its name and its texts, a flag without any.
options_of_document <- function(said, kind) {
  block <- said$page[[1L]][[1L]]
  fields <- fields_of(c(book_parts, "block"), kind)
  texts <- lapply(fields, function(field) {
    holder <- switch(field$of, book = said, block = block, said[[field$of]])
    value <- holder[[field$name]]
    if (field$type == "orders") value <- holder$file %||% holder$files %||% holder$database
    if (is.null(value) || length(value) == 0L || identical(value, FALSE)) NULL
      else list(option = field$option, texts = field_types()[[field$type]]$write(value))
  })
  Filter(Negate(is.null), texts)
}

# How a document is built where nobody builds a report.
plain_building <- function() list(outside = TRUE, today = Sys.Date(), strict = FALSE, ask = NULL)

# Its daybook, and the table of its only block.
document_book <- function(document) built_book(document, list(), plain_building())$book

document_table <- function(document, book = document_book(document)) {
  kind <- names(document$said$page[[1L]])
  document_block(kind, document$said$page[[1L]][[kind]], document, book, NULL, list())
}
