# The fields of a document as options.

field_options <- function(parts, kind = NULL, required = character()) {
  lapply(fields_of(parts, kind), function(field) {
    option(field$option, field$meta, field_help(field, kind), required = field$name %in% required,
      many = field_types()[[field$type]]$many)
  })
}

# Those by which every command makes its daybook.
book_options <- function(required = c("file", "date")) {
  field_options(book_parts, required = required)
}

# Where the orders are, and how they are read.
reading_options <- function(required = "file") {
  not <- c("date", "undated", "currency", "rates")
  Filter(function(one) !one$name %in% not, field_options("orders", required = required))
}

option_named <- function(options, name) Filter(function(one) one$name == name, options)[[1L]]
