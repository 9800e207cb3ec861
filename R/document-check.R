# A list held against the schema of documents.

# forms: what the schema defines by name.
check_schema <- function(value, schema, document, path = list(), forms = schema[["$defs"]]) {
  schema <- form_of(referred(schema, forms), value, forms)
  if (!has_type(value, schema$kind)) {
    raise_key(document, path, paste0(
      key_words(path), " must be ", form_words(schema$kind), ", not ", value_words(value), "."
    ))
  }
  check_enum(value, schema, document, path)
  if (is_map(value) || (length(value) == 0L && schema$kind == "object")) {
    check_keys(value, schema, document, path, forms)
  }
  if (schema$kind == "array") {
    for (i in seq_along(value)) check_schema(value[[i]], schema$items, document,
      c(path, list(i)), forms)
  }
  invisible(value)
}

# A reference stands for what the schema defines under its name. `kind` is the name of a form that
# has words of its own here, else the type.
referred <- function(schema, forms) {
  if (isTRUE(schema)) {
    return(list(kind = "any"))
  }
  name <- NULL
  while (!is.null(schema[["$ref"]]) && !identical(name, "expressions")) {
    name <- basename(schema[["$ref"]])
    schema <- forms[[name]]
  }
  named <- c("text", "expression", "texts", "expressions")
  c(schema, kind = if (isTRUE(name %in% named)) name else schema$type %||% "forms")
}

# Of several forms, the one that a value has.
form_of <- function(schema, value, forms) {
  if (schema$kind != "forms") {
    return(schema)
  }
  several <- lapply(schema$anyOf, referred, forms = forms)
  kinds <- vapply(several, `[[`, "", "kind")
  wanted <- if (is_map(value)) "object" else if (is.list(value) ||
    length(value) > 1L) "array" else kinds[1L]
  if (!wanted %in% kinds) {
    return(list(kind = kinds))
  }
  several[[match(wanted, kinds)]]
}

check_keys <- function(value, schema, document, path, forms) {
  known <- names(schema$properties)
  for (key in names(value)) {
    below <- c(path, list(key))
    if (is.list(schema$additionalProperties)) {
      check_schema(value[[key]], schema$additionalProperties, document, below, forms)
    } else if (key %in% known) {
      check_schema(value[[key]], schema$properties[[key]], document, below, forms)
    } else if (!is.null(known)) {
      near <- nearest_word(key, known)
      raise_key(document, below, paste0("There is no key ", quoted(key), " here."),
        if (grepl("[()]", key)) {
          "Within braces a comma ends a value: put an expression that has commas in quotes."
        } else if (is.null(near)) {
          paste0("Known: ", words_of(union(unlist(schema$required), known), 40L), ".")
        } else {
          paste0("Did you mean ", quoted(near), "?")
        })
    }
  }
  for (key in setdiff(unlist(schema$required), names(value))) {
    raise_key(document, path, paste0(key_words(path), " needs the key ", quoted(key), "."),
      if (key %in% names(key_examples)) paste0("Write ", braces_kept(key_examples[[key]]), "."))
  }
  if (length(value) > (schema$maxProperties %||% Inf) ||
    length(value) < (schema$minProperties %||% 0)) {
    raise_key(document, path, paste0("Each part of the page is one of ", words_of(known, 20L), "."))
  }
}

key_examples <- list(drystack = "drystack: 1",
  orders = "orders: {file: orders.csv, date: ordered_on}",
  page = "page: [rollup: {by: month, show: 'sales = sum(amount)'}]")

check_enum <- function(value, schema, document, path) {
  allowed <- unlist(schema$enum)
  if (is.null(allowed) || is_map(value)) {
    return(invisible())
  }
  for (one in setdiff(as.character(unlist(value)), as.character(allowed))) {
    near <- nearest_word(one, as.character(allowed))
    raise_key(document, path, paste0(
      key_words(path), " is one of ", words_of(allowed, 20L), ", not ", quoted(one), "."
    ), if (!is.null(near)) {
      paste0("Did you mean ", quoted(near), "?")
    })
  }
}

is_map <- function(value) is.list(value) && length(value) > 0L && !is.null(names(value))

has_type <- function(value, kind) {
  one <- function(test) length(value) == 1L && !is.list(value) && !is.na(value) && test(value)
  switch(if (length(kind) == 1L) kind else "none of the forms",
    any = TRUE,
    object = is_map(value) || (is.list(value) && length(value) == 0L),
    array = is.null(names(value)) && (is.list(value) || length(value) > 1L),
    string = ,
    text = one(is.character) || one(is.numeric),
    expression = one(is_scalar_text),
    integer = one(is_whole),
    boolean = one(is.logical),
    texts = is_text_list(value),
    expressions = is_condition_list(value),
    FALSE
  )
}

is_scalar_text <- function(v) length(v) == 1L && (is.character(v) || is.numeric(v) || is.logical(v))

is_text_list <- function(value) {
  is.null(names(value)) && all(vapply(as.list(value), is_scalar_text, NA))
}

# Conditions, each as a text or under its name.
is_condition_list <- function(value) {
  all(vapply(as.list(value), function(one) {
    is_scalar_text(one) || is_map(one) && all(vapply(one, is_scalar_text, NA))
  }, NA))
}

form_words <- function(kind) {
  words <- c(
    object = "keys with values", array = "a list of parts, each with a dash", string = "one text",
    text = "one text", expression = "one expression", integer = "a whole number",
    boolean = "true or false", texts = "one text or a list of texts",
    expressions = "one condition or a list of them"
  )
  paste(words[kind], collapse = ", or ")
}
