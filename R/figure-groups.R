# Bars of two dimensions: side by side, or one on the other.

most_groups <- 12L

# list(along, series): the axes, the one with more members along; NULL where the table has not two.
group_axes_of <- function(x) {
  if (!inherits(x, c("drystack_rollup", "drystack_crosstab")) || length(x$ask$axes) != 2L ||
    !is.numeric(x$figures[[1L]])) {
    return(NULL)
  }
  names <- names(x$ask$axes)
  time <- names(Filter(function(axis) is_period_axis(axis) || is_cyclic_axis(axis), x$ask$axes))
  sizes <- vapply(names, function(axis) length(unique(axis_texts(x, axis))), 1L)
  along <- if (length(time) == 1L) time else names[which.max(sizes)]
  list(along = along, series = setdiff(names, along), sizes = sizes)
}

fits_grouped <- function(x) {
  axes <- group_axes_of(x)
  !is.null(axes) && axes$sizes[[axes$along]] <= most_groups &&
    axes$sizes[[axes$series]] <= most_series
}

# More bars than these are read as shades.
most_bars <- 24L

suits_grouped <- function(x) prod(group_axes_of(x)$sizes) <= most_bars

fits_stacked <- function(x) {
  axes <- group_axes_of(x)
  !is.null(axes) && axes$sizes[[axes$along]] <= most_members &&
    axes$sizes[[axes$series]] <= most_series &&
    is_additive(x$ask$measures[[1L]]$tree) && all(x$figures[[1L]] >= 0, na.rm = TRUE)
}

draw_grouped <- function(x) {
  draw_groups(x, ggplot2::position_dodge2(preserve = "single", padding = 0.1))
}

draw_stacked <- function(x) draw_groups(x, ggplot2::position_stack(reverse = TRUE))

draw_groups <- function(x, position) {
  axes <- group_axes_of(x)
  measure <- x$ask$measures[[1L]]
  here <- x$role %in% c("line", "others")
  data <- data.frame(along = head_labels(x, axes$along, here),
    series = head_labels(x, axes$series, here),
    amount = x$figures[[measure$name]][here], part_way = x$part_way[here])
  data$amount[after_orders(x)[here]] <- NA
  plot <- ggplot2::ggplot(data, ggplot2::aes(x = .data$along, y = .data$amount,
    fill = .data$series)) +
    ggplot2::geom_col(ggplot2::aes(alpha = .data$part_way), position = position, width = 0.8,
      colour = shade("gap"), linewidth = 0.2, na.rm = TRUE) +
    ggplot2::scale_fill_manual(values = bar_colours(levels(data$series))) + part_way_scale() +
    scale_y_amounts(measure)
  dressed(plot, x, paste(measure$label, "by", axis_words(x)), cyclic_notes(x)) +
    slanted_labels(levels(data$along))
}

# Colours of bars side by side, told apart in grey too.
bar_colours <- function(names) {
  stats::setNames(unname(shades(c("moss", "sand", "slate", "lichen", "rust",
    "ink")))[seq_along(names)], names)
}
