# occurrences() in the cells of a level.

# The unit that is counted where none is said: the finest of the cyclic parts of a table, else the
# finest of its periods.
occurring_unit <- function(frame) {
  cyclic <- Filter(is_cyclic_axis, frame$axes)
  if (length(cyclic) == 0L) {
    return(frame$grain %||% raise_no_unit("occurrences", "day"))
  }
  units <- vapply(cyclic, function(axis) part_unit_word(axis$part), "")
  finest <- cyclic[[which.min(match(units, period_units))]]
  list(unit = part_unit_word(finest$part), calendar = finest$calendar)
}

# Days after the orders end are no occurrence; a period that the record reaches in part is one.
trace_occurrences <- function(tree, at, frame) {
  at$cells$to <- pmin(at$cells$to, frame$covered)
  each <- node("each", fn = "sum", grain = tree$options$unit %||%
    occurring_unit(frame), days = "all",
    child = value_node(1))
  traced <- trace_each_period(each, at, frame)
  traced["along"] <- list(at$along)
  traced
}
