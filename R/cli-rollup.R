# drystack rollup

rollup_options <- function() {
  c(
    daybook_options(),
    list(
      option("by", "AXES", "columns and periods, by commas: region,month"), measure_option(),
      option("totals", "WORD", ""), option("totals-at", "WORD",
        "none (default), grand or all; at the end or the start")
    ),
    order_options(), list(members_option()), told_options(), output_options()
  )
}

command_rollup <- function(args) {
  values <- read_options(args, rollup_options(), "rollup")
  if (is.null(values)) {
    return(writeLines(rollup_help()))
  }
  check_outputs(values$out)
  book <- daybook_from(values)
  request <- new_request("rollup",
    rows = read_axis_words(values$by %||% "", names(book$columns)),
    measures = read_expressions(values$show, "show"), totals = values$totals %||% "none",
    totals_at = values[["totals-at"]] %||% "end", sort = rules_from(values$sort, "sort"),
    keep = rules_from(values$keep, "keep"), members = values$members %||% "shown"
  )
  deliver(make_table(request, book), values)
}

rollup_help <- function() {
  c(
    "drystack rollup: totals of orders by periods and columns",
    "",
    option_lines(rollup_options()),
    "",
    "Measures: sum count distinct mean median ..., + - * / ^,",
    "ytd prior running moving growth only share each",
    "(in R: ?measure_language). Periods: day week month quarter half year; civil$month of a second calendar.",
    "Example, on the made-up orders (drystack demo says where they are):",
    "  drystack rollup --orders orders.csv --date ordered_on --calendar fiscal:July --by region,quarter \\",
    "    --show 'sales = sum(amount)' --show 'ytd = ytd(sales)' --as-of 2026-08-31 --totals all"
  )
}
