# A job is one pass over the orders: the conditions they meet, the column their date is read off, and a column whose
# values are
# kept apart (each). Leaves of one job are folded together.

new_job <- function(book) {
  keyed_job(list(scope = book$scope, date = book$date, entity = NULL, first = record_start(book)))
}

# A job with the name by which two are the same.
keyed_job <- function(job) {
  texts <- sort(vapply(job$scope, `[[`, "", "text"))
  job$key <- paste(c(job$date, job$entity %||% "-", texts), collapse = " & ")
  job
}

job_key <- function(job) job$key

# The job of a lens on scope: more conditions, fewer, or another date.
scoped_job <- function(job, tree, frame) {
  if (!is.null(tree$condition)) {
    job$scope <- c(
      job$scope, list(
        list(text = tree_text(tree$condition), columns = columns_of(tree$condition), tree = tree$condition)
      )
    )
  }
  if (!is.null(tree$drop)) {
    columns <- c(tree$drop, if ("dates" %in% tree$drop) frame$date)
    # Conditions of lenses, which are trees, stay: only the daybook's are disregarded.
    dropped <- function(condition) is.null(condition$tree) && ("all" %in% columns || any(condition$columns %in% columns))
    on_dates <- vapply(job$scope, function(condition) frame$date %in% condition$columns, logical(1L))
    drops <- vapply(job$scope, dropped, logical(1L))
    if (any(on_dates & drops)) job$first <- frame$book_first
    job$scope <- job$scope[!drops]
  }
  if (!is.null(tree$date)) job$date <- tree$date
  keyed_job(job)
}

# Without limits on dates: the whole period of a cell, or the whole record.
whole_cells <- function(cells, frame) {
  if (is.null(cells$unit)) {
    cells$from[!is.na(cells$from)] <- frame$book_first
    cells$to[!is.na(cells$to)] <- frame$as_of
    return(cells)
  }
  cells$from[!is.na(cells$from)] <- cells$start[!is.na(cells$from)]
  cells$to[!is.na(cells$to)] <- pmin(cells$end, frame$as_of)[!is.na(cells$to)]
  cells
}

# What each job must fold: amounts with the states wanted of each, whether the rows of the cells are wanted, and the
# spans.
plan_jobs <- function(leaves, frame) {
  jobs <- list()
  for (leaf in leaves) {
    key <- job_key(leaf$job)
    job <- jobs[[key]] %||% c(leaf$job, list(amounts = list(), rows = FALSE))
    spec <- aggregate_spec(leaf$fn)
    job$rows <- job$rows || "rows" %in% spec$needs
    if (!is.null(leaf$amount)) job$amounts[[leaf$amount]] <- planned_amount(job$amounts[[leaf$amount]], leaf, spec)
    jobs[[key]] <- job
  }
  if (length(jobs) == 0L) {
    return(jobs)
  }
  of_job <- split(leaves, factor(vapply(leaves, function(leaf) job_key(leaf$job), ""), levels = names(jobs)))
  Map(function(job, own) c(job, list(spans = plan_spans(own, frame))), jobs, of_job)
}

planned_amount <- function(known, leaf, spec) {
  amount <- known %||% list(
    tree = leaf$arguments[[1L]], needs = character(), reads = character(), position = spec$position
  )
  amount$needs <- union(amount$needs, spec$needs)
  amount$reads <- union(amount$reads, spec$reads)
  amount$quiet <- isTRUE(amount$quiet %||% TRUE) && isTRUE(leaf$quiet)
  amount$code_refused <- isTRUE(amount$code_refused) || spec$code_refused
  amount
}
