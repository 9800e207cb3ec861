#' The order lines of a daybook, with their periods
#'
#' @param x A daybook.
#' @param ... Not used.
#' @param periods Periods to add as columns: `c(month, civil$year)`, bare names or text.
#' @return A data frame of all order lines as they are, columns made by [work_out()] included, with
#'   a period vector for each period asked; undated lines have no period.
#' @section Errors: `drystack_error_column` for something that is no period.
#' @seealso [rollup()] adds them up; [as_period()] works on any dates.
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on)
#' head(as.data.frame(book, periods = c(month, quarter)))
#' @export
as.data.frame.drystack_daybook <- function(x, ..., periods = NULL) {
  own_setting()
  axes <- read_axes(said_axes(rlang::enquo(periods)), x)
  if (!all(vapply(axes, is_period_axis, logical(1L)))) {
    raise("column", c("{.arg periods} takes periods only.",
      ">" = "They are {.val {period_units}}."))
  }
  engine <- engine_of(x)
  periods <- lapply(axes, function(axis) {
    days <- kernel_look_up_days(line_days(engine), day_table(axis$unit, axis$calendar),
      first_known_day, thread_count())$values
    new_period(days, axis$unit, axis$calendar)
  })
  columns <- Map(function(name, id) line_values(engine, column_node(name, id)),
    names(x$columns), x$columns)
  structure(c(columns, periods), class = "data.frame", row.names = seq_len(x$rows))
}
