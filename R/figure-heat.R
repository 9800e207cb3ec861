# A cross-tab, or two dimensions, as cells shaded by their figure, with the numbers in them.

fits_heat <- function(x) {
  if (inherits(x, "drystack_crosstab")) {
    return(length(side_axes(x$ask, "rows")) >= 1L && length(side_axes(x$ask, "cols")) >= 1L &&
      is.numeric(x$figures[[1L]]))
  }
  is_figure_table(x, 0L, 2L)
}

draw_heat <- function(x) {
  measure <- x$ask$measures[[1L]]
  here <- x$role %in% c("line", "others")
  sides <- if (inherits(x, "drystack_crosstab")) lapply(c("rows", "cols"), side_axes, ask = x$ask)
    else as.list(names(x$ask$axes))
  data <- data.frame(
    down = head_labels(x, sides[[1L]], here), across = head_labels(x, sides[[2L]], here),
    figure = x$figures[[measure$name]][here]
  )
  kept <- readable_cells(data)
  data <- kept$data
  data$dark <- !is.na(data$figure) & abs(data$figure) > 0.55 * max(abs(data$figure), na.rm = TRUE)
  across <- nlevels(data$across)
  plot <- ggplot2::ggplot(data, ggplot2::aes(x = .data$across, y = .data$down)) +
    ggplot2::geom_tile(ggplot2::aes(fill = .data$figure), colour = drystack_palette[["paper"]],
      linewidth = 0.6) +
    ggplot2::scale_y_discrete(limits = rev) +
    ggplot2::scale_x_discrete(position = "top") +
    heat_colours(data$figure)
  if (across <= 16L) {
    plot <- plot + ggplot2::geom_text(
      ggplot2::aes(label = heat_numbers(.data$figure, measure), colour = .data$dark),
      size = if (across > 10L) 2.6 else 3.4
    ) + ggplot2::scale_colour_manual(
      values = c("FALSE" = drystack_palette[["ink"]], "TRUE" = drystack_palette[["paper"]]), guide = "none"
    )
  }
  title <- paste(measure$label, "by", joined_words(sides[[1L]]), "across", joined_words(sides[[2L]]))
  dressed(plot, x, title, c(kept$note, cyclic_notes(x))) + ggplot2::theme(
    panel.grid.major.y = ggplot2::element_blank(), axis.line.x = ggplot2::element_blank(),
    axis.ticks.x = ggplot2::element_blank(),
    axis.text.x.top = if (across > 10L) ggplot2::element_text(angle = 45, hjust = 0)
  )
}

# Text for each row of what it is on the axes of one side.
head_labels <- function(x, axes, here) {
  parts <- lapply(axes, function(axis) {
    values <- x$axes[[axis]][here]
    shown_text(if (is_period(values)) format(values) else short_member(as.character(values)))
  })
  text <- do.call(paste, unname(parts))
  places <- do.call(order, c(unname(lapply(x$rows$places[axes], `[`, here)), method = "radix"))
  factor(text, levels = unique(text[places]))
}

# Of more rows or columns than can be read the first are drawn.
readable_cells <- function(data) {
  note <- character()
  for (side in c("down", "across")) {
    n <- nlevels(data[[side]])
    if (n <= most_members) next
    data <- data[data[[side]] %in% levels(data[[side]])[seq_len(most_members)], ]
    data[[side]] <- droplevels(data[[side]])
    note <- c(
      note,
      paste0("The first ", most_members, " of ", format_count(n),
        if (side == "down") " rows" else " columns", " are drawn.")
    )
  }
  list(data = data, note = note)
}

# One colour where all figures have one sign, two that meet at zero where they have not.
heat_colours <- function(figures) {
  if (any(figures < 0, na.rm = TRUE)) {
    most <- max(abs(figures), na.rm = TRUE)
    return(ggplot2::scale_fill_gradient2(
      low = drystack_palette[["rust"]], mid = drystack_palette[["paper"]], high = drystack_palette[["moss"]],
      limits = c(-most, most), guide = "none", na.value = "#eeeae0"
    ))
  }
  ggplot2::scale_fill_gradient(low = "#eef0e4", high = "#47603b",
    limits = c(0, NA), guide = "none", na.value = "#eeeae0")
}

heat_numbers <- function(figure, measure) {
  if (identical(measure$format$kind, "percentage")) {
    return(format_by(figure, measure$format))
  }
  format_by(figure, compact(symbol = measure$format$symbol %||% ""))
}
