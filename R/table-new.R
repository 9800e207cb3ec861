# A finished table: its rows as columns, the role of each, and where it came from.
#
# axes:    for each axis its values, row by row (NA where a total releases the axis)
# figures: for each measure its values
# role:    "line", "others", "subtotal" or "total"
# part_way: TRUE where the row's period is not over on the as-of date
# rows:    all of this and more, as table_rows() gives it
# book:    the daybook it was asked of, so that a figure can be traced to its order lines
new_table <- function(kind, ask, rows, book, ...) {
  plan <- rows$worked$plan
  folded <- rows$worked$folded
  rows$worked <- NULL
  structure(
    list(
      kind = kind, ask = ask, axes = rows$axes, figures = rows$figures, role = rows$role, part_way = rows$part_way,
      rows = rows, as_of = book$as_of, first = plan$frame$first, shown = shown_facts(book, plan$frame),
      part_way_periods = plan$part_way, lost = plan$lost, noted = as.list(plan$notes), kept = folded$kept,
      calendars = used_calendars(ask, book), scope = vapply(book$scope, `[[`, "", "text"), unmet = scope_notes(book$scope),
      currencies = mixed_currencies(ask, book), outside = outside_calendars(ask, book),
      before_record = plan$before_record, missing = missing_amounts(folded), facts = order_facts(book), book = book, ...
    ),
    class = c(paste0("drystack_", kind), "drystack_table")
  )
}

#' @export
as.data.frame.drystack_table <- function(x, ...) {
  own_setting()
  columns <- c(lapply(x$axes, plain_axis), x$figures, list(.role = x$role))
  structure(columns, class = "data.frame", row.names = seq_along(x$role))
}

#' @exportS3Method tibble::as_tibble
as_tibble.drystack_table <- function(x, ...) tibble::as_tibble(as.data.frame(x))

plain_axis <- function(values) if (is.factor(values) || is_period(values)) values else as.character(values)

# Lines in scope on days for which the calendar of an axis has no period, for each such calendar.
outside_calendars <- function(ask, book) {
  calendars <- Filter(function(calendar) !is.null(calendar) && has_edges(calendar), lapply(ask$axes, `[[`, "calendar"))
  if (length(calendars) == 0L) {
    return(integer())
  }
  seen <- !is.na(book$days) & book$days <= book$as_of & (scope_mask(book$scope) %||% TRUE)
  counts <- vapply(calendars, function(calendar) {
    range <- calendar_range(calendar)
    sum(seen & (book$days < range[1L] | book$days > range[2L]))
  }, 1L)
  stats::setNames(counts, vapply(calendars, function(calendar) calendar$words$long, ""))
}

shown_facts <- function(book, frame) {
  list(first = frame$show_first, last = frame$show_last, limited = !is.null(book$shown))
}

# The calendars that the axes and the lenses of an ask read.
used_calendars <- function(ask, book) {
  of_axes <- lapply(ask$axes, `[[`, "calendar")
  of_lenses <- unlist(lapply(ask$measures, function(m) lens_calendars(m$tree)), recursive = FALSE)
  ids <- vapply(Filter(Negate(is.null), c(of_axes, of_lenses)), `[[`, "", "id")
  Filter(function(calendar) calendar$id %in% ids, book$calendars)
}

lens_calendars <- function(tree) {
  c(list(tree$options$unit$calendar), unlist(lapply(subtrees(tree), lens_calendars), recursive = FALSE))
}

# The currencies of the lines in scope, unless the table tells them apart.
mixed_currencies <- function(ask, book) {
  if (is.null(book$currency) || book$currency %in% names(ask$axes)) {
    return(character())
  }
  seen <- !is.na(book$days) & book$days <= book$as_of & (scope_mask(book$scope) %||% TRUE)
  as.character(sort_values(unique(plain_values(book$columns[[book$currency]][seen]))))
}

# How many of the order lines read by the figures have no known amount, for each amount.
missing_amounts <- function(folded) {
  counts <- list()
  for (job in folded$jobs) {
    for (amount in setdiff(names(job$states), "lines")) {
      if (job$quiet[[amount]]) next
      counts[[amount]] <- max(counts[[amount]], sum(job$states[[amount]]$missing$a))
    }
  }
  unlist(counts)
}
