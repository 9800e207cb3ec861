#' Periods on a ggplot2 axis
#'
#' When the package is attached, ggplot2 uses this scale for a column of periods: in order of time,
#' each at its first day, with the labels of periods.
#'
#' @param ... Passed to [ggplot2::continuous_scale()].
#' @param at `"start"`: labels are at the first day of their periods; `"middle"`: under the middle
#'   of a bar that takes 0.86 of the period from its first day on, as those of [figure()] do.
#' @param breaks_wanted About how many labels to show; they fall on whole periods, evenly apart.
#' @return A ggplot2 scale.
#' @seealso [figure()] draws tables; [theme_drystack()].
#' @examples
#' library(ggplot2)
#' book <- daybook(harrowgill()$orders, date = ordered_on)
#' sales <- as.data.frame(rollup(book, by = quarter, sales = sum(amount)))
#' ggplot(sales, aes(quarter, sales)) + geom_col() + scale_x_drystack_period()
#' @export
scale_x_drystack_period <- function(..., breaks_wanted = 8L, at = "start") {
  check_choice(at, c("start", "middle"), "at")
  ggplot2::continuous_scale(
    ggplot2::standardise_aes_names(c("x", "xmin", "xmax", "xend")), "drystack_period",
    palette = identity, trans = period_trans(breaks_wanted,
      if (at == "middle") bar_width / 2 else 0),
    guide = ggplot2::guide_axis(check.overlap = TRUE), position = "bottom",
    super = ggplot2::ScaleContinuousPosition, ...
  )
}

#' @exportS3Method ggplot2::scale_type
scale_type.drystack_period <- function(x) "drystack_period"

# Positions are first days. The periods that pass through tell unit and calendar, which labels and
# breaks need, and the first and the last of them. `within`: where in a period its label stands.
period_trans <- function(breaks_wanted, within = 0) {
  seen <- NULL
  scales::trans_new(
    "period",
    transform = function(x) {
      if (!is_period(x)) {
        return(as.numeric(x))
      }
      all <- c(x, seen)
      seen <<- all[c(which.min(vctrs::vec_data(all)), which.max(vctrs::vec_data(all)))]
      as.numeric(vctrs::vec_data(x))
    },
    inverse = identity,
    breaks = function(limits) period_breaks(limits, seen, breaks_wanted, within),
    format = function(x) {
      if (length(seen) == 0L) as.character(x) else axis_labels(new_period(
        period_start(as.integer(x), period_unit(seen), period_calendar(seen)), period_unit(seen),
        period_calendar(seen)
      ))
    },
    domain = c(-Inf, Inf)
  )
}

# None before the first period and past the last.
period_breaks <- function(limits, seen, wanted, within = 0) {
  if (length(seen) == 0L) {
    return(numeric())
  }
  grid <- calendar_grid(period_calendar(seen))[[period_unit(seen)]]
  starts <- grid$starts
  shown <- vctrs::vec_data(seen)
  inside <- which(starts >= max(limits[1L], min(shown)) & starts <= min(limits[2L], max(shown)))
  step <- even_step(length(inside), wanted, period_unit(seen))
  if (step > 1L) {
    number <- period_numbers(starts[inside], period_unit(seen), period_calendar(seen))$number
    inside <- inside[(number - 1L) %% step == 0L]
  }
  starts[inside] + within * (grid$ends[inside] - starts[inside] + 1)
}

# Steps that fall on the same places of every year.
even_step <- function(periods, wanted, unit) {
  steps <- switch(
    unit, month = c(1L, 3L, 6L, 12L), quarter = c(1L, 2L, 4L), half = 1:2,
    week = c(1L, 4L, 13L, 26L, 52L), c(
      1L, 7L, 28L, 91L, 182L, 366L
    )
  )
  enough <- periods / steps <= wanted * 1.6
  if (any(enough)) steps[which(enough)[1L]] else steps[length(steps)]
}

axis_labels <- function(periods) {
  unit <- period_unit(periods)
  said <- isTRUE(period_calendar(periods)$labels[[unit]]$said)
  if (said) sub(" (?=[^ ]*$)", "\n", format(periods), perl = TRUE)
  else if (unit == "month") format(periods, template = "{Mon}\n{civil_year}") else sub(
    " ", "\n", format(periods), fixed = TRUE
  )
}
