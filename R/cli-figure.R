# drystack figure

figure_options <- function() {
  c(
    daybook_options(),
    list(
      option("by", "AXES", "columns and periods of a rollup: month, or depot,month"),
      option("rows", "AXES", ""), option("cols", "AXES", "or the sides of a cross-tab"), measure_option(),
      option("kind", "KIND", "periods compare moving shares bars steps heat (default: what fits)"),
      option("axis-label", "AXIS=TEXT", "what stands at the axis x or y", many = TRUE)
    ),
    order_options(), list(option("out", "FILE", "where to draw: .png or .svg", required = TRUE, many = TRUE)),
    save_options()
  )
}

command_figure <- function(args) {
  values <- read_options(args, figure_options(), "figure")
  if (is.null(values)) {
    return(writeLines(figure_help()))
  }
  for (path in values$out) writer_for(path, figure_writers(), "figure")
  book <- daybook_from(values)
  axes <- function(text) read_axis_words(text %||% "", names(book$columns))
  crossed <- !is.null(c(values$rows, values$cols))
  table <- make_table(new_request(
    if (crossed) "crosstab" else "rollup",
    rows = axes(if (crossed) values$rows else values$by), cols = axes(values$cols),
    measures = read_expressions(values$show, "show"), sort = rules_from(values$sort, "sort"),
    keep = rules_from(values$keep, "keep")
  ), book)
  plot <- withCallingHandlers(
    figure(table, kind = values$kind, axis_labels = pairs_said(values[["axis-label"]], "axis-label")),
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
