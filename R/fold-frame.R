# The engine for orders in memory: one pass turns the orders into states, one for each group and span.
#
# The result is list(states, dimensions, members, decimals):
# states:     lines, and for each amount missing, sum, least, greatest, as the plan wants them (groups by spans)
# dimensions: the members of each dimension axis
# members:    for each group the place of its member among those of each dimension, one beyond the last for missing
# decimals:   for each amount the places of decimal amounts (2 or 4), NA for other numbers

fold_frame <- function(book, ask, plan) {
  dimensions <- lapply(dimension_axes(ask), function(axis) dimension_codes(axis_source(axis, book), axis$name))
  joint <- joint_codes(dimensions, plan$spans$count)
  amounts <- lapply(plan$amounts, amount_values, book = book)
  keep <- scope_mask(book$scope)
  wants <- function(state) vapply(plan$amounts, function(a) state %in% a$needs, logical(1L))
  folded <- kernel_fold(
    book$days, plan$spans$cuts[1L], plan$spans$of_day, plan$spans$count,
    joint$codes, joint$levels, keep,
    unname(amounts), unname(wants("sum")), unname(wants("range")), thread_count()
  )
  names(folded$columns) <- names(plan$amounts)
  states <- c(list(lines = folded$lines), folded$columns)
  found <- only_occurring(states, joint, dimensions)
  found$decimals <- stats::setNames(folded$decimals, names(plan$amounts))
  found
}

# The column of a dimension; a cyclic part is read off the dates.
axis_source <- function(axis, book) {
  if (!is_cyclic_axis(axis)) {
    return(book$columns[[axis$column]])
  }
  if (axis$part == "hour_of_day") hour_factor(book$columns[[book$date]]) else part_factor(
    book$days, axis$part, axis$calendar
  )
}

dimension_axes <- function(ask) Filter(Negate(is_period_axis), ask$axes)

# Groups without a single order line in any span are no groups of the table; without dimensions there is one.
only_occurring <- function(folded, joint, dimensions) {
  occurs <- rowSums(folded$lines$a) > 0 | length(dimensions) == 0L
  states <- list(lines = list(a = folded$lines$a[occurs, , drop = FALSE]))
  for (amount in setdiff(names(folded), "lines")) {
    states[[amount]] <- lapply(folded[[amount]], function(state) lapply(state, function(m) m[occurs, , drop = FALSE]))
  }
  members <- Map(function(codes, d) c(d$place, length(d$members) + 1L)[codes[occurs]], joint$members, dimensions)
  list(states = states, dimensions = dimensions, members = stats::setNames(members, names(dimensions)))
}

# The values of an aggregate's argument, one for each order line, as the kernel takes them.
amount_values <- function(amount, book) {
  values <- row_values(amount$tree, book$columns, book$rows)
  if (amount$of_amounts) {
    check_amount(values, amount$tree)
  } else if (!is.numeric(values) && !is.logical(values)) {
    values <- ifelse(is.na(values), NA, TRUE)
  }
  if (length(values) == 1L) rep_len(values, book$rows) else values
}

check_amount <- function(values, tree) {
  if (inherits(values, "integer64")) {
    return(values)
  }
  if (!(is.numeric(values) || is.logical(values)) || is.factor(values) || inherits(values, "Date")) {
    raise_not_amount(values, tree)
  }
  values
}
