# The parts that schemas of values are put together of, as JSON Schema has them.

schema_reference <- function(name) list("$ref" = paste0("#/$defs/", name))

schema_of_type <- function(type, ...) list(type = type, ...)

map_schema <- function(of) schema_of_type("object", additionalProperties = of)

words_schema <- function(field) schema_of_type("string", enum = I(field$values))

list_or_one <- function(of) list(anyOf = list(of, schema_of_type("array", items = of)))
