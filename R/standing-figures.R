# The figures of a standing report: a helper loads ggplot2 while the orders are read and draws while
# the tables are worked out, as both take longer than all else on a page.

# Draws the figure blocks of a page as its formats need them. Its input is
# list(table, kind) for each of them.
figure_helper <- function(source, formats, aside) {
  blocks <- which(block_kinds(source) == "figure")
  kinds <- drawn_kinds(formats)
  drawings <- new.env()
  drawing <- function(figures, i) {
    remembered_in(drawings, as.character(i),
      function() drawing_of(draw_figure(figures[[i]]$table, figures[[i]]$kind)))
  }
  wanted <- expand.grid(i = seq_along(blocks), part = c("alt", kinds), stringsAsFactors = FALSE)
  makes <- Map(function(i, part) function(figures) drawing(figures, i)[[part]](), wanted$i, wanted$part)
  names(makes) <- piece_name(wanted$i, wanted$part)
  # What tables and figures both need is loaded once, before the helper goes its own way.
  load_packages(c("vctrs", "scales"))
  graphics <- c("ggplot2", c(svg = "svglite", png = "ragg")[kinds])
  begun_helper(makes, function() load_packages(graphics), aside && length(blocks) > 0L)
}

piece_name <- function(i, part) sprintf("%s-%d", part, i)

load_packages <- function(packages) for (package in packages) requireNamespace(package, quietly = TRUE)

# The drawings of the blocks, in their order.
helped_drawings <- function(helper, figures) {
  # Figures are drawn from what the table holds: the orders stay here.
  helper$give(figures)
  lapply(seq_along(figures), function(i) {
    piece <- function(part) helper$pieces[[piece_name(i, part)]]
    new_drawing(piece("alt"), piece("svg"), piece("png"))
  })
}
