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
