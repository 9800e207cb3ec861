#' Draw a table
#'
#' For a rollup by one period: the first measure as bars, and the first year-to-date (or other so-far) measure, where
#' there is
#' one, as a line that starts again each year. With a dimension as well, one panel for each member. Part-way periods
#' are
#' lighter.
#'
#' @param x A rollup by a period, with or without one dimension.
#' @param ... Not used.
#' @return A ggplot2 plot, to which you can add.
#' @section Errors: `drystack_error_figure` for a table without a period, with more than one dimension or period, or
#'   without rows.
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on, calendars = fiscal_calendar("July"))
#' figure(rollup(book, by = month, sales = sum(amount), ytd = ytd(sales)))
#' @export
figure <- function(x, ...) UseMethod("figure")

#' @export
figure.default <- function(x, ...) {
  raise(
    "figure", c("There is no figure for {.obj_type_friendly {x}}.", ">" = "Give a table, such as {.fn rollup} makes.")
  )
}

#' @export
figure.drystack_rollup <- function(x, ...) {
  axes <- figure_axes(x)
  bar <- x$ask$measures[[1L]]
  line <- so_far_measure(x)
  data <- figure_data(x, axes, bar, line)
  plot <- ggplot2::ggplot(data, ggplot2::aes(x = .data$period)) +
    bar_layer(data) +
    line_layer(line) +
    scale_x_drystack_period() +
    ggplot2::scale_y_continuous(labels = short_amounts, expand = ggplot2::expansion(mult = c(0.02, 0.06))) +
    ggplot2::labs(
      title = figure_title(x, bar, line), subtitle = table_facts(x)[1L], x = NULL, y = NULL,
      caption = paste(figure_notes(x), collapse = "\n"), alt = figure_alt(x, axes, bar, line)
    ) +
    theme_drystack()
  if (length(axes$dimension) == 0L) plot else plot + ggplot2::facet_wrap(ggplot2::vars(.data$panel))
}

# The one period axis, and the one dimension if there is one.
figure_axes <- function(x) {
  periods <- Filter(is_period_axis, x$ask$axes)
  dimensions <- Filter(Negate(is_period_axis), x$ask$axes)
  if (length(periods) != 1L || length(dimensions) > 1L || !any(x$role == "line")) {
    raise("figure", c(
      "A figure of a rollup needs one period, at most one dimension, and rows.",
      "x" = "It has {length(periods)} period{?s}, {length(dimensions)} dimension{?s} and {sum(x$role == 'line')} row{?s}.",
      ">" = "For example {.code rollup(book, by = month, sales = sum(amount))}."
    ))
  }
  list(period = names(periods), dimension = names(dimensions))
}

so_far_measure <- function(x) {
  so_far <- Filter(function(m) is_so_far(m$tree), x$ask$measures[-1L])
  if (length(so_far) > 0L) so_far[[1L]]
}

figure_data <- function(x, axes, bar, line) {
  here <- x$role == "line"
  period <- x$axes[[axes$period]][here]
  data <- data.frame(row.names = seq_len(sum(here)))
  data$period <- period
  data$amount <- x$figures[[bar$name]][here]
  data$part_way <- x$part_way[here]
  data$days <- as.numeric(end_of(period) - start_of(period)) + 1
  if (length(axes$dimension) > 0L) {
    member <- x$axes[[axes$dimension]][here]
    data$panel <- factor(member, levels = unique(as.character(member)))
  }
  if (!is.null(line)) {
    unit <- line$tree$options$unit
    data$so_far <- x$figures[[line$name]][here]
    run <- period_start(vctrs::vec_data(period), unit$unit, unit$calendar)
    data$run <- paste(run, if (length(axes$dimension) > 0L) data$panel)
  }
  data
}

# A bar stands on the days of its period: it begins at the period's first day, which is where the axis has its tick.
bar_layer <- function(data) {
  list(
    ggplot2::geom_rect(
      ggplot2::aes(
        xmin = .data$period, xmax = as.numeric(start_of(.data$period)) + 0.86 * .data$days,
        ymin = 0, ymax = .data$amount, alpha = .data$part_way
      ),
      fill = drystack_palette[["moss"]], na.rm = TRUE
    ),
    ggplot2::scale_alpha_manual(values = c("FALSE" = 1, "TRUE" = 0.45), guide = "none")
  )
}

line_layer <- function(line) {
  if (is.null(line)) {
    return(NULL)
  }
  at <- ggplot2::aes(
    x = as.numeric(start_of(.data$period)) + 0.43 * .data$days, y = .data$so_far, group = .data$run
  )
  list(
    ggplot2::geom_line(at, colour = drystack_palette[["rust"]], linewidth = 0.7, na.rm = TRUE),
    ggplot2::geom_point(at, colour = drystack_palette[["rust"]], size = 1.3, na.rm = TRUE)
  )
}

figure_title <- function(x, bar, line) {
  axes <- vapply(x$ask$axes, `[[`, "", "label")
  what <- c(paste(bar$label, "(bars)"), if (!is.null(line)) paste(line$label, "(line)"))
  sentence_case(paste(joined_words(what), "by", joined_words(axes)))
}

figure_notes <- function(x) c(part_way_notes(x), record_note(x))

figure_alt <- function(x, axes, bar, line) {
  periods <- x$axes[[axes$period]][x$role == "line"]
  paste0(
    figure_title(x, bar, line), ", from ", format(min(periods), "long"), " to ", format(max(periods), "long"),
    if (length(axes$dimension) > 0L) paste0(", one panel for each ", axes$dimension), "."
  )
}

short_amounts <- function(x) scales::label_number(scale_cut = scales::cut_short_scale())(x)
