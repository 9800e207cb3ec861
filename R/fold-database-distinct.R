# Distinct counts that a database makes itself. Counts of groups and days cannot be added up, so as
# a rule the different values are handed over (fold-database-values.R). Where one query gives all
# figures, because a table has one level and its cells share no day, they are counted there.

# The distinct values of an amount in the cells of a level, groups by intervals of days; NULL where
# they must be handed over.
counted_there <- function(engine, job, dimensions, book, key, at, from, to) {
  amount <- job$amounts[[key]]
  if (!is_one_level(at) || !are_apart(from, to) || !is.null(job$entity) || has_limits(job)) {
    return(NULL)
  }
  job$spans <- spans_of_intervals(from, to)
  cells <- cells_of_job(engine, job, dimensions[at$kept], book)
  of <- sql_of(cells$query, amount$tree)
  if (cells$daily || !of$kind %in% kinds_counted) {
    return(NULL)
  }
  lines <- sql_lines(cells)
  found <- without_marks(database_rows(engine$db, sql_query(engine$db,
    c(lines$inner, ds_v = sql_out(engine$db, of)), lines$from,
    c(own_names(lines$keys), ds_n = sql_distinct(engine$db, "ds_v")), lines$keys)))
  rows <- placed(cells, found)
  group <- match_rows(rows$places, unname(at$places[at$kept]), length(rows$kept), at$count)
  counts <- matrix(0, at$count, length(from))
  counts[cbind(group, rows$spans)[!is.na(group), , drop = FALSE]] <-
    plain_numbers(found$n)[rows$kept][!is.na(group)]
  counts
}

# Texts, whole numbers and days are told apart in a database as they are here.
kinds_counted <- c("text", "whole", "date", "iso", "days")

# More levels, and members that are put together or left out, need the values.
is_one_level <- function(at) {
  length(at$plan$levels) == 1L && is.null(at$entity) && is.null(at$owner) && length(at$folded$kept) == 0L &&
    length(at$folded$kept_where) == 0L && length(unlist(lapply(at$folded$dimensions, `[[`, "others"))) == 0L
}

has_limits <- function(job) any(vapply(job$scope, function(condition) !is.null(condition$limit), NA))

# Whether no day lies in two intervals, and each has some.
are_apart <- function(from, to) {
  if (anyNA(from) || anyNA(to) || any(from > to)) {
    return(FALSE)
  }
  order <- order(from)
  all(from[order][-1L] > to[order][-length(to)])
}

# As plan_spans() gives them: a span for each interval.
spans_of_intervals <- function(from, to) {
  of_day <- rep(-1L, max(to) - min(from) + 1L)
  for (i in seq_along(from)) of_day[seq.int(from[i], to[i]) - min(from) + 1L] <- i - 1L
  list(cuts = sort(unique(c(from, to + 1L))), of_day = of_day, count = length(from))
}
