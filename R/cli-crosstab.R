# drystack crosstab

crosstab_options <- function() {
  c(
    daybook_options(),
    list(
      option("rows", "AXES", ""), option("cols", "AXES", "what stands down the side and across the top"), measure_option(),
      option("totals", "WORD", ""), option("totals-at", "WORD", "none, grand or all; end or start; or rows=all,cols=none"),
      option("measures-at", "cols|rows", "several measures side by side, or one under the other")
    ),
    order_options(), told_options(), output_options()
  )
}

command_crosstab <- function(args) {
  values <- read_options(args, crosstab_options(), "crosstab")
  if (is.null(values)) {
    return(writeLines(crosstab_help()))
  }
  check_outputs(values$out)
  book <- daybook_from(values)
  axes <- function(text) read_axis_words(text %||% "", names(book$columns))
  ask <- crosstab_request(
    book, axes(values$rows), axes(values$cols), read_expressions(values$show, "show"),
    sides_from(values$totals) %||% "none", sides_from(values[["totals-at"]]) %||% "end",
    rules_from(values$sort, "sort"), rules_from(values$keep, "keep"), values[["measures-at"]] %||% "cols"
  )
  deliver(crosstab_ask(book, ask), values)
}

crosstab_help <- function() {
  c(
    "drystack crosstab: dimensions and periods down the side and across the top",
    "",
    option_lines(crosstab_options()),
    "",
    "Measures as for drystack rollup; share(sales, of = \"row\"), \"column\", \"parent\", \"total\" are shares.",
    "Example, on the made-up orders (drystack demo says where they are):",
    "  drystack crosstab --orders orders.csv --date ordered_on --calendar fiscal:July --latest '4 quarter' \\",
    "    --rows region --cols quarter --show 'sales = sum(amount)' --totals grand"
  )
}
