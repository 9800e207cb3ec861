# drystack rollup

rollup_options <- function() {
  c(
    daybook_options(),
    list(
      option("by", "AXES", "columns and periods, by commas: region,month"), measure_option(),
      option("totals", "WORD", ""), option("totals-at", "WORD", "none (default), grand or all; at the end or the start")
    ),
    order_options(), told_options(), output_options()
  )
}

command_rollup <- function(args) {
  values <- read_options(args, rollup_options(), "rollup")
  if (is.null(values)) {
    return(writeLines(rollup_help()))
  }
  check_outputs(values$out)
  book <- daybook_from(values)
  axes <- read_axis_words(values$by %||% "", names(book$columns))
  ask <- rollup_request(
    book, axes, read_expressions(values$show, "show"), values$totals %||% "none", values[["totals-at"]] %||% "end",
    rules_from(values$sort, "sort"), rules_from(values$keep, "keep")
  )
  deliver(rollup_ask(book, ask), values)
}

rollup_help <- function() {
  c(
    "drystack rollup: totals of orders by periods and columns",
    "",
    option_lines(rollup_options()),
    "",
    "Measures: sum count distinct mean median ..., + - * / ^, ytd prior running moving growth only share each",
    "(in R: ?measure_language). Periods: day week month quarter half year; civil$month of a second calendar.",
    "Example, on the made-up orders (drystack demo says where they are):",
    "  drystack rollup --orders orders.csv --date ordered_on --calendar fiscal:July --by region,quarter \\",
    "    --show 'sales = sum(amount)' --show 'ytd = ytd(sales)' --as-of 2026-08-31 --totals all"
  )
}
