# What is said of a record beside the orders in an option, and how a document says it as one.

# 'targets = targets.csv, date = month, spread = days' as what a report says under the name.
records_of_texts <- function(texts, field) {
  read <- lapply(texts, record_of_text, option = field$option)
  stats::setNames(lapply(read, `[[`, "said"), vapply(read, `[[`, "", "name"))
}

record_of_text <- function(text, option) {
  args <- typed_arguments(text)
  names <- rlang::names2(args)
  keys <- setdiff(vapply(Filter(function(field) field$of == "record", document_fields()),
    `[[`, "", "name"), c("file", "database"))
  if (length(args) == 0L || names[1L] %in% c("", keys) || !all(names[-1L] %in% keys)) {
    raise("argument", c(paste0(option_prefix(option), quoted(text),
      " is not a record beside the orders."),
      "i" = paste0("After its name and file it has: ", words_of(keys), "."),
      ">" = "Write {.val targets = \"targets.csv\", date = month, spread = days}."))
  }
  place <- plain_argument(args[[1L]])
  said <- stats::setNames(list(place), if (is_database_text(place)) "database" else "file")
  for (i in seq_along(args)[-1L]) said[[names[i]]] <- if (names[i] == "shape") code_text(args[[i]])
    else plain_argument(args[[i]])
  list(name = names[1L], said = said)
}

# What is typed as arguments are; NULL where it is none.
typed_arguments <- function(text) {
  whole <- tryCatch(str2lang(paste0("list(", text, ")")), error = function(e) NULL)
  if (rlang::is_call(whole, "list")) as.list(whole)[-1L]
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
  if (length(place) == 0L) {
    raise("standing", c(paste0("A command cannot type the lines of the record ", quoted(name), "."),
      ">" = "Keep them in a file, and give its path."))
  }
  rest <- said[setdiff(names(said), place)]
  shape <- rest$shape
  rest$shape <- NULL
  paste(c(paste(name_text(name), "=", value_text(as.character(said[[place]]))),
    vapply(names(rest), function(key) paste(key, "=", r_value(several_or_one(rest[[key]]))), ""),
    if (!is.null(shape)) paste("shape =", shape)), collapse = ", ")
}

several_or_one <- function(value) {
  if (length(value) == 1L && is.null(names(value))) value[[1L]] else value
}
