# drystack changes

changes_options <- function() {
  show <- option_named(field_options("block", "rollup"), "show")
  show$what <- "what moved this figure; without one, order lines are compared"
  c(
    list(option("before", "FILE", "the earlier order lines, read in the same way as --orders",
      required = TRUE)),
    book_options(),
    list(
      option("line-key", "COLUMN", "the columns that tell every order line apart", many = TRUE),
      option("by", "AXES", "the period that totals are compared by (default: month)"), show,
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
  values$by <- values$by %||% "month"
  x <- compared_exports(values)
  if (is.null(values$out)) {
    return(writeLines(styled_lines(format(x, width = output_width()))))
  }
  for (path in values$out) {
    write_report(x, path)
    tell("wrote ", path)
  }
}

# The order lines as they are, and as they were.
compared_exports <- function(values) {
  after <- document_of_options(values, "rollup")
  values$orders <- values$before
  before <- document_of_options(values, "rollup")
  if (!is.null(values$show)) {
    table <- function(document) {
      document$said$page[[1L]]$rollup$totals <- "grand"
      document_table(document)
    }
    return(changes(table(before), table(after), key = values[["line-key"]]))
  }
  book <- document_book(after)
  by <- lapply(after$said$page[[1L]]$rollup$by, axis_said, book = book)
  new_book_changes(document_book(before), book, values[["line-key"]], by)
}

changes_help <- function() {
  c(
    "drystack changes: what changed between two exports of the same orders, and what it moved",
    "",
    option_lines(changes_options()),
    "",
    "A standing report compares itself with its last build: drystack build REPORT.yml --changes",
    "Example, on the made-up orders (drystack demo says where they are), which have not changed:",
    paste0("  drystack changes --before orders.csv --orders orders.csv --date ordered_on --as-of ",
      "2026-08-31 \\"),
    "    --by month --show 'sales = sum(amount)'"
  )
}
