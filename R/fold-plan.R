# A plan carried out: each of its jobs folded by the engine of its orders. list(dimensions: the
# members of each dimension axis; jobs: the states of each job, see fold(); book; kept, order,
# kept_where: what was settled about members and rows afterwards (resolve-keep.R,
# resolve-order.R, resolve-keep-where.R)).

fold_plan <- function(book, ask, plan) {
  dimensions <- ask_dimensions(ask, book)
  sizes <- vapply(dimensions, function(d) length(d$members), 1L)
  check_memory(memory_needed(plan, sizes, entity_counts(plan, book), book$rows))
  list(
    dimensions = dimensions, jobs = lapply(plan$jobs, fold_job, ask = ask,
      dimensions = dimensions, book = book), book = book,
    kept = list(), order = list(), kept_where = list()
  )
}

# The dimensions of an ask, their members in the order of a list or a key where one is said: of each
# the codes of the order lines with their place among the members; others, the place of members put
# together, and alone, the places of those that are not (resolve-keep.R).
ask_dimensions <- function(ask, book) {
  engine <- engine_of(book)
  axes <- dimension_axes(ask)
  coded <- lapply(axes, members, engine = engine)
  if (length(records_asked(ask)) > 0L) coded <- with_members_beside(coded, ask, book)
  Map(function(coded, axis) {
    coded <- given_order(coded, axis, ask$sort[[axis$name]], book)
    c(coded, list(others = integer(), alone = integer()))
  }, coded, axes)
}

member_counts <- function(ask, book) {
  vapply(ask_dimensions(ask, book), function(d) length(d$members), 1L)
}

# How many members the columns have whose values some job keeps apart, by the key of the job.
entity_counts <- function(plan, book) {
  jobs <- Filter(function(job) !is.null(job$entity), unname(plan$jobs))
  counts <- vapply(jobs, function(job) {
    there <- engine_of(book_of_job(job, book))
    length(members(there, dimension_axis(job$entity$name, job$entity$id))$members)
  }, 1L)
  stats::setNames(as.list(counts), vapply(jobs, `[[`, "", "key"))
}
