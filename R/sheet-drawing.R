# A drawing: a figure on its way into files, drawn once for each kind of file that asks for it.
#
# alt: its alternative text; svg, png: its bytes; each a function of no arguments

drawing_of <- function(plot) {
  force(plot)
  # Laid out on the first device it is drawn on: both measure text alike.
  built <- made_once(function() ggplot2::ggplotGrob(plot))
  new_drawing(
    alt = function() plot$labels$alt %||% "", svg = drawn_once(built, write_svg_file, ".svg"),
    png = drawn_once(built, write_png_file, ".png")
  )
}

new_drawing <- function(alt, svg, png) {
  structure(list(alt = alt, svg = svg, png = png), class = "drystack_drawing")
}

# The kinds that the writers of some formats ask for.
drawn_kinds <- function(formats) {
  c(if (any(c("html", "pdf") %in% formats)) "svg", if (any(c("md", "xlsx") %in% formats)) "png")
}

drawn_once <- function(built, write, ending) {
  made_once(function() {
    file <- tempfile(fileext = ending)
    on.exit(unlink(file))
    write(built, file)
    readBin(file, "raw", file.size(file))
  })
}
