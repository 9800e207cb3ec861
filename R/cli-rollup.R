# drystack rollup

rollup_options <- function() {
  c(daybook_options(), list(
    option("by", "AXES", "columns and periods, by commas: region,month"),
    option("show", "'NAME = EXPR'", "a measure, such as 'sales = sum(amount)'", required = TRUE, many = TRUE),
    option("totals", "none|grand|all", "total lines (default none)"),
    option("out", "FILE", "write to .csv or .html instead of printing", many = TRUE)
  ))
}

command_rollup <- function(args) {
  values <- read_options(args, rollup_options(), "rollup")
  if (is.null(values)) {
    return(writeLines(rollup_help()))
  }
  for (path in values$out) writer_for(path, table_writers(), "table")
  book <- daybook_from(values)
  axes <- read_axis_words(values$by %||% "", names(book$columns))
  table <- rollup_ask(
    book, rollup_request(book, axes, read_expressions(values$show, "show"), values$totals %||% "none")
  )
  deliver(table, values$out)
}

# To the files named, or to standard output.
deliver <- function(table, paths) {
  if (is.null(paths)) {
    return(writeLines(styled_lines(format(table, width = output_width()))))
  }
  for (path in paths) {
    write_report(table, path)
    writeLines(paste("wrote", path), stderr())
  }
}

output_width <- function() {
  columns <- suppressWarnings(as.integer(Sys.getenv("COLUMNS")))
  if (!is.na(columns) && columns >= 20L) columns else if (isatty(stdout())) cli::console_width() else 100L
}

rollup_help <- function() {
  c(
    "drystack rollup: totals of orders by periods and columns",
    "",
    option_lines(rollup_options()),
    "",
    "Expressions are read from a closed list and never evaluated as R: sum count distinct mean median min max,",
    "+ - * / ^, ytd prior running moving growth only share rank each and more (in R: ?measure_language). A measure",
    "may use the ones before it. Periods: day week month quarter half year; civil$month for a second calendar.",
    "",
    "Example, on the made-up orders (drystack demo says where they are):",
    "  drystack rollup --orders orders.csv --date ordered_on --calendar fiscal:July --by region,quarter \\",
    "    --show 'sales = sum(amount)' --show 'ytd = ytd(sales)' --as-of 2026-08-31 --totals all"
  )
}
