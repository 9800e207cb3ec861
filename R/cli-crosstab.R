# drystack crosstab

crosstab_options <- function() {
  c(
    daybook_options(),
    list(
      option("rows", "AXES", ""), option("cols", "AXES", "what stands down the side and across the top"),
      measure_option(), option("totals", "WORD", ""),
      option("totals-at", "WORD", "none, grand or all; end or start; or rows=all,cols=none"),
      option("measures-at", "cols|rows", "several measures side by side, or one under the other"),
      option("after", "WORD", "after each group of the first row axis: nothing, blank or page")
    ),
    order_options(), list(members_option()), told_options(), output_options()
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
  request <- new_request("crosstab",
    rows = axes(values$rows), cols = axes(values$cols), measures = read_expressions(values$show, "show"),
    totals = sides_from(values$totals) %||% "none", totals_at = sides_from(values[["totals-at"]]) %||% "end",
    sort = rules_from(values$sort, "sort"), keep = rules_from(values$keep, "keep"),
    members = values$members %||% "shown", measures_at = values[["measures-at"]] %||% "cols",
    look = list(after = values$after %||% "nothing")
  )
  deliver(make_table(request, book), values)
}

crosstab_help <- function() {
  c(
    "drystack crosstab: dimensions and periods down the side and across the top",
    "",
    option_lines(crosstab_options()),
    "",
    "Measures as for drystack rollup; shares: share(sales, of = \"row\"), \"column\", \"parent\", \"total\".",
    "Example, on the made-up orders (drystack demo says where they are):",
    "  drystack crosstab --orders orders.csv --date ordered_on \\",
    "    --calendar fiscal:July --latest '4 quarter' \\",
    "    --rows region --cols quarter --show 'sales = sum(amount)' --totals grand"
  )
}
