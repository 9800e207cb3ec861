# The reader of each form of file (source-forms.R), a function of path and reading. A new one is
# such a function in a file of its own.
file_readers <- function() {
  list(
    text = read_delimited, gzip = read_delimited, json = read_json_lines, html = read_html_table,
    parquet = read_parquet_file, workbook = read_workbook, "old workbook" = read_workbook,
    sheets = read_open_sheets, archive = read_archive
  )
}

reader_for <- function(path) {
  check_file(path)
  form <- file_form(path)
  read <- file_readers()[[form]]
  if (is.null(read)) raise_no_orders(path, form)
  function(path, reading) {
    if (form %in% c("text", "gzip")) read(path, reading) else read_or_told(
      read(path, reading), path)
  }
}

raise_no_orders <- function(path, form) {
  raise("file", c(
    paste0("The file ", quoted(path), " is ", form, ", no table of orders."),
    ">" = if (startsWith(form, "a database")) paste0("Say which table of it: ",
      braces_kept(option_said("orders", paste0("sqlite:", path))), ", ",
      braces_kept(option_said("table", "orders")), ".")
    else "Export the orders as delimited text (CSV), a workbook (.xlsx) or Parquet."
  ))
}

# What is said of how files are written must mean something for one of them.
check_said_of_files <- function(paths, reading) {
  said <- names(Filter(function(value) length(value) > 0L, reading[fields_of_forms]))
  if (length(said) == 0L) {
    return(invisible())
  }
  forms <- forms_of_files(paths)
  idle <- setdiff(said, fields_that_apply(forms))
  if (length(idle) > 0L && all(forms %in% names(file_readers()))) {
    raise("argument", c(
      paste0(argument_said(idle[1L]), " does not apply to ", if (length(paths) == 1L)
        quoted(if (paths == "-") "standard input" else paths) else "these files", ": ",
        words_of(unique(vapply(forms, words_of_form, ""))), "."),
      ">" = paste0("Leave ", argument_said(idle[1L]), " out.")
    ))
  }
}

forms_of_files <- function(paths) {
  vapply(paths, function(path) if (path == "-") "text" else file_form(path), "")
}

fields_that_apply <- function(forms) unlist(lapply(unique(forms), fields_of_form))

fields_of_text <- c("encoding", "separator", "quote", "skip", "header", "drop_lines", "uneven",
  "widths")

fields_of_forms <- c(fields_of_text, "sheet", "inside")

fields_of_form <- function(form) {
  switch(form,
    text = , gzip = fields_of_text, archive = fields_of_forms,
    html = setdiff(fields_of_text, c("separator", "quote", "widths")),
    workbook = , "old workbook" = , sheets = c("sheet", "skip", "header")
  )
}

words_of_form <- function(form) {
  switch(form, text = , gzip = "delimited text", html = "a page with a table", json = "JSON lines",
    parquet = "Parquet", workbook = , "old workbook" = , sheets = "a workbook",
    archive = "an archive", form)
}
