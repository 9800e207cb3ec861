# YAML in which every text that needs it is quoted, and no line is broken.
yaml_text <- function(said) {
  text <- yaml::as.yaml(said, indent.mapping.sequence = TRUE, line.sep = "\n", handlers = list(
    logical = function(x) structure(tolower(as.character(x)), class = "verbatim"),
    character = function(x) structure(x, quoted = grepl(must_be_quoted, x, ignore.case = TRUE))
  ))
  strsplit(text, "\n", fixed = TRUE)[[1L]]
}

must_be_quoted <- "[^A-Za-z0-9_./ -]|^[-. ]|^(true|false|yes|no|null|on|off|y|n)$"

# Editors that know JSON Schema read which keys there are.
schema_line <- function() paste0("# yaml-language-server: $schema=", document_schema_file())

# A line on how to ask for another.
parameter_hint <- function() {
  c(
    paste0("# Build it: drystack build FILE --as-of 2026-08-31. To ask for one more part, name ",
      "it under parameters"),
    paste0("# (depot: {kind: text, default: Skelby}) and write {depot} where its value stands: ",
      "depot == {depot}")
  )
}
