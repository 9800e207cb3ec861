# What the kinds of figures share: the axes and measures of a table, and the dress of a plot.

figure_axes <- function(x) {
  periods <- Filter(is_period_axis, x$ask$axes)
  others <- Filter(Negate(is_period_axis), x$ask$axes)
  list(period = names(periods), dimension = names(others))
}

table_shape <- function(x) {
  axes <- figure_axes(x)
  counted <- function(n, word) paste0(n, " ", word, if (n != 1L) "s")
  paste(counted(length(axes$period), "period"), "and", counted(length(axes$dimension), "dimension"))
}

is_figure_table <- function(x, periods, dimensions) {
  axes <- figure_axes(x)
  inherits(
    x, c("drystack_rollup", "drystack_crosstab")
  ) && length(axes$period) %in% periods && length(axes$dimension) %in% dimensions &&
    is.numeric(x$figures[[1L]])
}

# The first measure that is the prior of the first one, the moving figure of
# it, a so-far or running one.
measure_like <- function(x, fits) {
  found <- Filter(fits, x$ask$measures[-1L])
  if (length(found) > 0L) found[[1L]]
}

prior_measure <- function(x) {
  first <- x$ask$measures[[1L]]
  measure_like(x, function(m) {
    m$tree$kind == "lens" && m$tree$fn == "prior" &&
      tree_text(m$tree$child) %in% c(name_text(first$name), tree_text(first$tree))
  })
}

moving_measure <- function(x) {
  measure_like(x, function(m) m$tree$kind == "lens" && m$tree$fn == "moving")
}

line_measure <- function(x) {
  measure_like(x, function(m) {
    is_so_far(m$tree) || m$tree$kind == "along" || (m$tree$kind == "lens" && m$tree$fn == "running")
  })
}

# What all figures share: title, facts, notes, labels of amounts in the
# format of their measure, theme.
dressed <- function(plot, x, title, notes = character(), alt = title) {
  plot + ggplot2::labs(
    title = shown_text(sentence_case(title)), subtitle = fact_lines(table_facts(x)),
    x = NULL, y = NULL,
    caption = caption_of(shown_text(c(part_way_notes(x), restated_notes(x),
      record_note(x), notes))),
    alt = shown_text(paste0(sentence_case(alt), "."))
  ) + theme_drystack() + ggplot2::theme(legend.title = ggplot2::element_blank())
}

# As many lines as the width of a figure needs.
fact_lines <- function(facts) paste(strwrap(shown_text(fact_line(facts)), 150L), collapse = "\n")

caption_of <- function(notes) paste(strwrap(notes, 150L), collapse = "\n")

amount_labels <- function(measure) {
  format <- measure$format
  if (identical(format$kind, "percentage")) {
    return(function(x) format_by(x, percentage(digits = digits_needed(100 * x))))
  }
  # As few digits as say each tick as it is, alike for all of thousands and all of millions.
  function(x) {
    power <- pmax(0, pmin(3, floor(log10(pmax(abs(x), 1)) / 3 + 1e-9)))
    text <- rep(NA_character_, length(x))
    for (one in unique(power)) {
      here <- power %in% one
      text[here] <- format_by(x[here], compact(digits = digits_needed(x[here] / 1000^one),
        symbol = format$symbol %||% ""))
    }
    text
  }
}

digits_needed <- function(x) {
  for (digits in 0:4) if (all(abs(x - round(x, digits)) < 1e-6 * pmax(1, abs(x)),
    na.rm = TRUE)) break
  digits
}

# room: above the highest, as a part of the whole.
scale_y_amounts <- function(measure, ..., room = 0.06) {
  ggplot2::scale_y_continuous(labels = amount_labels(measure),
    expand = ggplot2::expansion(mult = c(0.02, room)), ...)
}

axis_words <- function(x) joined_words(labels_of(names(x$ask$axes), x$ask$axes))

# Figures as they stand on bars and cells: in thousands and millions, with as many digits as tell
# them apart where that takes no more than three.
short_figures <- function(figure, measure) {
  if (identical(measure$format$kind, "percentage")) {
    return(format_by(figure, measure$format))
  }
  known <- unique(figure[!is.na(figure)])
  for (digits in 1:3) {
    text <- format_by(known, compact(digits = digits, symbol = measure$format$symbol %||% ""))
    if (anyDuplicated(text) == 0L || length(known) > most_labelled) break
  }
  format_by(figure, compact(digits = digits, symbol = measure$format$symbol %||% ""))
}

figures_on_bars <- function(data, aes, measure, most = most_labelled) {
  if (nrow(data) > most || !is.null(data$panel)) {
    return(NULL)
  }
  slots <- c(nrow(data), 1L)
  data <- data[!is.na(data$amount), ]
  data$figure <- short_figures(data$amount, measure)
  data$above <- ifelse(data$amount >= 0, -0.5, 1.4)
  at <- utils::modifyList(aes, ggplot2::aes(label = .data$figure, vjust = .data$above))
  fitting_text(at, data, slots, size = 3.4, colour = shade("ink"))
}

member_data <- function(x, measures) {
  here <- x$role %in% c("line", "others")
  axis <- figure_axes(x)$dimension[1L]
  data <- data.frame(member = shown_text(as.character(x$axes[[axis]][here])))
  for (name in names(measures)) data[[name]] <- x$figures[[measures[[name]]$name]][here]
  data$other <- x$role[here] == "others"
  data
}

largest_members <- function(data) {
  if (nrow(data) <= most_members) {
    return(list(data = data, note = character()))
  }
  keep <- sort(utils::head(order(-data$amount), most_members))
  list(data = data[keep, ], note = paste0("The ", most_members,
    " largest of ", format_count(nrow(data)), " are drawn."))
}

# Labels of members short enough for an axis.
short_member <- function(text) cli::ansi_strtrim(text, 28L, ellipsis = "\u2026")

# Few bars say their figure themselves.
most_labelled <- 14L

# The lines of a table by one dimension, in its order; of many the largest.
most_members <- 40L
