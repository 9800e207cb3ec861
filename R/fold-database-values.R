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
  found <- without_marks(ends_in(engine$db, c(lines$inner, ds_v = sql_out(engine$db, of),
    ds_t = day, keys), lines$from, lines$keys, c("ds_t", names(keys)), "ds_v"))
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

# Counts of groups and days cannot be added up, nor can their middles, so as a rule the different
# values are handed over to be looked at here. Where one query gives all figures, because a table
# has one level and its cells share no day, the database gives the figure: in the query of the fold
# where the cells are its spans, and else in one of its own.

# Which figures may be asked of the cells as they are grouped.
figures_given <- function(cells) {
  if (cells$daily || !is.null(cells$job$entity) ||
    has_limits(cells$job)) character() else c("distinct", "median")
}

# What is selected of these, by names: nothing for what the values have to be looked at here.
figures_selected <- function(db, name, x, figures) {
  counts <- "distinct" %in% figures && x$kind %in% kinds_counted
  middle <- if ("median" %in% figures && x$kind %in% kinds_with_middle) sql_middle(db, name, x)
  c(if (counts) c(distinct = sql_distinct(db, name)), middle)
}

# A figure of the rows that came back, by groups and cells; `spans`: those of the cells.
figure_of_spans <- function(figure, amount, rows, at, spans) {
  numbers <- lapply(amount$columns, function(name) rows$numbers[[name]])
  values <- switch(figure,
    distinct = if (!is.null(numbers$distinct)) plain_numbers(numbers$distinct),
    median = if (!is.null(numbers$low)) middle_of(numbers)
  )
  if (!is.null(values)) figures_by_group(values, rows, at, spans,
    if (figure == "distinct") 0 else NA)
}

# Half-way between the two in the middle, as by the kernel's quantiles; none where no
# value is known.
middle_of <- function(numbers) {
  low <- plain_numbers(numbers$low)
  high <- plain_numbers(numbers$high)
  ifelse(plain_numbers(numbers$known) > 0, ifelse(low == high, low, low + 0.5 * (high - low)), NA)
}

# A cell without days is unknown. NULL where two rows have one place.
figures_by_group <- function(values, rows, at, spans, none) {
  group <- match_rows(rows$places, unname(at$places[at$kept]), length(rows$spans), at$count)
  cell <- cbind(group, match(rows$spans, spans))
  here <- !is.na(cell[, 1L]) & !is.na(cell[, 2L])
  if (anyDuplicated(cell[here, , drop = FALSE]) > 0L) {
    return(NULL)
  }
  figures <- matrix(rep(ifelse(is.na(spans), NA, none + 0), each = at$count),
    at$count, length(spans))
  figures[cell[here, , drop = FALSE]] <- values[here]
  figures
}

# The distinct values of an amount in the cells of a level, groups by intervals of days; NULL where
# they must be handed over.
counted_there <- function(engine, job, dimensions, book, key, at, from, to) {
  amount <- job$amounts[[key]]
  if (!are_apart(from, to)) {
    return(NULL)
  }
  job$spans <- spans_of_intervals(from, to)
  cells <- cells_of_job(engine, job, dimensions[at$kept], book)
  of <- sql_of(cells$query, amount$tree)
  if (!"distinct" %in% figures_given(cells) || !of$kind %in% kinds_counted) {
    return(NULL)
  }
  lines <- sql_lines(cells)
  found <- without_marks(database_rows(engine$db, sql_query(engine$db,
    c(lines$inner, ds_v = sql_out(engine$db, of)), lines$from,
    c(own_names(lines$keys), ds_n = sql_distinct(engine$db, "ds_v")), lines$keys)))
  rows <- placed(cells, found)
  figures_by_group(plain_numbers(found$n)[rows$kept], rows, at, seq_along(from), 0)
}

# Texts, whole numbers and days are told apart in a database as they are here.
kinds_counted <- c("text", "whole", "date", "iso", "days")

kinds_with_middle <- c("whole", "decimal", "number")

# More levels, and members that are put together, left out or run up to another, need the values.
is_plain_level <- function(at, job) {
  own <- at$folded$jobs[[job$key]]
  plain <- match_rows(own$places[at$kept], at$places, own$count, at$count)
  others <- unlist(lapply(at$folded$dimensions, `[[`, "others"))
  length(at$plan$levels) == 1L && is.null(at$entity) && is.null(at$owner) &&
    identical(at$maps[[job$key]], plain) &&
    length(at$folded$kept) == 0L && length(at$folded$kept_where) == 0L && length(others) == 0L
}

has_limits <- function(job) {
  any(vapply(job$scope, function(condition) !is.null(condition$limit), NA))
}

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
