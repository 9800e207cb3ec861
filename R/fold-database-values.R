# Values of the cells of a job over orders in a database, where a figure looks at them: the
# different ones with how often each is there, and the first and last.

# list(values: of the rows, spans, places).
values_of_cells <- function(engine, cells, amount, repeated) {
  of <- as_amount_values(engine$db, sql_of(cells$query, amount$tree), amount$reads)
  lines <- sql_lines(cells)
  found <- without_marks(database_rows(engine$db, sql_query(
    engine$db, c(lines$inner, ds_v = sql_out(engine$db, of)), lines$from,
    c(own_names(c(lines$keys, "ds_v")), ds_n = "count(*)"), c(lines$keys, "ds_v")
  )))
  found <- known_rows(found)
  rows <- placed(cells, found)
  times <- if (repeated) as.integer(found$n[rows$kept]) else rep(1L, length(rows$kept))
  again <- rep(seq_along(rows$kept), times)
  values <- values_out(found$v, of, engine$db)[rows$kept]
  list(values = values[again], spans = rows$spans[again], places = lapply(rows$places, `[`, again))
}

# The first and the last order line of each cell where the amount is known, by date, then the key of
# the orders: list(values, spans, places, positions).
ends_of_cells <- function(engine, cells, amount) {
  key <- sql_key(engine$db)
  if (is.null(key)) {
    raise_not_said(engine$db, paste0(amount$text, ", first or last"),
      "Say which columns order the lines of a day: orders_in(con, table, key = ).")
  }
  of <- as_amount_values(engine$db, sql_of(cells$query, amount$tree), amount$reads)
  day <- sql_day(engine$db, sql_of_column(cells$query, cells$job$date$id))
  lines <- sql_lines(cells)
  keys <- stats::setNames(key, paste0("ds_k", seq_along(key)))
  found <- without_marks(ends_in(engine$db, c(lines$inner, ds_v = sql_out(engine$db, of), ds_t = day, keys),
    lines$from, lines$keys, c("ds_t", names(keys)), "ds_v"))
  rows <- placed(cells, found)
  values <- values_out(found$v, of, engine$db)[rows$kept]
  day <- as.integer(found$t)[rows$kept]
  c(rows, list(values = values, positions = (day - first_known_day) * 2^32 + seq_along(day)))
}

# The values of cells as lists by group and span.
sorted_values <- function(rows, groups, what, codes, to_group, n_groups, spans) {
  cells <- kernel_cells_of_rows(cell_numbers(rows, groups))
  x <- switch(what,
    codes = codes,
    values = rows$values,
    rows = raise("engine", c("An R function over order lines cannot be worked out in a database.",
      ">" = "Say it in the measure language, or give {.fn daybook} the orders as a data frame."))
  )
  kernel_sort_by_cell(cells, to_group, n_groups, spans, x, what == "codes", thread_count())
}

# Counts of groups and days cannot be added up, so as a rule the different values are handed over to be
# counted here. Where one query gives all figures, because a table has one level and its cells share no
# day, the database counts.

# The distinct values of an amount in the cells of a level, groups by intervals of days; NULL where
# they must be handed over.
counted_there <- function(engine, job, dimensions, book, key, at, from, to) {
  amount <- job$amounts[[key]]
  if (!is_plain_level(at, job) || !are_apart(from, to) || !is.null(job$entity) || has_limits(job)) {
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

# More levels, and members that are put together, left out or run up to another, need the values.
is_plain_level <- function(at, job) {
  own <- at$folded$jobs[[job$key]]
  plain <- match_rows(own$places[at$kept], at$places, own$count, at$count)
  others <- unlist(lapply(at$folded$dimensions, `[[`, "others"))
  length(at$plan$levels) == 1L && is.null(at$entity) && is.null(at$owner) &&
    identical(at$maps[[job$key]], plain) &&
    length(at$folded$kept) == 0L && length(at$folded$kept_where) == 0L && length(others) == 0L
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
