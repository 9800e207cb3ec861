# drystack changes

changes_options <- function() {
  show <- measure_option()
  show$required <- FALSE
  show$what <- "what moved this figure; without one the order lines are compared"
  c(
    list(option("before", "FILE", "the order lines as they were, read as those of --orders are",
      required = TRUE)),
    daybook_options(),
    list(
      option("line-key", "COLUMN", "the columns that tell every order line apart", many = TRUE),
      option("by", "AXES", "what totals are told by (default: month)"), show,
      option("out", "FILE", "write .html .pdf .xlsx .md .txt ...", many = TRUE)
    )
  )
}

command_changes <- function(args) {
  values <- read_options(args, changes_options(), "changes")
  if (is.null(values)) {
    return(writeLines(changes_help()))
  }
  check_outputs(values$out)
  after <- daybook_from(values)
  values$orders <- values$before
  before <- daybook_from(values)
  x <- compared_books(before, after, values)
  if (is.null(values$out)) {
    return(writeLines(styled_lines(format(x, width = output_width()))))
  }
  for (path in values$out) {
    write_report(x, path)
    tell("wrote ", path)
  }
}

compared_books <- function(before, after, values) {
  by <- values$by %||% "month"
  if (is.null(values$show)) {
    return(new_book_changes(before, after, values[["line-key"]], read_axis_words(by, names(after$columns))))
  }
  table <- function(book) {
    make_table(new_request("rollup", rows = read_axis_words(by, names(book$columns)),
      measures = read_expressions(values$show, "show"), totals = "grand"), book)
  }
  changes(table(before), table(after), key = values[["line-key"]])
}

changes_help <- function() {
  c(
    "drystack changes: what changed between two exports of the same orders, and what it moved",
    "",
    option_lines(changes_options()),
    "",
    "A standing report compares itself with its last build: drystack build REPORT.yml --changes",
    "Example, on the made-up orders (drystack demo says where they are), which have not changed:",
    "  drystack changes --before orders.csv --orders orders.csv --date ordered_on --as-of 2026-08-31 \\",
    "    --by month --show 'sales = sum(amount)'"
  )
}
