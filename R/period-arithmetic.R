# Arithmetic by whole periods.

#' @exportS3Method vctrs::vec_arith
vec_arith.drystack_period <- function(op, x, y, ...) {
  if (is_period(x) && is_period(y)) {
    return(period_difference(op, x, y))
  }
  step <- if (is_period(x)) y else x
  whole <- is.numeric(step) && !is.object(step) && all(is.na(step) | step == round(step))
  if (!whole || !(op == "+" || (op == "-" && is_period(x)))) {
    raise("period", c(
      "Periods take whole numbers of periods: {.code p + 1L}, {.code p - 12L}.",
      "x" = paste0("This is ", quoted(op), " with {type_words(step)}.")
    ))
  }
  if (is_period(x)) move_period(x, if (op == "-") -step else step) else move_period(y, step)
}

#' @exportS3Method vctrs::vec_arith
vec_arith.numeric.drystack_period <- function(op, x, y, ...) {
  vec_arith.drystack_period(op, x, y, ...)
}

period_difference <- function(op, x, y) {
  if (op != "-" || !same_periods(x, y)) {
    raise("period", c(
      "Only periods of one unit and calendar can be subtracted, and none can be added.",
      "x" = "These are {.cls {vctrs::vec_ptype_full(x)}} {op} {.cls {vctrs::vec_ptype_full(y)}}."
    ))
  }
  position <- function(p) period_position(vctrs::vec_data(p), period_unit(p), period_calendar(p))
  position(x) - position(y)
}

move_period <- function(x, by) {
  starts <- calendar_grid(period_calendar(x))[[period_unit(x)]]$starts
  position <- period_position(vctrs::vec_data(x), period_unit(x),
    period_calendar(x)) + as.integer(by)
  outside <- !is.na(position) & (position < 1L | position > length(starts))
  if (any(outside)) {
    raise("period", c(
      "A result lies outside the calendar, which reaches from 1900 to 2200.",
      "x" = paste0("Moving {examples_of(rep_len(format(x), length(position))[outside])} this far ",
        "leaves it.")
    ))
  }
  new_period(starts[position], period_unit(x), period_calendar(x))
}

#' Sequences of periods
#'
#' @param from,to The first and the last period, of one unit and calendar.
#' @param by How many periods to step.
#' @param ... Not used.
#' @return A period vector.
#' @section Errors: `drystack_error_period` when the two are not of one unit and calendar.
#' @seealso [as_period()] makes periods.
#' @examples
#' seq(as_period("2026-01", month), as_period("2026-06", month))
#' @export
seq.drystack_period <- function(from, to, by = 1L, ...) {
  by <- check_whole(by, "by", 1L)
  from + seq.int(0L, check_period(to, "to") - from, by = by)
}

# Periods are known or missing; sums and the like mean nothing for them.
#' @exportS3Method vctrs::vec_math
vec_math.drystack_period <- function(.fn, .x, ...) {
  switch(.fn,
    is.finite = !is.na(.x),
    is.infinite = ,
    is.nan = rep(FALSE, length(.x)),
    raise("period", c("{.fn {(.fn)}} cannot be used with periods.",
      ">" = "They can be compared, sorted and counted."))
  )
}
