# Measures that share no axis, one below the other: each in a panel of its own with its own scale.

most_measures_drawn <- 4L

# The measures drawn in panels: the first, and of the others those that are figures and no line over
# it. `lines`: the names of those.
panel_measures <- function(x, lines = character()) {
  others <- Filter(function(measure) {
    is.numeric(x$figures[[measure$name]]) && !measure$name %in% lines
  }, x$ask$measures[-1L])
  utils::head(c(x$ask$measures[1L], others), most_measures_drawn)
}

# The panel of each measure, in their order; the same label twice is told apart by the names.
measure_panels <- function(measures) {
  labels <- shown_text(vapply(measures, head_label, "", USE.NAMES = FALSE))
  twice <- labels %in% labels[duplicated(labels)]
  labels[twice] <- paste0(labels[twice], " (", shown_text(names(measures)[twice]), ")")
  factor(labels, levels = labels)
}

# Facets one below the other, the labels of whose axes are in the format of their measure.
facets_of_measures <- function(measures) {
  facet <- ggplot2::facet_wrap(ggplot2::vars(.data$panel), ncol = 1L, scales = "free_y")
  labels <- lapply(unname(measures), amount_labels)
  ggplot2::ggproto(NULL, facet, init_scales = function(layout, x_scale = NULL,
    y_scale = NULL, params) {
    scales <- facet$init_scales(layout, x_scale, y_scale, params)
    for (i in seq_along(scales$y)) {
      scales$y[[i]]$labels <- labels[[as.integer(layout$panel[match(i, layout$SCALE_Y)])]]
    }
    scales
  })
}
