# drystack figure

figure_options <- function() {
  c(book_options(), field_options("block", "figure", required = "show"),
    list(option("out", "FILE", "where to draw: .png or .svg", required = TRUE, many = TRUE)),
    save_options())
}

command_figure <- function(args) {
  values <- read_options(args, figure_options(), "figure")
  if (is.null(values)) {
    return(writeLines(figure_help()))
  }
  for (path in values$out) writer_for(path, figure_writers(), "figure")
  document <- document_of_options(values, "figure")
  said <- document$said$page[[1L]]$figure
  names(document$said$page[[1L]]) <- if (is.null(c(said$rows, said$cols))) "rollup" else "crosstab"
  table <- document_table(document)
  plot <- withCallingHandlers(
    figure(table, kind = said$kind, axis_labels = unlist(said$axis_labels)),
    drystack_message_figure = function(m) {
      writeLines(rlang::cnd_message(m), stderr())
      rlang::cnd_muffle(m)
    }
  )
  save_request(plot, values)
  for (path in values$out) {
    write_report(plot, path)
    tell("wrote ", path)
  }
}

figure_help <- function() {
  c(
    "drystack figure: draw a table",
    "",
    option_lines(figure_options()),
    "",
    "Example, on the made-up orders (drystack demo says where they are):",
    "  drystack figure --orders orders.csv --date ordered_on --calendar fiscal:July --by month \\",
    "    --show 'sales = sum(amount)' --show 'ytd = ytd(sales)' --out sales.png"
  )
}
