# A finished table: its rows as columns, the role of each, and where it came from.
#
# axes:    for each axis its values, row by row (NA where a total releases the axis)
# figures: for each measure its values
# role:    "line", "subtotal" or "total"
# part_way: TRUE where the row's period is not over on the as-of date
new_table <- function(kind, ask, axes, figures, role, part_way, plan, book) {
  structure(
    list(
      kind = kind, ask = ask, axes = axes, figures = figures, role = role, part_way = part_way,
      as_of = book$as_of, first = plan$frame$first, grain = plan$frame$grain,
      calendars = book$calendars, scope = vapply(book$scope, `[[`, "", "text"),
      facts = order_facts(book)
    ),
    class = c(paste0("drystack_", kind), "drystack_table")
  )
}

#' @export
as.data.frame.drystack_table <- function(x, ...) {
  columns <- c(lapply(x$axes, plain_axis), x$figures, list(.role = x$role))
  structure(columns, class = "data.frame", row.names = seq_along(x$role))
}

#' @exportS3Method tibble::as_tibble
as_tibble.drystack_table <- function(x, ...) tibble::as_tibble(as.data.frame(x))

plain_axis <- function(values) if (is.factor(values) || is_period(values)) values else as.character(values)
