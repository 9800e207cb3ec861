# What the commands that make tables share: measures, order, members kept, and
# what is told of a figure.

measure_option <- function() {
  option("show", "'NAME = EXPR'", "a measure, such as 'sales = sum(amount)'", required = TRUE, many = TRUE)
}

order_options <- function() {
  list(
    option("sort", "RULE", "largest_first(sales), smallest_first(), by_key(column), in_order()", many = TRUE),
    option("keep", "RULE", "keep_top(10, sales): the largest, the others as one line", many = TRUE)
  )
}

members_option <- function() {
  option("members", "shown|seen", "the members of the dates shown, or of all a measure sees")
}

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
    option("notes", "full|brief|none", "what is told beside the figures"),
    flag("guard", "in CSV, an apostrophe before text that would be a formula")
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
    if (!is.null(values$ask)) raise("usage", "--ask is of a standing report: name one with {.code --save}.")
    return(invisible())
  }
  as_standing(x, values$save, ask = words_by_comma_or_null(values$ask) %||% character())
  tell("wrote ", values$save)
}

# What cannot be written is told before any work is done.
check_outputs <- function(paths) for (path in paths) writer_for(path, document_writers(), "table")

# One rule, or rules by dimension: 'depot = largest_first(sales)'.
rules_from <- function(text, option) {
  if (is.null(text)) {
    return(NULL)
  }
  read <- lapply(text, read_expression, option = option)
  rules <- lapply(read, function(r) rule_of(r$expr, option))
  names <- vapply(read, `[[`, "", "name")
  if (length(rules) == 1L && names == "") rules[[1L]] else stats::setNames(rules, names)
}

# 'all', or 'rows=all,cols=none'.
sides_from <- function(text) {
  if (is.null(text) || !grepl("=", text, fixed = TRUE)) {
    return(text)
  }
  parts <- strsplit(words_by_comma(text), "=", fixed = TRUE)
  if (any(lengths(parts) != 2L)) raise(
    "argument", c(paste0(quoted(text), " is no choice for rows and columns."),
      ">" = "Write {.val rows=all,cols=none}.")
  )
  stats::setNames(trimws(vapply(parts, `[`, "", 2L)), trimws(vapply(parts, `[`, "", 1L)))
}

# The table, or what was asked about one of its figures.
deliver <- function(table, values) {
  if (!is.null(values$explain)) {
    at <- row_and_figure(values$explain, "explain")
    return(writeLines(styled_lines(format(explain(table, at$row, at$measure), width = output_width()))))
  }
  if (!is.null(values$behind)) {
    at <- row_and_figure(values$behind, "behind")
    lines <- behind(table, at$row, at$measure)
    title <- paste0("Order lines behind row ", at$row, if (!is.null(at$measure)) paste0(", ", at$measure))
    return(deliver_sheet(data_sheet(title, paste(counted_lines(nrow(lines))), character(), lines),
      values$out))
  }
  if (!is.null(values[["tie-out"]])) {
    return(writeLines(styled_lines(format(tie_out(table)))))
  }
  save_request(table, values)
  if (is.null(values$out)) {
    return(writeLines(printed_lines(table, values$format, values$guard, values$notes %||% "full")))
  }
  for (path in values$out) {
    write_report(table, path, guard = isTRUE(values$guard), notes = values$notes %||% "full")
    tell("wrote ", path)
  }
}

# What is printed: text for people, or one of the formats of files.
printed_lines <- function(table, format, guard = NULL, notes = "full") {
  if (is.null(format) || format == "text") {
    return(styled_lines(format(table, width = output_width(), notes = notes)))
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
  write_report(table, aside, guard = isTRUE(guard), notes = notes)
  readLines(aside, encoding = "UTF-8")
}

deliver_sheet <- function(sheet, paths) {
  if (is.null(paths)) {
    return(writeLines(styled_lines(document_lines(sheet_document(sheet), output_width()))))
  }
  for (path in paths) {
    write_document(sheet_document(sheet), path)
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

output_width <- function() {
  columns <- suppressWarnings(as.integer(Sys.getenv("COLUMNS")))
  if (!is.na(columns) && columns >= 20L) columns else if (isatty(stdout())) cli::console_width() else 100L
}
