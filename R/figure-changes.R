#' @rdname changes
#' @param measure The measure to draw; default the first.
#' @export
figure.drystack_changes <- function(x, ..., measure = NULL) {
  own_setting()
  draw_changes(x, measure)
}

# From the figure told to that of now, a step for each reason.
draw_changes <- function(x, measure = NULL) {
  measure <- figure_name(measure %||% names(x$figures)[1L], names(x$figures))
  one <- x$measures[[measure]]
  total <- whole_cell(x)
  figures <- x$figures[[measure]][total, ]
  moved <- x$moved[[measure]][total, ]
  if (anyNA(c(figures, moved)) || nrow(x$reasons) == 0L) raise("figure",
    c("There is no figure for these changes.",
    "x" = "Some figures are unknown, or nothing has changed."))
  steps <- steps_between(c("told before", x$reasons$reason, "now"),
    c(figures[1L], moved, figures[length(figures)]))
  plot <- steps_plot(steps, one)
  title <- paste(one$label, "told before and now")
  plot <- plot$plot + ggplot2::labs(title = shown_text(sentence_case(title)), x = NULL, y = NULL,
    caption = paste(plot$note, collapse = "\n"), alt = paste0(sentence_case(title),
      ", a step for each reason.")) +
    theme_drystack() + ggplot2::theme(legend.title = ggplot2::element_blank()) +
      slanted_labels(steps$label)
  attr(plot, "drystack") <- list(kind = "changes", height = NULL)
  plot
}
