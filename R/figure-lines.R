# Lines over time, one for each member, year or measure, named at their ends.

most_series <- 6L

# list(along, series): the axes of a figure of lines, NULL where the table has none; series is NULL
# where measures of one format are the lines.
line_axes <- function(x) {
  axes <- x$ask$axes
  if (!inherits(x, c("drystack_rollup", "drystack_crosstab")) || !is.numeric(x$figures[[1L]])) {
    return(NULL)
  }
  cyclic <- names(Filter(is_cyclic_axis, axes))
  periods <- names(Filter(is_period_axis, axes))
  if (length(axes) == 2L && length(cyclic) + length(periods) > 0L) {
    # Parts of a year stand along the axis, and each year is a line.
    along <- c(cyclic, periods)[1L]
    return(list(along = along, series = setdiff(names(axes), along)))
  }
  if (length(axes) == 1L && length(periods) == 1L && length(lines_by_measure(x)) > 1L) {
    list(along = periods, series = NULL)
  }
}

# The measures that can share an axis with the first.
lines_by_measure <- function(x) {
  first <- x$ask$measures[[1L]]
  alike <- function(measure) {
    is.numeric(x$figures[[measure$name]]) && identical(measure$format, first$format)
  }
  Filter(alike, x$ask$measures)
}

fits_lines <- function(x) {
  axes <- line_axes(x)
  !is.null(axes) && any(!is.na(x$figures[[1L]])) && length(line_members(x, axes)) <= most_series &&
    length(unique(axis_texts(x, axes$along))) > 1L
}

line_members <- function(x, axes) {
  if (is.null(axes$series)) names(lines_by_measure(x)) else unique(axis_texts(x, axes$series))
}

axis_texts <- function(x, axis) {
  here <- x$role %in% c("line", "others")
  as.character(head_labels(x, axis, here))
}

# Time in the table and few lines: which of them is higher, and how each goes on.
suits_lines <- function(x) {
  axes <- line_axes(x)
  !is.null(axes$series) && length(unique(axis_texts(x, axes$along))) >= 4L &&
    (inherits(x, "drystack_crosstab") || is_cyclic_axis(x$ask$axes[[axes$along]]))
}

draw_lines <- function(x) {
  axes <- line_axes(x)
  data <- lines_data(x, axes)
  measure <- x$ask$measures[[1L]]
  ends <- line_ends(data)
  plot <- ggplot2::ggplot(data, ggplot2::aes(x = .data$along, y = .data$amount,
    colour = .data$series,
    group = .data$series)) +
    ggplot2::geom_line(data = of_several_points, linewidth = 0.8, na.rm = TRUE) +
    ggplot2::geom_point(ggplot2::aes(shape = .data$part_way), size = 1.8, na.rm = TRUE) +
    ggplot2::geom_text(ggplot2::aes(y = .data$label_at, label = .data$name), ends,
      hjust = 0, size = 3.5,
      colour = shade("ink")) +
    ggplot2::expand_limits(y = 0) +
    ggplot2::scale_shape_manual(values = c("FALSE" = 16L, "TRUE" = 1L), guide = "none") +
    ggplot2::scale_colour_manual(values = line_colours(x, axes, levels(data$series)),
      guide = "none") +
    scale_y_amounts(measure) + ggplot2::coord_cartesian(clip = "off") +
    if (is_period(data$along)) scale_x_drystack_period()
  what <- if (is.null(axes$series)) joined_words(vapply(lines_by_measure(x), `[[`, "", "label"))
    else measure$label
  dressed(plot, x, paste(what, "by", axis_words(x)), cyclic_notes(x)) +
    ggplot2::theme(plot.margin = ggplot2::margin(12, 24 + 6 * max(nchar(ends$name), 0L), 10, 12))
}

lines_data <- function(x, axes) {
  here <- x$role %in% c("line", "others")
  along <- if (is_period_axis(x$ask$axes[[axes$along]])) x$axes[[axes$along]][here]
    else head_labels(x, axes$along, here)
  figures <- if (is.null(axes$series)) lines_by_measure(x) else x$ask$measures[1L]
  of_measure <- function(measure) {
    data <- data.frame(row.names = seq_len(sum(here)))
    data$along <- along
    data$amount <- x$figures[[measure$name]][here]
    data$amount[after_orders(x)[here]] <- NA
    data$part_way <- x$part_way[here]
    data$series <- if (is.null(axes$series)) shown_text(measure$label)
      else as.character(head_labels(x, axes$series, here))
    data
  }
  data <- do.call(rbind, lapply(unname(figures), of_measure))
  order <- if (is.null(axes$series)) unique(data$series) else levels(
    head_labels(x, axes$series, here))
  data$series <- factor(data$series, levels = order)
  data$run <- as.integer(data$series)
  data
}

# The last known point of each line, its name beside it, names moved apart where they would overlap.
line_ends <- function(data) {
  known <- data[!is.na(data$amount), ]
  in_order <- order(known$series, if (is_period(known$along)) vctrs::vec_data(known$along)
    else as.integer(known$along))
  known <- known[in_order, ]
  ends <- known[!duplicated(known$series, fromLast = TRUE), ]
  ends$name <- paste0("  ", ends$series, recycle0 = TRUE)
  ends <- ends[order(ends$amount), ]
  least <- 0.045 * diff(range(c(0, known$amount)))
  ends$label_at <- ends$amount
  for (i in seq_len(nrow(ends))[-1L]) {
    ends$label_at[i] <- max(ends$label_at[i], ends$label_at[i - 1L] + least)
  }
  ends
}

# The last of a series of years is the one that is looked at.
line_colours <- function(x, axes, names) {
  in_time <- !is.null(axes$series) && is_period_axis(x$ask$axes[[axes$series]])
  if (in_time) series_colours(rev(names)) else series_colours(names)
}

series_colours <- function(names) {
  stats::setNames(unname(shades(c("moss", "rust", "slate", "sand", "lichen",
    "ink")))[seq_along(names)], names)
}
