# This figure and its prior side by side for each period, with the variance under them.

fits_compare <- function(x) {
  inherits(x, "drystack_rollup") && is_figure_table(x, 1L, 0L) && !is.null(prior_measure(x))
}

draw_compare <- function(x) {
  now <- x$ask$measures[[1L]]
  before <- prior_measure(x)
  here <- x$role == "line"
  period <- x$axes[[figure_axes(x)$period]][here]
  data <- compare_data(
    period, x$figures[[now$name]][here], x$figures[[before$name]][here],
    x$part_way[here], head_label(now), head_label(before)
  )
  data$restated <- rep(are_restated(period, x$ask$axes[[figure_axes(x)$period]], x), 3L) &
    data$what == head_label(now)
  plot <- ggplot2::ggplot(data, ggplot2::aes(x = .data$period)) +
    ggplot2::geom_rect(
      ggplot2::aes(
        xmin = as.numeric(
          start_of(.data$period)
        ) + .data$from * .data$days, xmax = as.numeric(start_of(.data$period)) +
          .data$to * .data$days,
        ymin = 0, ymax = .data$amount, fill = .data$what, alpha = .data$part_way
      ),
      na.rm = TRUE
    ) +
    ggplot2::geom_blank() +
    ggplot2::facet_grid(rows = ggplot2::vars(.data$panel), scales = "free_y",
      space = "free_y", switch = NULL) +
    ggplot2::scale_fill_manual(values = compare_colours(levels(data$what)),
      breaks = c(head_label(before), head_label(now))) +
    part_way_scale() +
    restated_layer(data) +
    scale_x_drystack_period(at = "middle") +
    scale_y_amounts(now)
  dressed(plot, x, paste0(now$label, " by ", axis_words(x), ", against ",
    before_in_words(before$tree$options)),
    alt = paste(now$label, "against", before$label, "by", axis_words(x),
      "with the variance under it")) +
    ggplot2::theme(strip.text.y = ggplot2::element_text(angle = 0, vjust = 1))
}

# Three bars for each period: the prior and this one above, their difference below.
compare_data <- function(period, now, before, part_way, now_label, before_label) {
  n <- length(period)
  difference <- now - before
  what <- c(rep(before_label, n), rep(now_label, n),
    ifelse(!is.na(difference) & difference < 0, "less", "more"))
  data <- data.frame(row.names = seq_len(3L * n))
  data$period <- vctrs::vec_rep(period, 3L)
  data$amount <- c(before, now, difference)
  data$from <- rep(c(0, bar_width / 2, 0), each = n)
  data$to <- rep(c(bar_width / 2, bar_width, bar_width), each = n)
  data$what <- factor(what, levels = c(before_label, now_label, "more", "less"))
  data$panel <- factor(rep(c("amounts", "amounts", "variance"), each = n),
    levels = c("amounts", "variance"))
  data$part_way <- rep(part_way, 3L)
  data$days <- as.numeric(end_of(data$period) - start_of(data$period)) + 1
  data
}

compare_colours <- function(levels) {
  stats::setNames(shades(c("lichen", "slate", "moss", "rust")), levels)
}
