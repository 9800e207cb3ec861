# Text in cells and over bars: as large as they allow once they are drawn, left out where that would
# be too small to be read.

# cells: how many stand side by side, and one above the other; `...`: how the text looks
fitting_text <- function(mapping, data, cells, ...) {
  ggplot2::layer(geom = fitting_geom(), stat = "identity", position = "identity", mapping = mapping,
    data = data, params = list(cells = cells, ...))
}

fitting_geom <- function() {
  ggplot2::ggproto("GeomFittingText", ggplot2::GeomText,
    draw_panel = function(data, panel_params, coord, cells) {
      text <- ggplot2::GeomText$draw_panel(data, panel_params, coord)
      grid::gTree(text = text, cells = cells, cl = "drystack_fitting_text")
    })
}

# The size of cells is known when they are drawn, and again after each change of their window.
#' @exportS3Method grid::makeContent
makeContent.drystack_fitting_text <- function(x) {
  share <- share_that_fits(x$text, x$cells)
  if (share < least_share) {
    return(grid::setChildren(x, grid::gList()))
  }
  x$text$gp$fontsize <- share * x$text$gp$fontsize
  grid::setChildren(x, grid::gList(x$text))
}

least_share <- 0.7

share_that_fits <- function(text, cells) {
  longest <- grid::textGrob(text$label[which.max(nchar(text$label))],
    gp = grid::gpar(fontsize = max(text$gp$fontsize)))
  width <- function(x) grid::convertWidth(x, "inches", valueOnly = TRUE)
  height <- function(x) grid::convertHeight(x, "inches", valueOnly = TRUE)
  whole <- grid::unit(1, "npc")
  room <- c(width(whole), height(whole)) / cells
  min(1, 0.85 * room / c(width(grid::grobWidth(longest)), height(grid::grobHeight(longest))))
}
