# A plan carried out: each of its jobs folded by the engine of the daybook. list(dimensions: the
# members of each dimension axis; jobs: the states of each job, see fold(); book; kept, order,
# kept_where: what was settled about members and rows afterwards (resolve-keep.R, resolve-order.R,
# resolve-keep-where.R)).

fold_plan <- function(book, ask, plan) {
  engine <- engine_of(book)
  dimensions <- ask_dimensions(ask, book)
  sizes <- vapply(dimensions, function(d) length(d$members), 1L)
  check_memory(memory_needed(plan, sizes, entity_counts(plan, book), book$rows))
  list(
    dimensions = dimensions, jobs = lapply(plan$jobs, fold, engine = engine,
      dimensions = dimensions, book = book), book = book,
    kept = list(), order = list(), kept_where = list()
  )
}

# The dimensions of an ask, their members in the order of a list or a key where one is said: of each
# the codes of the order lines with their place among the members; others, the place of members put
# together, and alone, the places of those that are not (resolve-keep.R).
ask_dimensions <- function(ask, book) {
  engine <- engine_of(book)
  lapply(dimension_axes(ask), function(axis) {
    coded <- given_order(members(engine, axis), axis, ask$sort[[axis$name]], book)
    c(coded, list(others = integer(), alone = integer()))
  })
}

member_counts <- function(ask, book) vapply(ask_dimensions(ask, book), function(d) length(d$members), 1L)

# How many members the columns have whose values some job keeps apart, by their ids.
entity_counts <- function(plan, book) {
  entities <- Filter(Negate(is.null), lapply(unname(plan$jobs), `[[`, "entity"))
  counts <- vapply(entities, function(e) {
    length(members(engine_of(book), dimension_axis(e$name, e$id))$members)
  }, 1L)
  stats::setNames(as.list(counts), vapply(entities, `[[`, "", "id"))
}
