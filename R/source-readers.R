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
    check_said_of_form(path, form, reading)
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

# What is said of worksheets and archives holds for these alone.
check_said_of_form <- function(path, form, reading) {
  lacks <- c(
    if (!is.null(reading$sheet) && !form %in% c("workbook", "old workbook", "sheets")) "sheet",
    if (!is.null(reading$inside) && form != "archive") "inside"
  )
  if (length(lacks) > 0L) {
    raise("argument", c(paste0(argument_said(lacks[1L]), " was given, but ",
      quoted(path), " has none."),
      ">" = paste0("Leave ", argument_said(lacks[1L]), " out.")))
  }
}
