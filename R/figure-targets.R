# Bars with what a record beside the orders says for them as a line across each: targets of periods
# or members.

fits_targets <- function(x) {
  inherits(x, "drystack_rollup") && !is.null(beside_measure(x)) &&
    (is_figure_table(x, 1L, 0:1) || is_figure_table(x, 0L, 1L))
}

# The first measure after the first that is of a record beside the orders.
beside_measure <- function(x) {
  measure_like(x, function(m) is_beside(m$tree) && is.numeric(x$figures[[m$name]]))
}

draw_targets <- function(x) {
  if (length(figure_axes(x)$period) == 1L) draw_targets_of_periods(
    x) else draw_targets_of_members(x)
}

draw_targets_of_periods <- function(x) {
  bar <- x$ask$measures[[1L]]
  target <- beside_measure(x)
  all <- period_data(x, figure_axes(x), bar, NULL)
  all$target <- x$figures[[target$name]][x$role %in% c("line", "others")]
  panels <- largest_panels(all)
  plot <- ggplot2::ggplot(panels$data, ggplot2::aes(x = .data$period)) +
    bar_layer(head_label(bar)) +
    target_layer(target, ggplot2::aes(
      x = as.numeric(start_of(.data$period)),
      xend = as.numeric(start_of(.data$period)) + bar_width * .data$days, y = .data$target,
        yend = .data$target
    )) +
    restated_layer(panels$data) +
    scale_x_drystack_period(breaks_wanted = if (is.null(panels$data$panel)) 8L else 3L,
      at = "middle") +
    scale_y_amounts(bar)
  plot <- dressed_with_target(plot, x, panels$note)
  if (is.null(panels$data$panel)) plot else plot + ggplot2::facet_wrap(ggplot2::vars(.data$panel))
}

draw_targets_of_members <- function(x) {
  bar <- x$ask$measures[[1L]]
  target <- beside_measure(x)
  kept <- largest_members(member_data(x, list(amount = bar, target = target)))
  data <- kept$data
  data$member <- factor(short_member(data$member), levels = unique(short_member(data$member)))
  data$place <- as.integer(data$member)
  label <- head_label(bar)
  at <- ggplot2::aes(xmin = .data$place - 0.4, xmax = .data$place + 0.4, ymin = 0,
    ymax = .data$amount)
  at$fill <- label
  plot <- ggplot2::ggplot(data) +
    ggplot2::geom_rect(at, na.rm = TRUE) +
    ggplot2::scale_fill_manual(values = stats::setNames(shade("moss"), label)) +
    target_layer(target, ggplot2::aes(x = .data$place - 0.4, xend = .data$place + 0.4,
      y = .data$target,
      yend = .data$target)) +
    ggplot2::scale_x_continuous(breaks = data$place, labels = axis_member(levels(data$member))) +
    scale_y_amounts(bar)
  dressed_with_target(plot, x, kept$note) + slanted_labels(levels(data$member))
}

target_layer <- function(target, at) {
  at$colour <- head_label(target)
  list(
    ggplot2::geom_segment(at, linewidth = 1.1, na.rm = TRUE),
    ggplot2::scale_colour_manual(values = stats::setNames(shade("rust"), head_label(target)))
  )
}

dressed_with_target <- function(plot, x, notes) {
  bar <- x$ask$measures[[1L]]
  target <- beside_measure(x)
  title <- paste(bar$label, "and", target$label, "by", axis_words(x))
  dressed(plot, x, title, c(notes, spread_lines_said(x)),
    paste0(bar$label, " as bars, ", target$label, " as a line across each, by ", axis_words(x)))
}

# How parts of periods were found, in a line that a small figure has room for; the table says
# the rest.
spread_lines_said <- function(x) {
  unlist(lapply(unname(x$beside), function(told) {
    if (length(told$days) > 0L) paste0(sentence_case(told$record), " for a part of a ",
      x$book$records[[told$record]]$per$unit, ": ", spread_rule_words(told$days), ".")
  }))
}
