# A drawing: a figure on its way into files, drawn once for each kind of file that asks for it.
#
# table: that which it was drawn from (NULL for one of other making)
# title: what it is called where that does not stand in the drawing ("" for a figure
# of other making)
# alt: its alternative text; svg, png: its bytes, for so many of them side by side

drawing_of <- function(plot) {
  force(plot)
  own <- attr(plot, "drystack")
  title <- if (is.null(own)) "" else plot$labels$title
  drawn <- function(across) {
    # Laid out on the first device it is drawn on: both measure text alike.
    layout <- made_once(function() ggplot2::ggplotGrob(on_a_page(plot, own)))
    size <- page_size(own, across)
    list(svg = drawn_once(layout, write_svg_file, ".svg", size),
      png = drawn_once(layout, write_png_file, ".png", size))
  }
  sizes <- lapply(1:4, function(across) made_once(function() drawn(across)))
  structure(class = "drystack_drawing", list(
    title = title, table = own$table, alt = function() plot$labels$alt %||% "",
    svg = function(across = 1L) sizes[[across]]()$svg(),
    png = function(across = 1L) sizes[[across]]()$png()
  ))
}

# The page says what the figure is called and when it was made, and has a ground of its own.
on_a_page <- function(plot, own) {
  if (!is.null(own)) {
    plot <- plot + ggplot2::labs(title = NULL, subtitle = NULL)
  }
  plot + ggplot2::theme(plot.background = ggplot2::element_blank(),
    panel.background = ggplot2::element_blank())
}

# Inches. Figures with rows or panels of their own are higher.
page_size <- function(own, across) {
  width <- c(10.6, 6.2, 4.8, 4)[across]
  height <- if (across == 1L) 4.9 else if (across == 2L) 3.9 else 3.2
  tall <- own$height %||% 0
  c(width = width, height = max(height, tall))
}

drawn_once <- function(layout, write, ending, size) {
  made_once(function() {
    file <- tempfile(fileext = ending)
    on.exit(unlink(file))
    write(layout, file, size)
    readBin(file, "raw", file.size(file))
  })
}
