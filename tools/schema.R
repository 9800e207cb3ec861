# The JSON Schema of standing reports, from the table of fields, for editors: inst/standing.
schema_text <- function() {
  trimws(jsonlite::toJSON(drystack:::document_schema(), auto_unbox = TRUE, pretty = 2L))
}

if (sys.nframe() == 0L) writeLines(schema_text(), "inst/standing/standing.schema.json")
