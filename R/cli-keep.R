# drystack keep

keep_options <- function() {
  c(field_options("orders"), list(
    option("by", "COLUMNS", "columns of the orders, by commas: depot,status"),
    option("amount", "EXPR", "a column or an expression of columns", many = TRUE),
    option("entered", "COLUMN", "for a database without a key: the day or time lines were entered"),
    option("out", "FOLDER", "where the states are kept"),
    option("refresh", "FOLDER", "fold what is new in orders whose states exist"),
    flag("all", "with --refresh: fold all orders again")
  ))
}

command_keep <- function(args) {
  values <- read_options(args, keep_options(), "keep")
  if (is.null(values)) {
    return(writeLines(keep_help()))
  }
  if (!is.null(values$refresh)) {
    return(writeLines(refresh_lines(refresh(values$refresh, all = isTRUE(values$all)))))
  }
  for (name in c("orders", "date", "by", "out")) {
    if (is.null(values[[name]])) raise_usage(paste0("The option --", name, " is missing."), "keep")
  }
  book <- document_book(document_of_options(values))
  states_kept(book, values$out, read_axis_words(values$by, names(book$columns)),
    read_expressions(values$amount, "amount"), values$entered)
  tell("kept in ", values$out, ": ask it with --orders ", shQuote(values$out, "sh"))
}

refresh_lines <- function(told) {
  if (nrow(told) == 0L) {
    return("nothing is new")
  }
  paste0(told$what, ": ", told$part, ", ", counted_lines(abs(told$lines)))
}

keep_help <- function() {
  c(
    "drystack keep: fold orders once by day and columns, and answer from that",
    "",
    option_lines(keep_options()),
    "",
    paste0("Sums, counts, means and extremes of the amounts by these columns are answered ",
      "without the orders;"),
    "all else is asked of them.",
    "Example, on the made-up orders (drystack demo says where they are):",
    paste0("  drystack keep --orders orders.csv --date ordered_on --by depot,status --amount ",
      "amount --out states")
  )
}
