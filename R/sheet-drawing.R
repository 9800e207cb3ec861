# A drawing: a figure on its way into files, drawn once for each kind of file that asks for it.
#
# alt: its alternative text; svg, png: its bytes; each a function of no arguments

drawing_of <- function(plot) {
  force(plot)
  # Laid out on the first device it is drawn on: both measure text alike.
  built <- made_once(function() ggplot2::ggplotGrob(plot))
  structure(class = "drystack_drawing", list(
    alt = function() plot$labels$alt %||% "", svg = drawn_once(built, write_svg_file, ".svg"),
    png = drawn_once(built, write_png_file, ".png")
  ))
}

drawn_once <- function(built, write, ending) {
  made_once(function() {
    file <- tempfile(fileext = ending)
    on.exit(unlink(file))
    write(built, file)
    readBin(file, "raw", file.size(file))
  })
}
