# drystack headlines

headlines_options <- function() {
  c(
    daybook_options(), list(
      measure_option(),
      option("against", "UNIT", "compared with so long before: year; or 'unpaid = share(sales)'",
        many = TRUE),
      option("history", "UNIT", "the small line shows the last 13 of these (default month; none)")
    ), told_options(), output_options()
  )
}

command_headlines <- function(args) {
  values <- read_options(args, headlines_options(), "headlines")
  if (is.null(values)) {
    return(writeLines(headlines_help()))
  }
  check_outputs(values$out)
  book <- daybook_from(values)
  history <- values$history %||% "month"
  request <- new_request("headlines",
    measures = read_expressions(values$show, "show"), against = against_from(values$against),
    history = said(if (history != "none") as.name(check_choice(history, period_units, "history")))
  )
  deliver(make_table(request, book), values)
}

# One unit for all, or one for each figure: as the R surface takes them.
against_from <- function(text) {
  read <- lapply(text, read_expression, option = "against")
  names <- vapply(read, `[[`, "", "name")
  exprs <- lapply(read, `[[`, "expr")
  if (length(read) == 0L) {
    return(said(NULL))
  }
  if (length(read) == 1L && names == "") said(exprs[[1L]])
  else said(as.call(c(as.name("list"), stats::setNames(exprs, names))))
}

headlines_help <- function() {
  c(
    "drystack headlines: single figures with their comparison",
    "",
    option_lines(headlines_options()),
    "",
    "Example, on the made-up orders (drystack demo says where they are):",
    "  drystack headlines --orders orders.csv --date ordered_on --show 'month = mtd(sum(amount))' \\",
    "    --show 'days_30 = moving(sum(amount), 30, day)' --show 'unpaid = only(sum(amount), !paid)'"
  )
}
