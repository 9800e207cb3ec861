# Amounts by period as bars, with what runs up over them as a line; a panel for
# each member of a dimension.

fits_periods <- function(x) inherits(x, "drystack_rollup") && is_figure_table(x, 1L, 0:1)

draw_periods <- function(x) {
  measures <- bars_over_periods(x)
  if (length(measures) > 1L) draw_period_panels(x, measures) else draw_bars_and_line(x,
    measures[[1L]], line_measure(x))
}

# The measures that stand as bars: below each other where the table has periods alone.
bars_over_periods <- function(x) {
  if (length(figure_axes(x)$dimension) > 0L) x$ask$measures[1L] else panel_measures(x,
    line_measure(x)$name)
}

drawn_over_periods <- function(x) c(bars_over_periods(x), list(line_measure(x)))

fits_moving <- function(x) {
  inherits(x, "drystack_rollup") && is_figure_table(x, 1L, 0:1) && !is.null(moving_measure(x))
}

draw_moving <- function(x) draw_bars_and_line(x, x$ask$measures[[1L]], moving_measure(x))

draw_bars_and_line <- function(x, bar, line) {
  axes <- figure_axes(x)
  all <- period_data(x, axes, bar, line)
  panels <- largest_panels(all)
  plot <- ggplot2::ggplot(panels$data, ggplot2::aes(x = .data$period)) +
    bar_layer(if (!is.null(line)) head_label(bar)) +
    line_layer(line) +
    (if (is.null(line)) figures_on_bars(panels$data, ggplot2::aes(
      x = as.numeric(start_of(.data$period)) + bar_width / 2 * .data$days, y = .data$amount
    ), bar)) +
    restated_layer(panels$data) +
    scale_x_drystack_period(breaks_wanted = if (is.null(panels$data$panel)) 8L else 3L,
      at = "middle") +
    scale_y_amounts(bar)
  own <- if (!is.null(line) && !is_of_named(line$tree)) line$label
  what <- paste(c(bar$label, own), collapse = " and ")
  title <- paste(what, "by", axis_words(x))
  plot <- dressed(plot, x, title, panels$note, paste0(
    title, ", from ", format(min(all$period), "long"), " to ", format(max(all$period), "long"),
    if (length(axes$dimension) > 0L) paste0(", one panel for each ", axes$dimension)
  ))
  if (length(axes$dimension) == 0L) plot else plot + ggplot2::facet_wrap(ggplot2::vars(.data$panel))
}

draw_period_panels <- function(x, measures) {
  axes <- figure_axes(x)
  line <- line_measure(x)
  panels <- measure_panels(measures)
  data <- do.call(rbind, lapply(seq_along(measures), function(i) {
    data <- period_data(x, axes, measures[[i]], if (i == 1L) line)
    if (i > 1L && !is.null(line)) data[c("line", "run")] <- list(NA_real_, "")
    data$panel <- panels[i]
    data
  }))
  plot <- ggplot2::ggplot(data, ggplot2::aes(x = .data$period)) +
    bar_layer(if (!is.null(line)) head_label(measures[[1L]])) + line_layer(line) +
      restated_layer(data) +
    scale_x_drystack_period(at = "middle") + scale_y_amounts(measures[[1L]]) +
      facets_of_measures(measures)
  title <- paste(joined_words(vapply(measures, `[[`, "", "label")), "by", axis_words(x))
  dressed(plot, x, title, alt = paste0(title, ", one below the other, from ",
    format(min(data$period), "long"), " to ", format(max(data$period), "long")))
}

# More panels than can be read: the largest are drawn.
most_panels <- 12L

largest_panels <- function(data) {
  if (is.null(data$panel) || nlevels(data$panel) <= most_panels) {
    return(list(data = data, note = character()))
  }
  sums <- tapply(abs(data$amount), data$panel, sum, na.rm = TRUE)
  keep <- levels(data$panel)[sort(utils::head(order(-sums), most_panels))]
  data <- data[data$panel %in% keep, ]
  note <- paste0("The ", most_panels, " largest of ", nlevels(data$panel), " are drawn.")
  data$panel <- droplevels(data$panel)
  list(data = data, note = note)
}

period_data <- function(x, axes, bar, line) {
  here <- x$role %in% c("line", "others")
  period <- x$axes[[axes$period]][here]
  data <- data.frame(row.names = seq_len(sum(here)))
  data$period <- period
  data$amount <- x$figures[[bar$name]][here]
  data$part_way <- x$part_way[here]
  data$days <- as.numeric(end_of(period) - start_of(period)) + 1
  data$restated <- are_restated(period, x$ask$axes[[axes$period]], x)
  if (length(axes$dimension) > 0L) {
    member <- as.character(x$axes[[axes$dimension]][here])
    data$panel <- factor(shown_text(member), levels = unique(shown_text(member)))
  }
  if (!is.null(line)) {
    unit <- line$tree$options$unit
    restarts <- !is.null(unit) && line$tree$fn != "moving"
    data$line <- x$figures[[line$name]][here]
    run <- if (restarts) period_start(vctrs::vec_data(period), unit$unit, unit$calendar) else 0L
    data$run <- paste(run, if (length(axes$dimension) > 0L) data$panel)
  }
  data
}

# What a bar takes of its period.
bar_width <- 0.86

# A bar stands on the days of its period, and its tick under the middle of it.
bar_layer <- function(label) {
  at <- ggplot2::aes(
    xmin = .data$period, xmax = as.numeric(start_of(.data$period)) + bar_width * .data$days,
    ymin = 0, ymax = .data$amount, alpha = .data$part_way
  )
  if (is.null(label)) {
    return(list(ggplot2::geom_rect(at, fill = shade("moss"), na.rm = TRUE), part_way_scale()))
  }
  # Beside a line a legend says which is which.
  at$fill <- label
  list(ggplot2::geom_rect(at, na.rm = TRUE), part_way_scale(),
    ggplot2::scale_fill_manual(values = stats::setNames(shade("moss"), label)))
}

# The mark of what was told otherwise, at the foot of its bar.
restated_layer <- function(data) {
  data <- data[data$restated, ]
  if (nrow(data) > 0L) ggplot2::geom_text(
    ggplot2::aes(x = as.numeric(start_of(.data$period)) + bar_width / 2 * .data$days, y = 0),
      label = restated_mark,
    data = data, vjust = -0.6, size = 4.5, fontface = "bold", colour = shade("on_most")
  )
}

part_way_scale <- function() {
  ggplot2::scale_alpha_manual(values = c("FALSE" = 1, "TRUE" = 0.45), guide = "none")
}

# One point alone makes no line.
of_several_points <- function(data) {
  run <- data$run %||% rep("all", nrow(data))
  data[run %in% run[duplicated(run)], , drop = FALSE]
}

line_layer <- function(line) {
  if (is.null(line)) {
    return(NULL)
  }
  at <- ggplot2::aes(
    x = as.numeric(start_of(.data$period)) + bar_width / 2 * .data$days, y = .data$line,
    group = .data$run
  )
  at$colour <- head_label(line)
  list(
    ggplot2::geom_line(at, data = of_several_points, linewidth = 0.7, na.rm = TRUE),
    ggplot2::geom_point(at, size = 1.3, na.rm = TRUE),
    ggplot2::scale_colour_manual(values = stats::setNames(shade("rust"), head_label(line)))
  )
}
