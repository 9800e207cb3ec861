# How values of fields are said in options and read from them, and what documents hold.
#
# schema: of the value in a document, or a function that makes it for a field; read: from the texts
# of an
#   option to that value; write: back; many: whether the option is repeated; key: the key that holds
#   the value, where that hangs on the texts

new_field_type <- function(schema, read = NULL, write = NULL, many = FALSE, key = NULL) {
  list(schema = schema, read = read, write = write, many = many, key = key)
}

field_types <- function() remembered_in(field_tables, "types", make_field_types)

make_field_types <- function() {
  as_is <- function(texts, field) texts
  by_comma <- function(value) paste(unlist(value), collapse = ",")
  named <- function(value) paste(vapply(names(value), name_text, ""), "=", unlist(value))
  one_or_named <- function(value) if (is.null(names(value))) unlist(value) else named(value)
  text <- schema_reference("text")
  texts <- schema_reference("texts")
  list(
    text = new_field_type(text, as_is, as.character),
    choice = new_field_type(words_schema, as_is, as.character),
    choices = new_field_type(function(field) list_or_one(words_schema(field))),
    texts = new_field_type(texts, as_is, unlist, many = TRUE),
    count = new_field_type(schema_of_type("integer"), function(texts, field) {
      number_of_option(texts, field$option)
    }, as.character),
    flag = new_field_type(schema_of_type("boolean"), function(texts, field) TRUE,
      function(value) character()),
    words = new_field_type(texts, function(texts, field) words_by_comma(texts), by_comma),
    pairs = new_field_type(
      function(field) map_schema(if (is.null(field$values)) text else words_schema(field)),
      function(texts, field) as.list(pairs_said(texts, field$option)),
      function(value) paste0(names(value), "=", unlist(value)), many = TRUE),
    axes = new_field_type(texts, function(texts, field) as.list(split_axis_words(texts)), by_comma),
    expressions = new_field_type(schema_reference("named"), named_texts, named, many = TRUE),
    measures = new_field_type(texts, function(texts,
      field) as.list(checked_texts(texts, field)), unlist,
      many = TRUE),
    conditions = new_field_type(schema_reference("expressions"), texts_of_conditions,
      condition_options,
      many = TRUE),
    rules = new_field_type(schema_reference("rules"), one_or_named_texts,
      one_or_named, many = TRUE),
    comparisons = new_field_type(TRUE, one_or_named_texts, one_or_named, many = TRUE),
    sides = new_field_type(TRUE, function(texts, field) {
      sides <- sides_from(texts)
      if (is.null(names(sides))) sides else as.list(sides)
    }, function(value) {
      if (is.list(value)) paste(names(value), unlist(value), sep = "=", collapse = ",") else value
    }),
    orders = new_field_type(text, as_is, as.character,
      key = function(texts) if (is_database_text(texts)) "database" else "file"),
    calendars = new_field_type(map_schema(text), calendars_by_kind,
      function(value) unlist(value, use.names = FALSE), many = TRUE),
    lookups = new_field_type(schema_of_type("array", items = schema_reference("lookup")),
      function(texts, field) lapply(texts, lookup_of_text),
      function(value) vapply(value, lookup_text, ""), many = TRUE),
    records = new_field_type(map_schema(schema_reference("record")), records_of_texts,
      function(value) vapply(names(value), record_text, "", records = value), many = TRUE),
    # What reports alone say.
    version = new_field_type(schema_of_type("integer", enum = I(1L))),
    expression = new_field_type(schema_reference("expression")),
    part = new_field_type(function(field) schema_reference(field$name)),
    parts_by_name = new_field_type(function(field) {
      map_schema(schema_reference(sub("s$", "", field$name)))
    }),
    blocks = new_field_type(schema_of_type("array", items = schema_reference("block"))),
    value = new_field_type(TRUE)
  )
}

checked_texts <- function(texts, field) {
  for (text in texts) read_expression(text, field$option)
  texts
}

# 'net = amount - discount' as texts by their names.
named_texts <- function(texts, field) {
  names <- vapply(texts, function(text) read_expression(text, field$option)$name, "",
    USE.NAMES = FALSE)
  bare <- texts[names == ""]
  if (length(bare) > 0L) {
    raise("expression", c(paste0(option_prefix(field$option), quoted(bare[1L]), " has no name."),
      ">" = "Write a name, \"=\" and an expression: {.code net = amount - discount}."))
  }
  stats::setNames(as.list(without_name(texts)), names)
}

without_name <- function(texts) trimws(sub(own_name, "", texts, perl = TRUE))

# One text, or texts by their names.
one_or_named_texts <- function(texts, field) {
  names <- vapply(texts, function(text) read_expression(text, field$option)$name, "",
    USE.NAMES = FALSE)
  if (length(texts) == 1L && names == "") {
    return(texts)
  }
  texts[names != ""] <- without_name(texts[names != ""])
  stats::setNames(as.list(texts), names)
}

# Each condition as a text, or under its name.
texts_of_conditions <- function(texts, field) {
  lapply(texts, function(text) {
    name <- read_expression(text, field$option)$name
    if (name == "") text else stats::setNames(list(without_name(text)), name)
  })
}

condition_options <- function(value) {
  vapply(conditions_said(value), function(one) {
    if (nzchar(one$called)) paste(value_text(one$called), "=", one$text) else one$text
  }, "")
}

# Calendars by the names of their kinds.
calendars_by_kind <- function(texts, field) {
  kinds <- trimws(sub(":.*$", "", texts))
  stats::setNames(as.list(texts), kinds)
}

# "customers.csv:customer_id" or "customers.csv:bill_to=customer_id:bill_"
# or, where more is to be said, '"customers.csv", by = customer_id, decimal = ","'.
lookup_of_text <- function(text) {
  if (startsWith(trimws(text), "\"")) {
    return(lookup_of_arguments(text))
  }
  parts <- strsplit(text, ":", fixed = TRUE)[[1L]]
  if (!length(parts) %in% 2:3) {
    raise(
      "argument", c(paste0(option_prefix("lookup"), quoted(text), " is not a file and a key."),
        ">" = "Write {.val customers.csv:customer_id}.")
    )
  }
  # costs.csv:product_id,region=area@valid_from
  place <- strsplit(parts[2L], "@", fixed = TRUE)[[1L]]
  keys <- strsplit(trimws(strsplit(place[1L], ",", fixed = TRUE)[[1L]]), "=", fixed = TRUE)
  by <- trimws(vapply(keys, `[`, "", 1L))
  theirs <- trimws(vapply(keys, function(key) key[length(key)], ""))
  lookup <- list(file = parts[1L], by = if (length(by) > 1L) as.list(by) else by)
  if (!identical(by, theirs)) lookup$key <- if (length(theirs) > 1L) as.list(theirs) else theirs
  if (length(place) == 2L) lookup$from <- trimws(place[2L])
  if (length(parts) == 3L) lookup$prefix <- parts[3L]
  lookup
}

lookup_of_arguments <- function(text) {
  args <- typed_arguments(text)
  names <- rlang::names2(args)
  keys <- setdiff(vapply(lookup_fields(), `[[`, "", "name"), "file")
  if (length(args) < 2L || names[1L] != "" || !all(names[-1L] %in% keys) || !"by" %in% names) {
    raise("argument", c(paste0(option_prefix("lookup"), quoted(text), " is not a file and a key."),
      "i" = paste0("After its file it has: ", words_of(keys), "."),
      ">" = "Write {.val customers.csv:customer_id}."))
  }
  c(list(file = plain_argument(args[[1L]])), lapply(args[-1L], plain_argument))
}

lookup_text <- function(lookup) {
  if (any(names(lookup) %in% names(new_reading()))) {
    rest <- lookup[setdiff(names(lookup), "file")]
    return(paste(c(value_text(lookup$file), vapply(names(rest), function(key) {
      paste(key, "=", r_value(several_or_one(rest[[key]])))
    }, "")), collapse = ", "))
  }
  by <- unlist(lookup$by)
  theirs <- unlist(lookup$key) %||% by
  keys <- paste(ifelse(by == theirs, by, paste0(by, "=", theirs)), collapse = ",")
  paste(c(lookup$file, paste(c(keys, lookup$from), collapse = "@"), lookup$prefix), collapse = ":")
}
