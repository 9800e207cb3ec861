# Figures of one cell: expressions worked out where one row of a table stands, from the orders of
# its own members and days.

# What some measure trees are on a row: a list of values. Those that look at other rows are
# worked out for the whole table.
figures_on_row <- function(trees, x, row) {
  wide <- vapply(trees, looks_at_rows, NA)
  values <- vector("list", length(trees))
  if (any(wide)) values[wide] <- figures_of_rows(trees[wide], x, row)
  if (any(!wide)) values[!wide] <- figures_of_cell(trees[!wide], x, row)
  values
}

looks_at_rows <- function(tree) {
  tree_any(tree, function(one) one$kind %in% c("overall", "of_rows", "share", "rank", "along"))
}

step_measures <- function(trees) {
  names <- paste0("step", seq_along(trees))
  stats::setNames(Map(new_measure, names, trees), names)
}

# The same row of a table with other measures: found by its members, whatever rows stand before it.
figures_of_rows <- function(trees, x, row) {
  ask <- x$ask
  ask$measures <- step_measures(trees)
  ask$records <- records_asked(x$ask)
  rows <- answer(ask, x$book)$rows
  here <- match_rows(lapply(x$rows$ranks, `[`, row), rows$ranks, 1L, length(rows$role))
  lapply(unname(rows$figures), `[`, here)
}

figures_of_cell <- function(trees, x, row) {
  at <- cell_of(x, row)
  ask <- x$ask
  ask$measures <- step_measures(trees)
  ask$records <- records_asked(x$ask)
  # Members stand in the places that the table gives them: rules that need no figures are kept.
  ask$sort <- Filter(Negate(by_measure), ask$sort)
  ask$keep <- ask$keep_where <- list()
  level <- at$place$level
  kept <- intersect(names(ask$axes)[level$keeps], names(dimension_axes(ask)))
  places <- lapply(x$rows$ranks[kept], `[`, row)
  plan <- cell_plan(ask, x$book, at, member_limit(places, at, x, row))
  folded <- kernel_in_bounds(fold_plan(x$book, ask, plan))
  for (kept_members in put_together_in(x, row)) {
    folded$kept[[kept_members$dimension]] <- kept_members
    folded <- put_together(folded, kept_members, kept_members$others %||% "(not shown)")
  }
  maps <- lapply(folded$jobs, function(job) match_rows(job$places[kept], places, job$count, 1L))
  cell <- resolving(kept, places, 1L, folded, ask, plan, maps, plan$levels[[1L]]$periods)
  kernel_in_bounds({
    lapply(unname(plan$levels[[1L]]$figures), function(figure) {
      plain_figure(resolve_tree(figure, cell), 1L)
    })
  })
}

# Only lines of these members: a condition that no lens disregards.
member_limit <- function(places, at, x, row) {
  if (length(places) == 0L) {
    return(list())
  }
  kept <- put_together_in(x, row)
  limit <- list(dimensions = at$dimensions, kept = kept, members = list(places))
  list(list(limit = limit, key = rlang::hash(list(places, lapply(kept, `[[`, "dimension"))),
    text = "", columns = character(), own = FALSE))
}

# A plan of one level with one cell.
cell_plan <- function(ask, book, at, limit) {
  level <- at$place$level
  level$cells <- lapply(level$cells, function(field) {
    if (is.atomic(field) && length(field) > 1L) field[at$cell] else field
  })
  level$periods <- lapply(level$periods, `[`, at$cell)
  job <- at$place$job
  job$scope <- c(job$scope, limit)
  job <- keyed_job(job)
  place <- new_tracing(level, job)
  level$figures <- lapply(lapply(ask$measures, `[[`, "tree"), trace_measure, at = place,
    frame = at$frame)
  leaves <- unlist(lapply(level$figures, leaves_of), recursive = FALSE)
  plan_of(at$frame, list(level), job$key, plan_jobs(leaves, job, at$frame))
}
