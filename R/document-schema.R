# The schema of documents, made from the table of fields: reports are held against it, and as JSON
# Schema it ships for editors (inst/standing, written by tools/schema.R).

schemas <- new.env(parent = emptyenv())

document_schema <- function() {
  remembered_in(schemas, "document", function() {
    c(
      list("$schema" = "https://json-schema.org/draft/2020-12/schema",
        title = "A standing report of Dry Stack"),
      part_schema(c("report", "book")), list("$defs" = c(schema_forms(), schema_parts()))
    )
  })
}

document_schema_file <- function() {
  system.file("standing", "standing.schema.json", package = "drystack", mustWork = TRUE)
}

# The keys that a part must have.
needed_keys <- list(report = c("drystack", "orders", "page"), orders = "date",
  lookup = c("file", "by"),
  record = "date",
  as_known = c("entered_on", "day"), parameter = "kind", measure = "show", rollup = "show",
    crosstab = "show", headlines = "show",
  figure = "show", changes = "show")

part_schema <- function(parts, kind = NULL) {
  fields <- fields_of(parts, kind, options = FALSE)
  c(
    list(type = "object", additionalProperties = FALSE),
    if (!is.null(needed_keys[[kind %||% parts[1L]]]))
      list(required = I(needed_keys[[kind %||% parts[1L]]])),
    list(properties = stats::setNames(lapply(fields, field_schema),
      vapply(fields, `[[`, "", "name")))
  )
}

# A line of help that several kinds of tables share is told with it.
field_schema <- function(field) {
  schema <- field_types()[[field$type]]$schema
  if (is.function(schema)) schema <- schema(field)
  help <- field_help(field)
  if (nzchar(help) && !isTRUE(schema)) schema$description <- help
  schema
}

# Forms of values that several fields have.
schema_forms <- function() {
  expression <- schema_reference("expression")
  named <- schema_reference("named")
  list(
    text = schema_of_type(I(c("string", "number"))),
    expression = schema_of_type(I(c("string", "number", "boolean"))),
    texts = list_or_one(expression), named = map_schema(expression),
    expressions = list(anyOf = list(expression, named,
      schema_of_type("array", items = list(anyOf = list(expression, named))))),
    rules = list(anyOf = list(expression, map_schema(schema_reference("text"))))
  )
}

schema_parts <- function() {
  nested <- c("orders", "shown", "closing", "as_known", "trading", "deliver", "lookup",
    "record", "parameter")
  parts <- lapply(stats::setNames(nm = nested), part_schema)
  parts$orders$oneOf <- lapply(c("file", "files", "database"),
    function(key) list(required = I(key)))
  parts$record$oneOf <- lapply(c("file", "database", "lines"),
    function(key) list(required = I(key)))
  parts$measure <- list(anyOf = list(schema_reference("expression"), part_schema("measure")))
  blocks <- lapply(stats::setNames(nm = block_names), part_schema, parts = "block")
  blocks$text <- schema_reference("text")
  blocks$beside <- schema_of_type("array", minItems = 2L, maxItems = 4L,
    items = schema_reference("block"))
  parts$block <- schema_of_type("object", additionalProperties = FALSE, minProperties = 1L,
    maxProperties = 1L, properties = blocks)
  parts
}
