# What the commands that make tables share: what is told of a figure, and what becomes of a table.

told_options <- function() {
  list(
    option("explain", "ROW,FIGURE", "say how one figure came about"),
    option("behind", "ROW,FIGURE", "give the order lines of one figure"),
    flag("tie-out", "prove that the table adds up")
  )
}

output_options <- function() {
  c(list(
    option("format", "FORMAT", ""), option(
      "out", "FILE", "print as csv json md html, or write .html .xlsx .csv ...", many = TRUE
    ),
    option("notes", "full|brief|none", "the notes under the figures"),
    option("width", "N", "width in characters (default: the terminal's, otherwise 100)"),
    flag("guard", "in CSV, put an apostrophe before text that would be a formula")
  ), save_options())
}

save_options <- function() {
  list(
    option("save", "REPORT.yml", ""),
    option("ask", "PARTS", "keep it as a standing report that asks for these: as_of,from,depot")
  )
}

# A table or figure as a standing report.
save_request <- function(x, values) {
  if (is.null(values$save)) {
    if (!is.null(values$ask)) raise("usage",
      "--ask is for a standing report: name one with {.code --save}.")
    return(invisible())
  }
  as_standing(x, values$save, ask = words_by_comma_or_null(values$ask) %||% character())
  tell("wrote ", values$save)
}

# What cannot be written is told before any work is done.
check_outputs <- function(paths) for (path in paths) writer_for(path, bundle_writers(), "table")

# The table, or what was asked about one of its figures.
deliver <- function(table, values) {
  if (!is.null(values$explain)) {
    at <- row_and_figure(values$explain, "explain")
    return(writeLines(styled_lines(format(explain(table, at$row, at$measure),
      width = output_width()))))
  }
  if (!is.null(values$behind)) {
    at <- row_and_figure(values$behind, "behind")
    lines <- behind(table, at$row, at$measure)
    title <- paste0("Order lines behind row ", at$row, if (!is.null(at$measure))
      paste0(", ", at$measure))
    return(deliver_sheet(data_sheet(title, paste(counted_lines(nrow(lines))), character(), lines),
      values$out, values$width))
  }
  if (!is.null(values[["tie-out"]])) {
    return(writeLines(styled_lines(format(tie_out(table)))))
  }
  save_request(table, values)
  if (is.null(values$out)) {
    return(writeLines(printed_lines(table, values)))
  }
  for (path in values$out) {
    write_report(table, path, guard = isTRUE(values$guard), notes = values$notes %||% "full")
    tell("wrote ", path)
  }
}

# What is printed: text for people, or one of the formats of files.
printed_lines <- function(table, values) {
  format <- values$format %||% "text"
  notes <- values$notes %||% "full"
  if (format == "text") {
    return(styled_lines(format(table, width = output_width(values$width), notes = notes)))
  }
  known <- c("text", "csv", "json", "md", "html")
  if (!format %in% known) {
    raise(
      "usage",
      c(paste0("--format ", quoted(format), " cannot be printed."),
        ">" = "Print {.or {known}}; write others with {.code --out}.")
    )
  }
  aside <- tempfile(fileext = paste0(".", format))
  on.exit(unlink(aside))
  write_report(table, aside, guard = isTRUE(values$guard), notes = notes)
  readLines(aside, encoding = "UTF-8")
}

deliver_sheet <- function(sheet, paths, width = NULL) {
  if (is.null(paths)) {
    return(writeLines(styled_lines(bundle_lines(sheet_bundle(sheet), output_width(width)))))
  }
  for (path in paths) {
    write_bundle(sheet_bundle(sheet), path)
    tell("wrote ", path)
  }
}

# '3,ytd_ly' or '3' where there is one figure.
row_and_figure <- function(text, option) {
  row <- suppressWarnings(as.numeric(sub(",.*$", "", text)))
  if (is.na(row)) {
    raise(
      "argument", c(paste0("--", option, " ", quoted(text), " names no row."),
        ">" = "Write a row and a figure: {.val 3,sales}.")
    )
  }
  list(row = row, measure = if (grepl(",", text, fixed = TRUE)) trimws(sub("^[^,]*,", "", text)))
}

# As said, else that of the terminal.
output_width <- function(said = NULL) {
  if (!is.null(said)) {
    width <- suppressWarnings(as.integer(said))
    if (is.na(width) || width < narrowest_width) raise("usage",
      paste0("--width takes a whole number of at least ", narrowest_width, ", not ",
        quoted(said), "."))
    return(width)
  }
  columns <- suppressWarnings(as.integer(Sys.getenv("COLUMNS")))
  if (!is.na(columns) && columns >= narrowest_width) columns
  else if (isatty(stdout())) cli::console_width() else 100L
}

narrowest_width <- 20L
