# The figure writers. Devices live in packages that are needed for nothing else.

figure_size <- c(width = 12.8, height = 8)

write_png_file <- function(plot, path) {
  check_device("ragg", ".png")
  draw(plot, path, ragg::agg_png, dpi = 100)
}

write_svg_file <- function(plot, path) {
  check_device("svglite", ".svg")
  draw(plot, path, svglite::svglite)
}

draw <- function(plot, path, device, ...) {
  ggplot2::ggsave(
    path, plot, device = device, width = figure_size[["width"]], height = figure_size[["height"]], units = "in", ...
  )
}

check_device <- function(package, ending) {
  if (!rlang::is_installed(package)) {
    raise("output", c(
      "A figure needs the package {.pkg {package}} to be written as {ending}.",
      ">" = "Install it: {.code install.packages(\"{package}\")}."
    ))
  }
}
