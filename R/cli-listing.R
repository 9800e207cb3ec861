# drystack listing

listing_options <- function() {
  c(
    daybook_options(),
    list(
      option("groups", "AXES", ""), option("lines", "COLUMNS", "what lines stand under, and what each shows"),
      option("show", "'NAME = EXPR'", "a measure; running(sales, along = lines) runs down the lines",
        many = TRUE),
      option("per", "COLUMN", "one line for each value of a column, such as order_id"),
      option("totals", "WORD", ""), option("totals-at", "WORD",
        "all (default), grand or none; at the end or the start"),
      option("layout", "columns|indented", "groups in columns, or as headings"),
      option("after", "nothing|blank|page", "what follows a group of the first level"),
      flag("number", "number the lines within their group")
    ),
    order_options(), told_options(), output_options()
  )
}

command_listing <- function(args) {
  values <- read_options(args, listing_options(), "listing")
  if (is.null(values)) {
    return(writeLines(listing_help()))
  }
  check_outputs(values$out)
  book <- daybook_from(values)
  axes <- function(text) read_axis_words(text %||% "", names(book$columns))
  look <- list(layout = values$layout %||% "columns", number = !is.null(values$number),
    after = values$after %||% "nothing")
  request <- new_request("listing",
    rows = axes(values$groups), lines = axes(values$lines), measures = read_expressions(values$show, "show"),
    per = said(if (!is.null(values$per)) values$per), totals = values$totals %||% "all",
    totals_at = values[["totals-at"]] %||% "end", look = look, sort = rules_from(values$sort, "sort"),
    keep = rules_from(values$keep, "keep")
  )
  deliver(make_table(request, book), values)
}

listing_help <- function() {
  c(
    "drystack listing: order lines under their groups, with totals at each break",
    "",
    option_lines(listing_options()),
    "",
    "Example, on the made-up orders (drystack demo says where they are):",
    "  drystack listing --orders orders.csv --date ordered_on --only 'customer_id == \"C4231\"' \\",
    "    --from 2026-05-01 --to 2026-05-31 --groups depot --lines product_id --show 'sales = sum(amount)'"
  )
}
