# Which kinds of figures there are, and which fit a table.

# The kind asked for, or the first that fits.
figure_kind <- function(x, kind) {
  own_setting()
  if (!is.null(kind)) check_choice(kind, names(known_figures()), "kind")
  if (!any(x$role %in% c("line", "others"))) {
    raise("figure", c("A figure needs rows.", "x" = "The table has none."))
  }
  fits <- fitting_figures(x)
  if (length(fits) == 0L || (!is.null(kind) && !kind %in% names(fits))) {
    raise("figure", c(
      if (is.null(kind)) "No figure fits this table."
      else "The figure {.val {kind}} does not fit this table.", "x" = "It has {table_shape(x)}.",
      ">" = if (length(fits) > 0L) "Those that fit: {.val {names(fits)}}.",
      ">" = if (length(fits) == 0L) paste0("For example {.code rollup(book, by = month, sales = ",
        "sum(amount))}.")
    ))
  }
  check_drawable(x)
  drawn <- kind %||% names(fits)[1L]
  if (is.null(kind) && length(fits) > 1L) {
    rlang::inform(
      paste0("Drawn as \"", drawn, "\", for ", fits[[1L]]$why, "; others that fit: ",
        paste0("\"", names(fits)[-1L], "\"", collapse = ", "), "."),
      class = "drystack_message_figure"
    )
  }
  drawn
}

# Of very many members a few would be drawn at random to the eye.
most_drawable <- 1000L

check_drawable <- function(x) {
  sizes <- vapply(names(dimension_axes(x$ask)), function(axis) {
    length(unique(as.character(x$axes[[axis]])))
  }, 1L)
  if (all(sizes <= most_drawable)) {
    return(invisible())
  }
  axis <- names(sizes)[which.max(sizes)]
  raise("figure", c(
    "{format_count(max(sizes))} members of {.val {axis}} are too many for a figure.",
    ">" = "Keep the largest: {.code keep = keep_top(12, {names(x$ask$measures)[1L]})}."
  ))
}

# Where nobody would read which others fit.
figure_kind_quietly <- function(x, kind) {
  withCallingHandlers(figure_kind(x, kind), drystack_message_figure = rlang::cnd_muffle)
}

draw_figure <- function(x, kind) {
  own <- known_figures()[[kind]]
  plot <- with_left_out(own$draw(x), x, own$measures(x))
  # What it was drawn from, so that a page can be saved as a standing report.
  attr(plot, "drystack") <- list(table = x, kind = kind, height = height_wanted(plot))
  plot
}

# A figure says which measures of its table it does not show.
with_left_out <- function(plot, x, measures) {
  shown <- vapply(measures, `[[`, "", "name")
  left <- x$ask$measures[setdiff(names(x$ask$measures), shown)]
  if (length(left) == 0L) {
    return(plot)
  }
  labels <- shown_text(vapply(left, `[[`, "", "label"))
  caption <- c(plot$labels$caption, caption_of(
    paste0("Not drawn: ", paste(labels, collapse = ", "), ".")))
  plot + ggplot2::labs(caption = paste(caption[nzchar(caption)], collapse = "\n"))
}

# Inches that rows of cells or panels need.
height_wanted <- function(plot) {
  rows <- nlevels(plot$data$down)
  panels <- nlevels(plot$data$panel)
  if (identical(plot$facet$params$ncol, 1L) && panels > 1L) return(1.4 + 2 * panels)
  if (rows > 0L) 1.4 + 0.36 * rows else if (panels > 2L) 1.2 + 1.9 * ceiling(panels / 4)
}

# Whether each kind fits a table, whether it suits one that it fits, how it is drawn, what it is
# for, and which measures it shows. The first that suits is the default, else the first that fits.
known_figures <- function() {
  kind <- function(fits, draw, why, suits = function(x) TRUE, also = function(x) NULL) {
    list(fits = fits, draw = draw, why = why, suits = suits, measures = function(x) {
      Filter(Negate(is.null), c(x$ask$measures[1L], also(x)))
    })
  }
  one <- function(measure) function(x) list(measure(x))
  list(
    steps = kind(function(x) fits_bridge(x) || fits_steps(x),
      function(x) if (fits_bridge(x)) draw_bridge(x) else draw_steps(x),
      "what lies between a figure and its prior one, by members or by the parts of a bridge",
      also = function(x) if (fits_bridge(x)) unname(bridge_shown(x)) else list(prior_measure(x))),
    targets = kind(fits_targets, draw_targets,
      "amounts, and what a record beside the orders says for them",
      also = one(beside_measure)),
    compare = kind(fits_compare, draw_compare, "periods, and a figure beside its prior one",
      also = one(prior_measure)),
    moving = kind(fits_moving, draw_moving, "periods, and a moving figure",
      also = one(moving_measure)),
    periods = kind(fits_periods, draw_periods, "amounts over one axis of periods",
      suits = function(x) !any(vapply(x$ask$axes, is_cyclic_axis, NA)), also = drawn_over_periods),
    lines = kind(fits_lines, draw_lines, "time, and few members, years or figures to tell apart",
      suits_lines, function(x) if (is.null(line_axes(x)$series)) lines_by_measure(x)),
    shares = kind(fits_shares, draw_shares, "members whose amounts add up to a whole",
      also = one(running_down)),
    grouped = kind(fits_grouped, draw_grouped, "two dimensions of few members each", suits_grouped),
    heat = kind(fits_heat, draw_heat, "two dimensions, also of many members"),
    stacked = kind(fits_stacked, draw_stacked, "parts of one amount, none below zero"),
    bars = kind(fits_bars, draw_bars, "members in the order of the table",
      also = drawn_over_members)
  )
}

# The kinds that fit a table, the one that is drawn first.
fitting_figures <- function(x) {
  fits <- Filter(function(one) one$fits(x), known_figures())
  suits <- vapply(fits, function(one) one$suits(x), NA)
  fits[order(!suits)]
}

#' Kinds of figures that fit a table
#'
#' The kinds of figure that [figure()] can draw of a table, which one it picks by itself, and what
#' each is for.
#'
#' @param x A table.
#' @return A data frame with a row for each kind: `kind`; `fits`, whether the table can be drawn so;
#'   `drawn`, `TRUE` for the kind that [figure()] picks; `why`, what the kind is for.
#' @section Errors: `drystack_error_figure` for anything that is not a table.
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on)
#' figure_kinds(crosstab(book, rows = depot, cols = quarter, sales = sum(amount)))
#' @seealso [figure()], which draws.
#' @export
figure_kinds <- function(x) {
  own_setting()
  if (!inherits(x, "drystack_table")) raise("figure", "There is no figure for {type_words(x)}.")
  known <- known_figures()
  fits <- if (any(x$role %in% c("line", "others"))) names(fitting_figures(x))
  data.frame(kind = names(known), fits = names(known) %in% fits, drawn = names(known) %in% fits[1L],
    why = vapply(known, `[[`, "", "why", USE.NAMES = FALSE), row.names = NULL)
}
