# The manual's tables of what can be said, and how on each surface, from the table of fields:
# docs/surfaces.md.
surface_lines <- function() {
  fields <- drystack:::document_fields()
  types <- drystack:::field_types()
  code <- function(text) ifelse(nzchar(text), paste0("`", gsub("|", "\\|", text, fixed = TRUE), "`"), "")
  key <- function(field) {
    switch(field$of, orders = paste0("orders: ", field$name), book = , block = field$name,
      paste0(field$of, ": ", field$name))
  }
  option <- function(field) {
    if (is.na(field$option)) "" else trimws(paste0("--", field$option, " ", field$meta))
  }
  # A line of help stands at the last of the options that share it.
  helps <- vapply(fields, function(field) field$help[[length(field$help)]], "")
  for (i in rev(seq_along(helps))) if (helps[i] == "" && i < length(helps)) helps[i] <- helps[i + 1L]
  rows <- function(part) {
    vapply(which(vapply(fields, `[[`, "", "of") %in% part), function(i) {
      field <- fields[[i]]
      help <- if (is.na(field$option)) "" else helps[i]
      tables <- if (length(field$kinds) > 0L) paste0(" (", paste(field$kinds, collapse = ", "), ")") else ""
      again <- if (types[[field$type]]$many && !is.na(field$option)) ", may be repeated" else ""
      paste0("| ", code(key(field)), " | ", code(option(field)), again, " | ", code(field$r), " | ",
        gsub("|", "\\|", help, fixed = TRUE), tables, " |")
    }, "")
  }
  section <- function(title, part) {
    c("", paste("##", title), "", "| in a report | as an option | in R | what it says |", "|---|---|---|---|",
      rows(part))
  }
  c("# What can be said, and where", "",
    "Written by `tools/document` from the one table of fields (`R/document-fields.R`); a test holds it.",
    section("Orders, and how they are read", "orders"),
    section("The daybook", c("book", "trading", "closing")), section("Dates shown", "shown"),
    section("Tables", "block"))
}

if (sys.nframe() == 0L) writeLines(surface_lines(), "docs/surfaces.md")
