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
  figure <- x$figures[[measure$name]][here]
  figure[after_orders(x)[here]] <- NA
  kept <- readable_cells(data.frame(
    down = head_labels(x, sides[[1L]], here), across = head_labels(x, sides[[2L]], here),
    figure = figure
  ), in_time = vapply(sides, function(names) is_period_axis(x$ask$axes[[names[1L]]]), NA))
  data <- kept$data
  across <- nlevels(data$across)
  plot <- ggplot2::ggplot(data, ggplot2::aes(x = .data$across, y = .data$down)) +
    ggplot2::geom_tile(ggplot2::aes(fill = .data$figure), colour = shade("gap"), linewidth = 0.6) +
    hatching(data) +
    ggplot2::scale_y_discrete(limits = rev) +
    ggplot2::scale_x_discrete(position = "top") +
    heat_colours(data$figure) +
    heat_numbers_layer(data, measure) +
    ggplot2::guides(y = ggplot2::guide_axis(check.overlap = TRUE))
  sides <- lapply(sides, function(names) joined_words(labels_of(names, x$ask$axes)))
  title <- paste(measure$label, "by", sides[[1L]], "across", sides[[2L]])
  hatched <- if (anyNA(data$figure)) "Hatched: unknown, or after the orders end."
  dressed(plot, x, title, c(kept$note, hatched, cyclic_notes(x))) + ggplot2::theme(
    panel.grid.major.y = ggplot2::element_blank(), axis.line.x = ggplot2::element_blank(),
    axis.ticks.x = ggplot2::element_blank()
  ) + if (across > 10L) leaning_labels(levels(data$across)[across])
}

# The label of the last column leans out of the figure.
leaning_labels <- function(last) {
  ggplot2::theme(axis.text.x.top = ggplot2::element_text(angle = 45, hjust = 0),
    plot.margin = ggplot2::margin(12, max(16, 3.6 * nchar(last)), 10, 12))
}

# Rows whose period begins after the orders end.
after_orders <- function(x) {
  after <- rep(FALSE, length(x$role))
  for (axis in names(Filter(is_period_axis, x$ask$axes))) {
    first <- vctrs::vec_data(x$axes[[axis]])
    after <- after | !is.na(first) & first > x$covered
  }
  after
}

heat_numbers_layer <- function(data, measure) {
  known <- data[!is.na(data$figure), ]
  known$dark <- abs(known$figure) > 0.55 * max(abs(known$figure), 0)
  list(
    fitting_text(ggplot2::aes(label = short_figures(.data$figure, measure),
      colour = .data$dark), known, c(nlevels(data$across), nlevels(data$down)), size = 3.8),
    ggplot2::scale_colour_manual(
      values = c("FALSE" = shade("ink"), "TRUE" = shade("on_most")), guide = "none"
    )
  )
}

# Slanted lines over the cells that have no figure.
hatching <- function(data) {
  empty <- data[is.na(data$figure), ]
  if (nrow(empty) == 0L) {
    return(NULL)
  }
  # A line from the left or the lower edge of a cell to its upper or right one.
  starts <- seq(-0.5, 0.75, by = 0.25)
  lines <- data.frame(
    x = rep(as.integer(empty$across), each = length(starts)) - 0.5 + pmax(-starts - 0.25, 0),
    y = rep(nlevels(empty$down) + 1L - as.integer(empty$down), each = length(starts)) - 0.5 +
      pmax(starts + 0.25, 0)
  )
  lines$reach <- pmin(1 - rep(pmax(-starts - 0.25, 0), nrow(empty)),
    1 - rep(pmax(starts + 0.25, 0), nrow(empty)))
  lines <- lines[lines$reach > 0, ]
  ggplot2::geom_segment(
    ggplot2::aes(x = .data$x, y = .data$y, xend = .data$x + .data$reach,
      yend = .data$y + .data$reach),
    data = lines, colour = shade("sand"), linewidth = 0.5, inherit.aes = FALSE
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

# Of more rows or columns than can be read the first are drawn, of periods the last.
readable_cells <- function(data, in_time) {
  note <- character()
  sides <- c("down", "across")
  for (side in sides) {
    n <- nlevels(data[[side]])
    if (n <= most_members) next
    last <- in_time[match(side, sides)]
    shown <- (if (last) utils::tail else utils::head)(levels(data[[side]]), most_members)
    data <- droplevels(data[data[[side]] %in% shown, ])
    note <- c(note, paste0("The ", if (last) "last " else "first ", most_members, " of ",
      format_count(n), if (side == "down") " rows" else " columns", " are drawn."))
  }
  list(data = data, note = note)
}

# One colour where all figures have one sign, two that meet at zero where they have not.
heat_colours <- function(figures) {
  if (any(figures < 0, na.rm = TRUE)) {
    most <- max(abs(figures), na.rm = TRUE)
    return(ggplot2::scale_fill_gradient2(
      low = shade("rust"), mid = shade("middle"), high = shade("moss"),
      limits = c(-most, most), guide = "none", na.value = shade("none")
    ))
  }
  ggplot2::scale_fill_gradient(low = shade("least"), high = shade("most"),
    limits = c(0, NA), guide = "none", na.value = shade("none"))
}
