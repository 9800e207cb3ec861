# drystack demo: the full example on the made-up orders.

demo_options <- function() list(option("out", "FOLDER", "where to write (default: drystack-demo)"))

command_demo <- function(args) {
  values <- read_options(args, demo_options(), "demo")
  if (is.null(values)) {
    return(writeLines(demo_help()))
  }
  folder <- values$out %||% "drystack-demo"
  if (!dir.exists(folder) && !dir.create(folder, showWarnings = FALSE, recursive = TRUE)) {
    raise("output", c(paste0("Cannot make the folder ", quoted(folder), "."),
      ">" = "Name another with {.code --out}."))
  }
  table <- demo_table()
  writeLines(styled_lines(format(table, width = output_width())))
  inputs <- c("orders.csv", "customers.csv", "monthly.yml")
  file.copy(system.file("extdata", inputs, package = "drystack"), folder, overwrite = TRUE)
  paths <- file.path(folder, c("sales.html", "sales.csv", "sales.png"))
  write_report(table, paths[1L])
  write_report(table, paths[2L])
  write_report(figure(table), paths[3L])
  writeLines(c("", paste("wrote", c(paths, file.path(folder, inputs))),
    "", demo_next_steps(folder)), stderr())
}

demo_table <- function() {
  book <- add_conditions(demo_book(), read_expressions("status != \"cancelled\"", "only"))
  measures <- c(
    "sales = sum(amount - discount)", "ytd = ytd(sales)", "ytd_ly = prior(ytd, year)", "change = ytd - ytd_ly"
  )
  make_table(
    new_request("rollup", rows = list(said("month")), measures = read_expressions(measures, "show"),
      totals = "grand"), book
  )
}

demo_book <- function() {
  daybook(
    read_orders(harrowgill_path("orders.csv")), "ordered_on",
    calendars = list(fiscal = fiscal_calendar("July"), civil = civil_calendar())
  )
}

demo_next_steps <- function(folder) {
  c(
    "The orders are made up: Harrowgill Stone Yard, fiscal year from July. To go on:",
    paste0("  cd ", shQuote(folder, "sh")),
    "  drystack build monthly.yml --as-of 2026-08-31 --set depot=Skelby --out out",
    "  drystack rollup --orders orders.csv --date ordered_on --calendar fiscal:July --by region,quarter \\",
    "    --show 'sales = sum(amount)' --show 'ytd = ytd(sales)' --totals all",
    "or in R:",
    "  library(drystack); ?rollup"
  )
}

demo_help <- function() {
  c(
    "drystack demo: run the example on made-up orders; write its table, figure, orders and standing report",
    "",
    option_lines(demo_options()),
    "",
    "Example:",
    "  drystack demo --out /tmp/yard"
  )
}
