# What is kept of orders (see fold-states.R), worked out of them once.

# What is kept of some order lines: a row for each day (missing for none) and combination of columns
# (by1, by2 and so on, whatever they are called), with n, the lines, and of each amount what its
# states need (by its name: known, sum, squares about the mean, least, greatest).
partial_rows <- function(engine, by, amounts) UseMethod("partial_rows")

#' @export
partial_rows.drystack_frame <- function(engine, by, amounts) {
  days <- as.integer(engine$days)
  values <- lapply(by, function(id) plain_values(frame_values(engine, id)))
  codes <- c(list(days), lapply(values, function(x) dimension_codes(x, "by")$codes))
  rows <- encoded_rows(codes, length(days))
  groups <- length(rows$first)
  folded <- if (length(amounts) > 0L) folded_amounts(engine, amounts, rows$codes, groups)
  kept <- list(day = days[rows$first])
  for (i in seq_along(by)) kept[[paste0("by", i)]] <- vctrs::vec_slice(values[[i]], rows$first)
  structure(c(kept, list(n = tabulate(rows$codes, groups) + 0), folded), class = "data.frame",
    row.names = seq_len(groups))
}

folded_amounts <- function(engine, amounts, codes, groups) {
  planned <- lapply(amounts, function(amount) {
    utils::modifyList(amount, list(position = FALSE, reads = "amount", code_refused = TRUE))
  })
  values <- lapply(planned, amount_values, engine = engine)
  folded <- kernel_fold(
    rep(0L, length(codes)), 0L, 0L, 1L, list(codes), groups, NULL, unname(values),
    rep(list(c("sum", "moments", "extremes")), length(values)), FALSE, thread_count(), NULL, 2
  )
  n <- tabulate(codes, groups)
  columns <- Map(function(states, amount, name) {
    finished <- function(state, what) kernel_finish(states[[state]], what)[seq_len(groups), 1L]
    known <- n - finished("missing", "count")
    variance <- finished("moments", "variance")
    all <- list(known = known, sum = finished("sum", "sum"),
      squares = ifelse(is.na(variance), 0, variance) * pmax(known - 1, 0),
      least = finished("extremes", "least"), greatest = finished("extremes", "greatest"))
    stats::setNames(all, paste0(name, "_", names(all)))
  }, folded$columns, amounts, names(amounts))
  unlist(unname(columns), recursive = FALSE)
}

#' @export
partial_rows.drystack_parts <- function(engine, by, amounts) {
  ids <- c(unlist(by), unlist(lapply(amounts, function(amount) ids_of(amount$tree))))
  do.call(rbind, over_parts(engine, ids, function(frame, i) partial_rows(frame, by, amounts)))
}

# The same of the order lines of a database whose key is greater than one: list(rows, last: the greatest).
partial_rows_past <- function(engine, by, amounts, past) {
  key <- sql_key(engine$db)
  if (length(key) != 1L) {
    raise("states", c("States of a database need one column of numbers that tells its lines apart.",
      ">" = "Name it: {.code orders_in(con, table, key = )}."))
  }
  query <- new_query(engine)
  x <- lapply(by, sql_of_column, query = query)
  day <- sql_day(engine$db, date_expression(engine))
  planned <- lapply(amounts, function(amount) {
    sql_amount(utils::modifyList(amount, list(needs = c("sum", "moments", "extremes"), reads = "amount",
      position = FALSE,
      code_refused = FALSE)), query)
  })
  folded <- Map(amount_selected, planned, seq_along(planned), MoreArgs = list(db = engine$db))
  keys <- paste0("ds_d", seq_along(by), recycle0 = TRUE)
  inner <- c(ds_t = day, ds_k = key, stats::setNames(vapply(x, sql_out, "", db = engine$db), keys),
    unlist(lapply(unname(folded), `[[`, "inner")))
  outer <- unlist(lapply(unname(folded), `[[`, "outer"))
  from <- paste0(sql_from(query), if (!is.null(past)) paste0(" WHERE ", key, " > ", sql_values(engine$db,
    past)))
  found <- database_rows(engine$db, sql_query(engine$db, inner, from,
    c(own_names(c("ds_t", keys)), ds_n = "count(*)", ds_last = "max(ds_k)", outer), c("ds_t", keys)))
  if (length(found$ds_n) > 0L && !is.numeric(found$ds_last)) {
    raise("states", c(
      "States of a database need a key of numbers, so that new lines are told from those before.",
      ">" = "Name one: {.code orders_in(con, table, key = )}."))
  }
  kept <- c(list(day = as.integer(found$ds_t)), stats::setNames(Map(values_out, found[keys], x,
    MoreArgs = list(db = engine$db)), paste0("by", seq_along(by), recycle0 = TRUE)),
      list(n = as.numeric(found$ds_n)))
  columns <- Map(function(amount, name) {
    number <- function(what) as.numeric(found[[amount$columns[[what]]]])
    known <- number("known")
    sums <- ten_thousandths_of(found[[amount$columns[["sum"]]]], amount)
    sum <- ifelse(is.na(sums[[1L]]), ifelse(is.na(sums[[2L]]), 0, sums[[2L]]), sums[[1L]] / 10000)
    ends <- list(first = number("first"), second = number("second"), least = number("least"),
      greatest = number("greatest"))
    squares <- moments_of(ends, known, amount$facts)$spread
    stats::setNames(list(known, sum, squares, number("least"),
      number("greatest")),
      paste0(name, "_", c("known", "sum", "squares", "least", "greatest")))
  }, folded, names(amounts))
  rows <- structure(c(kept, unlist(unname(columns), recursive = FALSE)), class = "data.frame",
    row.names = seq_along(found$ds_n))
  list(rows = rows, last = if (length(found$ds_n) > 0L) max(as.numeric(found$ds_last)) else past)
}
