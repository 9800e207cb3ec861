# drystack demo: the full example on the made-up orders, and the standing reports that go with it.

demo_options <- function() {
  list(
    option("out", "FOLDER", "where to write (default: drystack-demo)"),
    flag("list", "the standing reports there are; drystack demo NAME writes and builds one")
  )
}

command_demo <- function(args) {
  named <- length(args) > 0L && !startsWith(args[1L], "-")
  values <- read_options(if (named) args[-1L] else args, demo_options(), "demo")
  if (is.null(values)) {
    return(writeLines(demo_help()))
  }
  if (!is.null(values$list)) {
    return(writeLines(report_lines()))
  }
  folder <- values$out %||% "drystack-demo"
  if (named) build_demo(args[1L], folder) else write_demo(folder)
}

write_demo <- function(folder) {
  table <- demo_table()
  harrowgill_folder(folder)
  writeLines(styled_lines(format(table, width = output_width())))
  inputs <- c(demo_data, "monthly.yml")
  paths <- file.path(folder, c("sales.html", "sales.csv", "sales.png"))
  write_report(table, paths[1L])
  write_report(table, paths[2L])
  write_report(figure(table), paths[3L])
  writeLines(c("", paste("wrote", c(paths, file.path(folder, inputs))),
    "", demo_next_steps(folder)), stderr())
}

# What each is for: its first line of words.
report_lines <- function() {
  files <- demo_reports()
  words <- vapply(files, function(file) {
    lines <- grep("^# ", readLines(file, n = 3L, encoding = "UTF-8"), value = TRUE)
    sub("^# ", "", grep("$schema=", lines, value = TRUE, fixed = TRUE, invert = TRUE)[1L])
  }, "")
  paste0(pad(names(files), 20L, "left"), words)
}

build_demo <- function(name, folder) {
  reports <- demo_reports()
  if (!name %in% names(reports)) {
    raise("usage", c(paste0("There is no report ", quoted(name), "."),
      advise_word(name, names(reports), "reports")))
  }
  harrowgill_folder(folder, name)
  file <- file.path(folder, basename(reports[[name]]))
  # The last whole month, where the report itself names no day.
  day <- if (is.null(read_standing(file)$said$as_of)) list(as_of = "2026-08-31")
  built <- build_report(file, day %||% list(), folder)
  tell_build(built, json = FALSE)
  tell("Again next month: drystack build ", file, " --as-of 2026-09-30 --out ", folder)
}

demo_table <- function() {
  book <- add_conditions(demo_book(), read_expressions("status != \"cancelled\"", "only"))
  measures <- c(
    "sales = sum(amount - discount)", "ytd = ytd(sales)", "ytd_ly = prior(ytd, year)",
    "change = ytd - ytd_ly"
  )
  make_table(
    new_request("rollup", rows = list(said("month")), measures = read_expressions(measures, "show"),
      totals = "grand"), book
  )
}

demo_next_steps <- function(folder) {
  c(
    "The orders are made up: Harrowgill Stone Yard, fiscal year from July. To go on:",
    paste0("  cd ", shQuote(folder, "sh")),
    "  drystack build monthly.yml --as-of 2026-08-31 --set depot=Skelby --out out",
    paste0("  drystack rollup --orders orders.csv --date ordered_on --calendar fiscal:July --by ",
      "region,quarter \\"),
    "    --show 'sales = sum(amount)' --show 'ytd = ytd(sales)' --totals all",
    "  drystack demo --list",
    "or in R:",
    "  library(drystack); ?rollup"
  )
}

demo_help <- function() {
  c(
    paste0("drystack demo: run the example on made-up orders; write its table, figure, orders ",
      "and standing report"),
    "",
    "  drystack demo [NAME] [options]",
    "",
    option_lines(demo_options()),
    "",
    "Example:",
    "  drystack demo --out /tmp/yard",
    "  drystack demo products --out /tmp/yard"
  )
}
