# The figure writers. Devices live in packages that are needed for nothing else.

figure_size <- c(width = 12.8, height = 8)

# `layout`: a function that gives the figure as a grid object; it is called with the device
# open, as it measures text.
write_png_file <- function(layout, path, size = figure_size) {
  check_packages("ragg", "A .png", "demo", "output")
  # The device's library has words of its own for a full disk, past R: it draws in the
  # session's folder.
  drawn <- tempfile(fileext = ".png")
  on.exit(unlink(drawn))
  ragg::agg_png(drawn, size[["width"]], size[["height"]], units = "in", res = 100)
  draw_on_device(layout)
  kernel_write_file(path.expand(path), readBin(drawn, "raw", file.size(drawn)))
}

write_svg_file <- function(layout, path, size = figure_size) {
  check_packages("svglite", "An .svg", "demo", "output")
  drawn <- tempfile(fileext = ".svg")
  on.exit(unlink(drawn))
  svglite::svglite(drawn, size[["width"]], size[["height"]], bg = "transparent")
  draw_on_device(layout)
  # Measured in the font of this machine, shown in that of the page it stands on.
  text <- gsub("font-family: \"[^\"]*\"", "font-family: system-ui, sans-serif",
    readLines(drawn, encoding = "UTF-8"))
  write_text_lines(text, path)
}

# On the device just opened, which is closed whatever happens.
draw_on_device <- function(layout) {
  device <- grDevices::dev.cur()
  on.exit(grDevices::dev.off(device))
  # ggplot2 finds some functions of stats on the search path alone, where the program has not
  # put it.
  if (!"package:stats" %in% search()) attachNamespace("stats")
  layout <- layout()
  grid::grid.newpage()
  grid::grid.draw(layout)
}
