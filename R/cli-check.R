# drystack check and drystack look: what an export holds, and what to know before trusting it.

check_options <- function() {
  c(book_options(), list(
    option("today", "DATE", "later lines count as future lines (default: today)"),
    output_options()[[2L]]
  ))
}

command_check <- function(args) {
  values <- read_options(args, check_options(), "check")
  if (is.null(values)) {
    return(writeLines(check_help()))
  }
  check_outputs(values$out)
  found <- check(document_book(document_of_options(values)), values$today %||% Sys.Date())
  if (is.null(values$out)) {
    return(writeLines(styled_lines(format(found, width = output_width()))))
  }
  deliver_sheet(data_sheet("Check of the orders", basename(values$orders),
    character(), as.data.frame(found)), values$out)
}

check_help <- function() {
  c(
    "drystack check: what to know before trusting an export",
    "",
    option_lines(check_options()),
    "",
    "Example, on the made-up orders (drystack demo says where they are):",
    "  drystack check --orders orders.csv --date ordered_on --lookup customers.csv:customer_id"
  )
}

look_options <- function() reading_options()

command_look <- function(args) {
  values <- read_options(args, look_options(), "look")
  if (is.null(values)) {
    return(writeLines(look_help()))
  }
  writeLines(styled_lines(format(looked_document(document_of_options(values)),
    width = output_width())))
}

look_help <- function() {
  c(
    "drystack look: what is in a file, and a first command to run on it",
    "",
    option_lines(look_options()),
    "",
    "Example, on the made-up orders (drystack demo says where they are):",
    "  drystack look --orders orders.csv"
  )
}
