# drystack explore

explore_options <- function() {
  base <- book_options(required = character())
  base[[1L]]$what <- "orders as for drystack rollup (default: those of the made-up yard)"
  base[[2L]]$what <- "the column with the date (default: the first that looks like one)"
  c(
    base, list(
      option("port", "N", "the port to listen on (default: any free port)"),
      option("host", "ADDRESS", "the address to listen on (default: this machine only, 127.0.0.1)"),
      option("folder", "FOLDER", "the only folder files are written to (default: here)"),
      flag("no-open", "print the address instead of opening the browser"),
      flag("allow-outside", "paths of a report may lead out of its folder")
    )
  )
}

command_explore <- function(args) {
  named <- length(args) > 0L && !startsWith(args[1L], "-")
  values <- read_options(if (named) args[-1L] else args, explore_options(), "explore")
  if (is.null(values)) {
    return(writeLines(explore_help()))
  }
  if (named && !is.null(values$orders)) raise_usage("A standing report names its own orders.",
    "explore")
  check_packages(explorer_packages, "The explorer", "explorer", "explore")
  compiler::enableJIT(3L)
  opened <- if (named) opened_report(args[1L], !is.null(
    values[["allow-outside"]])) else opened_values(values)
  port <- if (!is.null(values$port)) number_of_option(values$port, "port")
  run_explorer(opened, port, values$host %||% "127.0.0.1", values$folder %||% ".",
    is.null(values[["no-open"]]))
}

opened_values <- function(values) {
  if (is.null(values$orders)) {
    return(opened_book(demo_book(), "orders.csv"))
  }
  opened_orders(document_of_options(values))
}

explore_help <- function() {
  c(
    paste0("drystack explore: explore orders in the browser, through a sentence whose parts you ",
      "can change"),
    "",
    "  drystack explore [REPORT.yml] [options]",
    "",
    option_lines(explore_options()),
    "",
    paste0("Without orders it opens those of the made-up yard; it also opens a standing report, ",
      "to read and change."),
    "Example, on the made-up orders (drystack demo says where they are):",
    "  drystack explore --orders orders.csv --date ordered_on --calendar fiscal:July"
  )
}
