# A list held against the schema that ships with the package. The schema is the only place that
# says which keys there are.

standing_schema <- made_once(function() {
  file <- system.file("standing", "standing.schema.json", package = "drystack", mustWork = TRUE)
  jsonlite::fromJSON(file, simplifyVector = FALSE)
})

check_schema <- function(value, schema, source, path = list()) {
  if (!is.null(schema[["$ref"]])) schema <- standing_schema()$definitions[[schema[["$ref"]]]]
  ok <- has_type(value, schema$type)
  if (!ok) {
    raise_key(source, path, paste0(key_words(path), " must be ",
      type_words(schema$type), ", not ", value_words(value), "."))
  }
  check_enum(value, schema, source, path)
  if (is_map(value) || (length(value) == 0L && identical(schema$type, "object")))
    check_keys(value, schema, source, path)
  if (identical(schema$type, "array")) {
    for (i in seq_along(value)) check_schema(value[[i]], schema$items, source, c(path, list(i)))
  }
  invisible(value)
}

check_keys <- function(value, schema, source, path) {
  known <- names(schema$properties)
  for (key in names(value)) {
    below <- c(path, list(key))
    if (!is.null(schema$values)) {
      check_schema(value[[key]], schema$values, source, below)
    } else if (key %in% known) {
      check_schema(value[[key]], schema$properties[[key]], source, below)
    } else if (!is.null(known)) {
      near <- nearest_word(key, known)
      raise_key(source, below, paste0("There is no key ", quoted(key), " here."), if (is.null(near)) {
        paste0("Known: ", words_of(known, 20L), ".")
      } else {
        paste0("Did you mean ", quoted(near), "?")
      })
    }
  }
  for (key in setdiff(unlist(schema$required), names(value))) {
    raise_key(source, path, paste0(key_words(path), " needs the key ", quoted(key), "."))
  }
  if (isTRUE(schema$one) && length(value) != 1L) raise_key(
    source, path, paste0("Each part of the page is one of ", words_of(known, 20L), ".")
  )
}

check_enum <- function(value, schema, source, path) {
  allowed <- unlist(schema$enum)
  if (is.null(allowed) || is_map(value)) {
    return(invisible())
  }
  for (one in setdiff(as.character(unlist(value)), as.character(allowed))) {
    near <- nearest_word(one, as.character(allowed))
    raise_key(source, path, paste0(
      key_words(path), " is one of ", words_of(allowed, 20L), ", not ", quoted(one), "."
    ), if (!is.null(near)) {
      paste0("Did you mean ", quoted(near), "?")
    })
  }
}

is_map <- function(value) is.list(value) && length(value) > 0L && !is.null(names(value))

has_type <- function(value, type) {
  one <- function(test) length(value) == 1L && !is.list(value) && !is.na(value) && test(value)
  switch(type,
    any = TRUE,
    object = is_map(value) || (is.list(value) && length(value) == 0L),
    array = is.list(value) && is.null(names(value)),
    string = one(is.character) || one(is.numeric),
    expression = one(is_scalar_text),
    integer = one(is_whole),
    boolean = one(is.logical),
    strings = ,
    expressions = is_text_list(value),
    "expression or object" = one(is_scalar_text) || is_map(value)
  )
}

is_scalar_text <- function(v) length(v) == 1L && (is.character(v) || is.numeric(v) || is.logical(v))

is_text_list <- function(value) is.null(names(value)) && all(vapply(as.list(value), is_scalar_text, NA))

type_words <- function(type) {
  switch(type,
    object = "keys with values", array = "a list of parts, each with a dash",
    string = "one text", expression = "one expression", integer = "a whole number",
    boolean = "true or false", strings = "one text or a list of texts",
    expressions = "one condition or a list of them",
    "expression or object" = "an expression, or keys with values", "something else"
  )
}

value_words <- function(value) {
  if (is.null(value)) {
    return("empty")
  }
  if (is_map(value)) "keys with values" else if (length(value) != 1L)
    "a list" else quoted(as.character(value))
}

key_words <- function(path) {
  names <- Filter(is.character, path)
  if (length(names) == 0L) "The report" else quoted(paste(unlist(names), collapse = ": "))
}

raise_key <- function(source, path, what, mend = NULL) raise_at(source, key_line(path, source), what, mend)
