#' Colours and theme of the figures
#'
#' `theme_drystack()` is a ggplot2 theme, quiet and printable; `drystack_palette` are
#' the colours that go with it.
#'
#' @param base_size The size of text, in points.
#' @param ground `"paper"`, for the screen; `"white"`, for print; or `"none"`, where a page
#'   has its own.
#' @return `theme_drystack()`: a ggplot2 theme. `drystack_palette`: a named
#'   character vector of colours.
#' @seealso [figure()] draws with them; [scale_x_drystack_period()] for an axis of periods.
#' @examples
#' library(ggplot2)
#' ggplot(harrowgill()$orders, aes(quantity, amount)) +
#'   geom_point(colour = drystack_palette["slate"], na.rm = TRUE) + theme_drystack()
#' @export
theme_drystack <- function(base_size = 12, ground = "paper") {
  check_choice(ground, c("paper", "white", "none"), "ground")
  ink <- shade("ink")
  slate <- shade("slate")
  paper <- switch(ground, none = ggplot2::element_blank(), ggplot2::element_rect(
    fill = if (ground == "paper") shade("paper") else "white", colour = NA
  ))
  ggplot2::theme_minimal(base_size = base_size) + ggplot2::theme(
    plot.background = paper,
    panel.background = paper,
    panel.grid.minor = ggplot2::element_blank(),
    panel.grid.major.x = ggplot2::element_blank(),
    panel.grid.major.y = ggplot2::element_line(colour = shade("line"), linewidth = 0.35),
    axis.ticks.x = ggplot2::element_line(colour = slate, linewidth = 0.35),
    axis.line.x = ggplot2::element_line(colour = slate, linewidth = 0.35),
    axis.text = ggplot2::element_text(colour = slate),
    text = ggplot2::element_text(colour = ink),
    plot.title = ggplot2::element_text(face = "bold", colour = slate, size = ggplot2::rel(1.15)),
    plot.title.position = "plot",
    plot.subtitle = ggplot2::element_text(colour = slate, size = ggplot2::rel(0.85)),
    plot.caption = ggplot2::element_text(colour = slate, size = ggplot2::rel(0.75), hjust = 0),
    plot.caption.position = "plot",
    strip.text = ggplot2::element_text(face = "bold", colour = slate, hjust = 0),
    legend.position = "top",
    legend.justification = "left",
    plot.margin = ggplot2::margin(12, 16, 10, 12)
  )
}

#' @rdname theme_drystack
#' @export
drystack_palette <- c(
  slate = "#33424d", moss = "#5f7a52", lichen = "#b9c29b", rust = "#a6573a", sand = "#d9c7a3",
  ink = "#1d2429", paper = "#fbfaf6"
)
