# Orders and the records beside them in one table: each is folded by its own engine, and its members
# stand among those of all.

fold_job <- function(job, ask, dimensions, book) {
  if (length(records_asked(ask)) == 0L) {
    return(fold(engine_of(book), job, dimensions, book))
  }
  own <- job_members(ask, job, book)
  job$scope <- limits_of_job(job$scope, members_among(own, dimensions))
  there <- book_of_job(job, book)
  folded <- fold(engine_of(there), job, own, there)
  places <- lapply(dimensions, function(d) rep(NA_integer_, folded$count))
  for (name in names(own)) {
    all <- dimensions[[name]]$members
    places[[name]] <- c(match(own[[name]]$members, all), length(all) + 1L)[folded$places[[name]]]
  }
  folded$places <- places
  # A database would count by the members of this job alone.
  folded$figure <- NULL
  folded$lacking <- setdiff(names(dimensions), names(own))
  if (!is.null(job$spread)) folded$added <- current_lines(book$records[[job$record]],
    job$spread)$columns
  # What is kept apart is told from the columns of other records, unless it is one with a column of
  # the orders.
  if (!is.null(folded$entity_id)) {
    folded$entity <- entity_among_all(folded$entity, job, ask, book)
    folded$entity_id <- entity_of_job(job)
  }
  folded
}

# The places of what a job keeps apart, among the members that the orders and their records have
# of it.
entity_among_all <- function(places, job, ask, book) {
  ours <- if (is.null(job$record)) job$entity$id else job$entity$ours
  if (is.null(ours)) {
    return(places)
  }
  all <- members_of_entity(job$entity$name, ours, ask, book)
  axis <- dimension_axis(job$entity$name, job$entity$id)
  own <- members(engine_of(book_of_job(job, book)), axis)$members
  c(match(own, all), length(all) + 1L)[places]
}

members_of_entity <- function(name, ours, ask, book) {
  of_records <- lapply(book$records[records_asked(ask)], function(record) {
    id <- column_beside(ours, record, book)
    if (!is.null(id)) members(engine_of(record$book), dimension_axis(name, id))$members
  })
  sorted_members(unique(c(members(engine_of(book), dimension_axis(name, ours))$members,
    unlist(of_records))))
}

# The members of the axes of an ask as the orders of a job have them, of the axes that they have.
job_members <- function(ask, job, book) {
  engine <- engine_of(book_of_job(job, book))
  axes <- lapply(dimension_axes(ask), axis_of_job, job = job, book = book)
  lapply(Filter(Negate(is.null), axes), members, engine = engine)
}

axis_of_job <- function(axis, job, book) {
  if (is.null(job$record)) {
    return(axis)
  }
  record <- book$records[[job$record]]
  added <- if (!is.null(job$spread)) current_lines(record, job$spread)$columns
  if (axis$name %in% names(added)) {
    axis$column <- added[[axis$name]]
    return(axis)
  }
  axis_beside(axis, record, book)
}

# The members of the orders with those of the records asked, in one order.
with_members_beside <- function(coded, ask, book) {
  frame <- ask_frame(ask, book)
  for (job in record_bases(ask, new_job(book), frame)) {
    own <- job_members(ask, job, book)
    for (name in names(own)) coded[[name]] <- members_together(coded[[name]], own[[name]])
  }
  coded
}

members_together <- function(coded, own) {
  known <- unique(c(coded$members, own$members))
  if (length(known) == length(coded$members)) {
    return(coded)
  }
  together <- coded
  together$members <- if (coded$factor) known else sorted_members(known)
  together$place <- match(coded$members, together$members)[coded$place]
  together
}

sorted_members <- function(texts) {
  numbers <- suppressWarnings(as.numeric(texts))
  if (anyNA(numbers)) sort_values(texts) else texts[order(numbers)]
}

# Members of a job with their places among those of all.
members_among <- function(own, dimensions) {
  Map(function(one, all) {
    one$place <- match(one$members, all$members)[one$place]
    one$members <- all$members
    one
  }, own, dimensions[names(own)])
}

# The dimensions of a table over the orders of a job, as parts of figures hold them.
dimensions_of_job <- function(job, dimensions, ask, book) {
  if (length(records_asked(ask)) == 0L) dimensions
  else members_among(job_members(ask, job, book), dimensions)
}

# A condition on members holds the orders of one engine by their places; on an axis that these
# orders do not have nothing is known.
limits_of_job <- function(scope, own) {
  scope <- lapply(scope, function(condition) {
    if (is.null(condition$limit)) return(condition)
    if (!all(unlist(lapply(condition$limit$members, names)) %in% names(own))) return(NULL)
    condition$limit$dimensions <- own
    condition
  })
  Filter(Negate(is.null), scope)
}
