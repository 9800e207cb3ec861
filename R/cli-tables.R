# drystack rollup, crosstab, listing and headlines: a document with one block, from its options.

table_command <- function(kind) {
  function(args) {
    values <- read_options(args, table_options(kind), kind)
    if (is.null(values)) {
      return(writeLines(table_help(kind)))
    }
    check_outputs(values$out)
    deliver(document_table(document_of_options(values, kind)), values)
  }
}

table_options <- function(kind) {
  c(book_options(), field_options("block", kind, required = if (kind != "listing") "show"),
    told_options(), output_options())
}

table_help <- function(kind) {
  words <- table_help_words()[[kind]]
  c(words$title, "", option_lines(table_options(kind)), "", words$more,
    "Example, on the made-up orders (drystack demo says where they are):", words$example)
}

table_help_words <- function() {
  list(
    rollup = list(
      title = "drystack rollup: totals of orders by periods and columns",
      more = c("Measures: sum count distinct mean median ..., + - * / ^,",
        "ytd prior running moving growth only share each",
        paste("(in R: ?measure_language). Periods: day week month quarter half year;",
          "civil$month of a second calendar.")),
      example = c(
        paste("  drystack rollup --orders orders.csv --date ordered_on --calendar fiscal:July",
          "--by region,quarter \\"),
        paste0("    --show 'sales = sum(amount)' --show 'ytd = ytd(sales)' --as-of 2026-08-31 ",
          "--totals all"))
    ),
    crosstab = list(
      title = "drystack crosstab: dimensions and periods down the side and across the top",
      more = paste(paste0("Measures as for drystack rollup; shares: share(sales, of = \"row\"), ",
        "\"column\","),
        "\"parent\", \"total\"."),
      example = c("  drystack crosstab --orders orders.csv --date ordered_on \\",
        "    --calendar fiscal:July --latest '4 quarter' \\",
        "    --rows region --cols quarter --show 'sales = sum(amount)' --totals grand")
    ),
    listing = list(
      title = "drystack listing: order lines under their groups, with totals at each break",
      example = c(
        paste("  drystack listing --orders orders.csv --date ordered_on",
          "--only 'customer_id == \"C4231\"' \\"),
        paste("    --from 2026-05-01 --to 2026-05-31 --groups depot --lines product_id",
          "--show 'sales = sum(amount)'"))
    ),
    headlines = list(
      title = "drystack headlines: single figures with their comparison",
      example = c(
        paste("  drystack headlines --orders orders.csv --date ordered_on",
          "--show 'month = mtd(sum(amount))' \\"),
        paste0("    --show 'days_30 = moving(sum(amount), 30, day)' --show 'unpaid = ",
          "only(sum(amount), !paid)'"))
    )
  )
}
