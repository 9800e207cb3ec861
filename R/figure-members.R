# Figures of the members of a dimension: ordered bars with the cumulative share, bars in the order
# of the table, and steps from the prior figure to this one.

fits_shares <- function(x) {
  inherits(x, "drystack_rollup") && is_figure_table(x, 0L, 1L) &&
    !is_cyclic_axis(x$ask$axes[[1L]]) && is_additive(
      x$ask$measures[[1L]]$tree
    )
}

draw_shares <- function(x) {
  measure <- x$ask$measures[[1L]]
  data <- with_running_share(member_data(x, list(amount = measure)), x)
  others <- data[data$other, ]
  kept <- largest_members(data[!data$other, ])
  data <- kept$data
  data$place <- seq_len(nrow(data))
  top <- max(data$amount, 0, na.rm = TRUE)
  plot <- ggplot2::ggplot(data, ggplot2::aes(x = .data$place)) +
    ggplot2::geom_col(
      ggplot2::aes(y = .data$amount), fill = shade("moss"), width = 0.8, na.rm = TRUE
    ) +
    ggplot2::geom_hline(yintercept = 0.8 * top, colour = shade("sand"), linetype = "dashed") +
    ggplot2::geom_line(ggplot2::aes(y = .data$share * top), data = of_several_points,
      colour = shade("rust"), linewidth = 0.7) +
    ggplot2::geom_point(ggplot2::aes(y = .data$share * top), colour = shade("rust"),
      size = 1.5) +
    ggplot2::scale_x_continuous(breaks = data$place, labels = axis_member(data$member),
      expand = ggplot2::expansion(add = 0.6)) +
    scale_y_amounts(measure, sec.axis = ggplot2::sec_axis(
      ~ . / top, labels = function(share) paste0(round(100 * share), "%"),
      breaks = seq(0, 1, 0.2), name = "cumulative share"
    )) +
    figures_on_bars(data, ggplot2::aes(y = .data$amount), measure, most = 10L)
  dressed(
    plot, x, paste(measure$label, "by", axis_words(x), "with the cumulative share"),
    c(kept$note, others_beside(others, data, measure))
  ) + slanted_labels(data$member)
}

# Members put together are no member: they would set the scale and end the share with a leap.
others_beside <- function(others, data, measure) {
  whole <- sum(others$amount, data$amount, na.rm = TRUE)
  vapply(seq_len(nrow(others)), function(i) {
    paste0(others$member[i], ", not drawn: ", short_figures(others$amount[i], measure), ", ",
      format_by(others$amount[i] / whole, percentage()), " of all.")
  }, "")
}

# The cumulative share of each member: the table's own running measure in the table's order where
# there is one, else that of the members put largest first.
with_running_share <- function(data, x) {
  whole <- sum(data$amount, na.rm = TRUE)
  own <- running_down(x)
  if (is.null(own)) {
    data <- data[order(data$other, data$member == "(none)", -data$amount), ]
    data$share <- cumsum(ifelse(is.na(data$amount), 0, data$amount)) / whole
    return(data)
  }
  run <- x$figures[[own$name]][x$role %in% c("line", "others")]
  data$share <- if (is_share(own$tree$child)) run else run / whole
  data
}

running_down <- function(x) {
  measure_like(x, function(m) m$tree$kind == "along" && is.numeric(x$figures[[m$name]]))
}

is_share <- function(tree) if (tree$kind == "named") is_share(tree$child) else tree$kind == "share"

fits_bars <- function(x) inherits(x, "drystack_rollup") && is_figure_table(x, 0L, 1L)

drawn_over_members <- function(x) c(panel_measures(x, running_down(x)$name), list(running_down(x)))

# Bars of the first measure with what runs down as a line, those of others below.
draw_bars <- function(x) {
  line <- running_down(x)
  measures <- panel_measures(x, line$name)
  several <- length(measures) > 1L
  panels <- measure_panels(measures)
  kept <- largest_members(member_data(x, c(list(amount = measures[[1L]]),
    if (!is.null(line)) list(line = line),
    stats::setNames(measures, paste0("panel", seq_along(measures))))))
  of_panel <- function(i) {
    data <- kept$data[c("member", "other")]
    data$amount <- kept$data[[paste0("panel", i)]]
    data$line <- if (i == 1L && !is.null(line)) kept$data$line else NA_real_
    if (several) data$panel <- panels[i]
    data
  }
  data <- do.call(rbind, lapply(seq_along(measures), of_panel))
  data$member <- factor(short_member(data$member), levels = unique(short_member(data$member)))
  plot <- ggplot2::ggplot(data, ggplot2::aes(x = .data$member, y = .data$amount)) +
    ggplot2::geom_col(fill = shade("moss"), width = 0.8, na.rm = TRUE) +
    (if (is.null(line)) figures_on_bars(data, ggplot2::aes(),
      measures[[1L]]) else line_over_bars(line)) +
    scale_y_amounts(measures[[1L]]) + if (several) facets_of_measures(measures)
  title <- paste(joined_words(vapply(c(measures, if (!is.null(line)) list(line)), `[[`, "",
    "label")), "by", axis_words(x))
  dressed(plot, x, title, c(kept$note, cyclic_notes(x))) + slanted_labels(levels(data$member))
}

line_over_bars <- function(line) {
  at <- ggplot2::aes(y = .data$line, group = 1L)
  at$colour <- head_label(line)
  list(ggplot2::geom_line(at, linewidth = 0.7, na.rm = TRUE), ggplot2::geom_point(at, size = 1.3,
    na.rm = TRUE),
    ggplot2::scale_colour_manual(values = stats::setNames(shade("rust"), head_label(line))))
}

fits_steps <- function(x) {
  inherits(x, "drystack_rollup") && is_figure_table(x, 0L, 1L) && !is.null(prior_measure(x)) &&
    is_additive(x$ask$measures[[1L]]$tree)
}

# The prior figure of all, a step up or down for each member, this figure of all.
draw_steps <- function(x) {
  now <- x$ask$measures[[1L]]
  before <- prior_measure(x)
  data <- steps_data(member_data(x, list(amount = now, before = before)), head_label(now),
    head_label(before))
  drawn <- steps_plot(data$steps, now)
  dressed(
    drawn$plot, x, paste0(now$label, " by ", axis_words(x), ", against ",
      before_in_words(before$tree$options)),
    c(data$note, drawn$note)
  ) + slanted_labels(data$steps$label)
}

# Steps as bars that hang where the one before ends: list(plot, note).
steps_plot <- function(steps, measure) {
  floor <- steps_floor(steps)
  note <- if (floor > 0) paste0("The scale begins at ", amount_labels(measure)(floor), ".")
  plot <- ggplot2::ggplot(steps, ggplot2::aes(x = .data$place)) +
    ggplot2::geom_rect(
      ggplot2::aes(
        xmin = .data$place - 0.38, xmax = .data$place + 0.38, ymin = pmax(.data$from, floor),
        ymax = .data$to, fill = .data$what, alpha = .data$what
      ),
      colour = shade("slate"), linewidth = 0.25
    ) +
    # Lighter too, so that steps down are told in grey.
    ggplot2::scale_alpha_manual(values = c(all = 1, more = 1, less = 0.45),
      breaks = c("more", "less")) +
    ggplot2::geom_segment(
      ggplot2::aes(x = .data$place - 0.38, xend = .data$place + 1.38, y = .data$to,
        yend = .data$to),
      data = utils::head(steps, -1L), colour = shade("slate"), linewidth = 0.3
    ) +
    fitting_text(
      ggplot2::aes(y = pmax(.data$from, .data$to),
        label = step_labels(.data$amount, measure)), NULL,
      c(nrow(steps), 1L), vjust = -0.5, size = 3.3, colour = shade("ink")
    ) +
    ggplot2::scale_fill_manual(
      values = c(all = shade("slate"), more = shade("moss"),
        less = shade("rust")),
      breaks = c("more", "less")
    ) +
    ggplot2::scale_x_continuous(breaks = steps$place, labels = axis_member(steps$label)) +
    scale_y_amounts(measure, room = 0.12)
  list(plot = plot, note = note)
}

# The whole figures and the steps in one unit, in which the largest step has two digits or more.
step_labels <- function(amounts, measure) {
  if (identical(measure$format$kind, "percentage")) {
    return(format_by(amounts, measure$format))
  }
  steps <- abs(amounts[-c(1L, length(amounts))])
  largest <- max(steps, 0, na.rm = TRUE)
  if (largest == 0) largest <- max(abs(amounts), 1, na.rm = TRUE)
  power <- max(0, min(3, floor(log10(largest / 10) / 3)))
  size <- amounts / 1000^power
  digits <- if (power == 0 && all(size == round(size), na.rm = TRUE)) 0L
    else if (largest / 1000^power >= 100) 0L else 1L
  in_unit <- decimal(digits)
  in_unit$symbol <- measure$format$symbol %||% ""
  paste0(format_by(size, in_unit), c("", "k", "M", "bn")[power + 1L])
}

# Steps that are small beside the whole are seen when the scale begins above
# zero; the caption says so.
steps_floor <- function(steps) {
  levels <- c(steps$to, steps$from[-c(1L, nrow(steps))])
  spread <- max(levels) - min(levels)
  if (min(levels) <= 0 || spread > 0.4 * max(levels)) {
    return(0)
  }
  unit <- 10^floor(log10(max(levels))) / 10
  max(0, floor((min(levels) - 0.6 * spread) / unit) * unit)
}

# Steps of more members than can be told apart: those that change most, the others together.
steps_data <- function(data, now_label, before_label) {
  zero <- function(values) ifelse(is.na(values), 0, values)
  change <- zero(data$amount) - zero(data$before)
  label <- data$member
  note <- character()
  if (length(change) > 15L) {
    keep <- sort(utils::head(order(-abs(change)), 14L))
    note <- paste0("The ", length(keep), " largest changes of ", length(change),
      " are drawn on their own.")
    label <- c(label[keep], "all others")
    change <- c(change[keep], sum(change[-keep]))
  }
  whole <- c(sum(data$before, na.rm = TRUE), sum(data$amount, na.rm = TRUE))
  list(steps = steps_between(c(before_label, label, now_label),
    c(whole[1L], change, whole[2L])), note = note)
}

# Steps from the first of some amounts over those between to the last.
steps_between <- function(labels, amounts) {
  n <- length(amounts)
  change <- amounts[-c(1L, n)]
  to <- amounts[1L] + cumsum(change)
  data.frame(
    label = labels, amount = amounts, from = c(0, amounts[1L], to[-length(to)], 0),
    to = c(amounts[1L], to, amounts[n]), what = c("all", ifelse(change < 0, "less", "more"), "all"),
    place = seq_len(n)
  )
}

# Under an axis, of several words one under the other where all stand upright.
axis_member <- function(labels) {
  short <- short_member(as.character(labels))
  if (are_many(labels)) short else vapply(short,
    function(one) paste(strwrap(one, 13L), collapse = "\n"), "",
    USE.NAMES = FALSE)
}

are_many <- function(labels) {
  sum(cli::ansi_nchar(short_member(as.character(labels)), "width") + 2L) > 120L
}

# Many or long labels are slanted, so that none overlaps another.
slanted_labels <- function(labels) {
  if (!are_many(labels)) {
    return(NULL)
  }
  ggplot2::theme(axis.text.x = ggplot2::element_text(angle = 45, hjust = 1, vjust = 1))
}
