#' Draw a calendar
#'
#' One year of a calendar on a page: a band for each unit, cut where its periods begin, over the
#' days of the year. Below the finest band stand the civil months.
#'
#' @param x A calendar.
#' @param year A day of the year to draw, as a Date or ISO text. Default: today.
#' @param ... Not used.
#' @return A ggplot2 plot.
#' @section Errors: `drystack_error_date` for a day that is none or lies outside the calendar.
#' @seealso [calendar_table()] gives the same as a table.
#' @examples
#' figure(week_calendar("4-4-5", "last Saturday of January"), "2026-08-31")
#' @export
figure.drystack_calendar <- function(x, year = Sys.Date(), ...) {
  own_setting()
  day <- check_day(year, "year")
  outer <- utils::tail(x$units, 1L)
  limits <- c(period_start(day, outer, x), period_end(day, outer, x))
  if (anyNA(limits)) raise("date", "The {x$words$long} has no {outer} that holds {day_words(day)}.")
  units <- rev(setdiff(x$units, "day"))
  bands <- do.call(rbind, lapply(units, calendar_band, calendar = x, limits = limits,
    units = units))
  name <- period_labels(limits[1L], outer, x, "long")
  ggplot2::ggplot(bands) +
    ggplot2::geom_rect(
      ggplot2::aes(
        xmin = .data$start, xmax = .data$end + 1, ymin = .data$row - 0.42,
        ymax = .data$row + 0.42, fill = .data$shade
      ),
      colour = shade("paper"), linewidth = 0.6
    ) +
    ggplot2::geom_text(
      ggplot2::aes(x = (.data$start + .data$end + 1) / 2, y = .data$row, label = .data$label),
      size = bands$size, lineheight = 0.9, colour = shade("ink")
    ) +
    ggplot2::scale_fill_identity() +
    ggplot2::scale_y_continuous(breaks = -seq_along(units), labels = units,
      expand = ggplot2::expansion(add = 0.1)) +
    calendar_axis(limits) +
    ggplot2::labs(
      title = paste0(name, ", ", day_words(limits[1L]), " to ", day_words(limits[2L])),
      subtitle = x$words$long, x = NULL, y = NULL,
      alt = paste0("Bands of the ", joined_words(units), " periods of ", name, " in the ",
        x$words$long, ".")
    ) +
    theme_drystack() +
    ggplot2::theme(panel.grid = ggplot2::element_blank())
}

calendar_band <- function(unit, calendar, limits, units) {
  table <- calendar_grid(calendar)[[unit]]
  here <- which(table$starts <= limits[2L] & table$ends >= limits[1L])
  start <- pmax(table$starts[here], limits[1L])
  end <- pmin(table$ends[here], limits[2L])
  label <- period_labels(table$starts[here], unit, calendar,
    if (length(here) > 4L) "short" else "label")
  if (length(here) %in% 5:20) label <- paste0(label, "\n", band_detail(start, unit, calendar))
  if (length(here) > 20L) label <- ifelse(end - start < 4L, "", gsub("[^0-9]", "", label))
  data.frame(
    start = start, end = end, row = -match(unit, units), label = label,
    shade = shades(c("lichen", "sand"))[seq_along(here) %% 2L + 1L],
    size = if (length(here) > 20L) 2.9 else 3.9
  )
}

# A second line: the place in the year of months that carry civil names, else the first day.
band_detail <- function(start, unit, calendar) {
  if (unit == "month" && calendar$anchor == "month" && !has_edges(calendar)) {
    return(sprintf("P%02d", period_numbers(start, unit, calendar)$number))
  }
  paste(civil_parts(start)$day, month.abb[civil_parts(start)$month])
}

calendar_axis <- function(limits) {
  firsts <- calendar_grid(civil_calendar())$month$starts
  firsts <- firsts[firsts >= limits[1L] & firsts <= limits[2L]]
  ggplot2::scale_x_continuous(
    breaks = firsts, labels = period_labels(firsts, "month", civil_calendar(),
      template = "1 {Mon}\n{civil_year}"),
    expand = ggplot2::expansion(mult = 0.005)
  )
}
