# A job is one pass over the orders: the conditions they meet, the column their date is read off,
# and a column whose values are kept apart (each). Leaves of one job are folded together.
#
# scope: conditions (see new_condition()); date, entity: list(name, id) of a column; first:
#   the first day of the record;
# key: what tells it from other jobs
# amounts, rows, spans: what is folded of it (plan_jobs())
# record, spread: of a record beside the orders its name, and which of its
# spread lines (plan-records.R)

new_job <- function(book) {
  keyed_job(list(
    scope = book$scope, date = list(name = book$date, id = book$columns[[book$date]]),
    entity = NULL, first = record_start(book), key = NULL, amounts = list(),
    rows = FALSE, spans = NULL,
    record = NULL, spread = NULL
  ))
}

keyed_job <- function(job) {
  conditions <- sort(unique(vapply(job$scope, `[[`, "", "key")), method = "radix")
  job$key <- rlang::hash(list(job$date$id, job$entity$id, conditions, job$record, job$spread))
  job
}

# The job of a lens on scope: more conditions, fewer, or another date.
scoped_job <- function(job, tree, frame) {
  if (!is.null(tree$condition)) job$scope <- c(job$scope,
    list(new_condition(tree$condition, own = FALSE)))
  if (!is.null(tree$drop)) {
    columns <- c(tree$drop$columns, if (tree$drop$dates) frame$date)
    drops <- vapply(job$scope, function(condition) {
      condition$own && (tree$drop$all || any(condition$columns %in% columns))
    }, NA)
    on_dates <- vapply(job$scope, function(condition) frame$date %in% condition$columns, NA)
    if (any(on_dates & drops)) job$first <- frame$book_first
    job$scope <- job$scope[!drops]
  }
  if (!is.null(tree$date)) job$date <- tree$date
  keyed_job(job)
}

# Without limits on dates: the whole period of a cell, what two periods share, or the whole record.
whole_cells <- function(cells, frame) {
  start <- cells$start %||% cells$shared_from %||% rep(frame$book_first, length(cells$from))
  end <- cells$end %||% cells$shared_to %||% rep(frame$as_of, length(cells$to))
  cells$from[!is.na(cells$from)] <- start[!is.na(cells$from)]
  cells$to[!is.na(cells$to)] <- pmin(end, frame$as_of)[!is.na(cells$to)]
  cells
}

# What each job must fold: amounts with the states wanted of each, whether the rows of the cells are
# wanted, and the spans. The orders of the daybook's own scope on the dates shown are always folded,
# and those of the records beside them: they say which members occur. `single`: the ask has one
# level, of which nothing is kept or put together.
plan_jobs <- function(leaves, base, frame, records = list(), single = FALSE) {
  base$shown <- list(from = frame$show_first, to = frame$show_last)
  bases <- c(list(base), records)
  jobs <- stats::setNames(bases, vapply(bases, `[[`, "", "key"))
  for (leaf in leaves) {
    key <- leaf$job$key
    job <- jobs[[key]] %||% leaf$job
    spec <- aggregate_spec(leaf$fn)
    job$rows <- job$rows || "rows" %in% spec$needs
    if (!is.null(leaf$amount)) job$amounts[[leaf$amount]] <- planned_amount(
      job$amounts[[leaf$amount]], leaf, spec)
    jobs[[key]] <- job
  }
  intervals <- c(leaves, lapply(bases, function(base) c(base$shown, list(job = base))))
  of_job <- split(intervals, factor(vapply(intervals, function(leaf) leaf$job$key, ""),
    levels = names(jobs)))
  Map(function(job, own) {
    job$spans <- plan_spans(own, frame)
    if (single) job$amounts <- lapply(job$amounts, with_figures_of_spans, leaves = own,
      cuts = job$spans$cuts)
    job
  }, jobs, of_job)
}

# The figures of an amount whose cells are single spans, so that nothing has to be merged: orders
# that lie elsewhere may give them as they are.
with_figures_of_spans <- function(amount, leaves, cuts) {
  own <- Filter(function(leaf) identical(leaf$amount, amount$key), leaves)
  apart <- vapply(own, function(leaf) {
    cells <- !is.na(leaf$from)
    is.null(leaf$along) && all(match(leaf$to[cells] + 1L, cuts) ==
      match(leaf$from[cells], cuts) + 1L)
  }, NA)
  fns <- vapply(own, `[[`, "", "fn")
  amount$figures <- setdiff(fns, fns[!apart])
  amount
}

planned_amount <- function(known, leaf, spec) {
  amount <- known %||% list(
    key = leaf$amount, tree = leaf$arguments[[1L]], text = tree_text(leaf$arguments[[1L]]),
    figures = character(), needs = character(), reads = character(), position = spec$position,
    quiet = TRUE, code_refused = FALSE,
    repeated = FALSE
  )
  amount$needs <- union(amount$needs, spec$needs)
  amount$reads <- union(amount$reads, spec$reads)
  amount$quiet <- amount$quiet && leaf$quiet
  amount$code_refused <- amount$code_refused || spec$code_refused
  amount$repeated <- amount$repeated || spec$repeated
  amount
}

# By what a column kept apart is told from the columns of other records.
entity_of_job <- function(job) {
  if (is.null(job$record)) job$entity$id else job$entity$ours %||% paste(job$record, job$spread,
    job$entity$id)
}

# The record begins with the first dated order; of the scope, only conditions on the date move it.
record_start <- function(book) {
  dated <- date_conditions(book)
  if (length(dated) == 0L) {
    return(book$first)
  }
  first <- orders_facts(engine_of(book), dated)$first
  if (is.na(first) || first > book$as_of) {
    raise("date", c(
      "The conditions on the date leave no orders.",
      "x" = paste0("They are: ", words_of(condition_texts(dated)), "."),
      "i" = record_words(book)
    ))
  }
  first
}

record_words <- function(book) {
  paste0("Orders run from ", day_words(book$first), " to ", day_words(book$last), ", as of ",
    day_words(book$as_of), ".")
}

# cuts[i] is the first day of span i; the last cut is the day after the last span.
plan_spans <- function(leaves, frame) {
  from <- unlist(lapply(leaves, `[[`, "from"))
  to <- unlist(lapply(leaves, `[[`, "to"))
  cuts <- sort(unique(c(from, to + 1L)))
  if (length(cuts) < 2L) cuts <- c(frame$first, frame$first + 1L)
  lengths <- diff(cuts)
  list(cuts = cuts, of_day = rep.int(seq_along(lengths) - 1L, lengths), count = length(lengths))
}
