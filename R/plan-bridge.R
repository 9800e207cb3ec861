# effect() in the cells of a level: the amounts and quantities of each member now and before, and in
# which of both it has lines.

trace_effect <- function(tree, at, frame) {
  if (!is.null(at$job$entity)) raise("expression",
    "{.fn effect} cannot stand inside {.fn each} over a column.")
  if (!is.null(at$along)) raise("expression", "{.fn effect} cannot run along the table.")
  inner <- at
  inner$job$entity <- list(name = tree$over$column, id = tree$over$id)
  inner$job <- keyed_job(inner$job)
  before <- if (tree$with_from) inner else moved(inner, before_of_bridge(tree, frame))
  now <- seq_len(1L + tree$with_quantity)
  trees <- if (tree$with_from) tree$args else c(tree$args, tree$args)
  traced <- c(lapply(trees[now], trace_measure, at = inner, frame = frame),
    lapply(trees[-now], trace_measure, at = before, frame = frame))
  seen <- list(trace_presence(call_node("+", traced[now]), inner, frame),
    trace_presence(call_node("+", traced[-now]), before, frame))
  node("effect", args = traced, part = tree$part, with_quantity = tree$with_quantity,
    entity = entity_of_job(inner$job), over = tree$over, units = tree$units,
    lines_seen = unlist(seen, recursive = FALSE), now = seq_along(seen[[1L]]),
    width = length(at$cells$from))
}

before_of_bridge <- function(tree, frame) {
  unit <- tree$options$unit %||% frame$grain %||%
    raise_no_unit("effect", "sales, over = product, to = year")
  function(cells, level) shift_cells(cells, unit$unit, 1L, unit$calendar)
}
