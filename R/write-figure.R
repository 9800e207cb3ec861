# The figure writers. Devices live in packages that are needed for nothing else.

figure_size <- c(width = 12.8, height = 8)

write_png_file <- function(plot, path) {
  check_device("ragg", ".png")
  ragg::agg_png(path, figure_size[["width"]], figure_size[["height"]], units = "in", res = 100)
  draw(plot)
}

write_svg_file <- function(plot, path) {
  check_device("svglite", ".svg")
  svglite::svglite(path, figure_size[["width"]], figure_size[["height"]])
  draw(plot)
}

# On the device just opened, which is closed whatever happens.
draw <- function(plot) {
  device <- grDevices::dev.cur()
  on.exit(grDevices::dev.off(device))
  print(plot)
}

check_device <- function(package, ending) {
  if (!rlang::is_installed(package)) {
    raise("output", c(
      "A figure needs the package {.pkg {package}} to be written as {ending}.",
      ">" = "Install it: {.code install.packages(\"{package}\")}."
    ))
  }
}
