# What is kept of orders (see fold-states.R), worked out of them once.

# What is kept of some order lines: a row for each day (missing for none) and combination of columns
# (by1, by2 and so on, whatever they are called), with n, the lines, and of each amount the numbers
# of its states (by its name: known, sum, squares about the mean, least, greatest; some may be
# missing of states that are not needed). amounts: list(tree, text, needs) of each.
partial_rows <- function(engine, by, amounts) UseMethod("partial_rows")

#' @export
partial_rows.drystack_frame <- function(engine, by, amounts) {
  days <- as.integer(engine$days)
  coded <- lapply(by, function(id) column_codes(engine, id, "by"))
  codes <- c(list(days), lapply(coded, `[[`, "codes"))
  rows <- encoded_rows(codes, length(days))
  groups <- length(rows$first)
  folded <- if (length(amounts) > 0L) folded_amounts(engine, amounts, rows$codes, groups)
  kept <- list(day = days[rows$first])
  for (i in seq_along(by)) {
    kept[[paste0("by", i)]] <- coded[[i]]$values[as.integer(coded[[i]]$codes)[rows$first]]
  }
  structure(c(kept, list(n = tabulate(rows$codes, groups) + 0), folded), class = "data.frame",
    row.names = seq_len(groups))
}

folded_amounts <- function(engine, amounts, codes, groups) {
  planned <- lapply(amounts, function(amount) {
    utils::modifyList(amount, list(position = FALSE, reads = "amount", code_refused = TRUE))
  })
  values <- lapply(planned, amount_values, engine = engine)
  kernel_allow_wide(allowed_memory())
  folded <- kernel_fold(
    rep(0L, length(codes)), 0L, 0L, 1L, list(codes), groups, NULL, unname(values),
    unname(lapply(amounts, `[[`, "needs")), FALSE, thread_count(), NULL, 2
  )
  n <- tabulate(codes, groups)
  columns <- Map(function(states, amount, name) {
    finished <- function(state, what) {
      if (is.null(states[[state]])) rep(NA_real_, groups)
        else kernel_finish(states[[state]], what)[seq_len(groups), 1L]
    }
    known <- n - finished("missing", "count")
    variance <- finished("moments", "variance")
    squares <- if ("moments" %in% amount$needs) ifelse(is.na(variance), 0, variance) *
      pmax(known - 1, 0)
      else variance
    all <- list(known = known, sum = finished("sum", "sum"), squares = squares,
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

# The rows of several parts put together, so that each combination stands once. by:
# how many columns;
# names: of the amounts.
merged_rows <- function(rows, by, names) {
  keys <- rows[c("day", paste0("by", seq_len(by), recycle0 = TRUE))]
  coded <- encoded_rows(lapply(keys, codes_of_any), nrow(rows))
  groups <- length(coded$first)
  if (groups == nrow(rows)) {
    return(rows)
  }
  add <- function(x) unname(rowsum(as.numeric(x), coded$codes, reorder = TRUE)[, 1L])
  end <- function(x, pick) {
    sorted <- order(coded$codes, x, decreasing = c(FALSE, pick), na.last = TRUE, method = "radix")
    x[sorted][!duplicated(coded$codes[sorted])]
  }
  merged <- rows[coded$first, , drop = FALSE]
  merged$n <- add(rows$n)
  for (name in names) {
    column <- function(what) paste0(name, "_", what)
    known <- rows[[column("known")]]
    mean <- ifelse(known > 0, rows[[column("sum")]] / known, 0)
    merged[[column("known")]] <- add(known)
    merged[[column("sum")]] <- add(rows[[column("sum")]])
    whole <- ifelse(merged[[column("known")]] > 0,
      merged[[column("sum")]] / merged[[column("known")]], 0)
    merged[[column("squares")]] <- add(rows[[column("squares")]] + known *
      (mean - whole[coded$codes])^2)
    merged[[column("least")]] <- end(rows[[column("least")]], FALSE)
    merged[[column("greatest")]] <- end(rows[[column("greatest")]], TRUE)
  }
  merged
}

# Those that are kept already.
#' @export
partial_rows.drystack_states <- function(engine, by, amounts) {
  wanted <- vapply(by, function(id) source_names(engine, id), "")
  own <- lapply(unname(amounts), kept_amount_named, engine = engine)
  if (!all(wanted %in% engine$kept_by) || any(vapply(own, is.null, NA))) {
    return(partial_rows(orders_engine(engine), by, amounts))
  }
  rows <- engine$kept_rows
  kept <- c(list(day = rows$day), stats::setNames(rows[paste0("by", match(wanted, engine$kept_by),
    recycle0 = TRUE)], paste0("by", seq_along(by), recycle0 = TRUE)), list(n = rows$n))
  numbers <- Map(function(from, to) {
    stats::setNames(rows[paste0(from, "_", state_numbers)], paste0(to, "_", state_numbers))
  }, unlist(own), names(amounts))
  structure(c(kept, unlist(unname(numbers), recursive = FALSE)), class = "data.frame",
    row.names = seq_len(nrow(rows)))
}

kept_amount_named <- function(amount, engine) {
  kept_amount(c(amount, list(position = FALSE)), engine)$columns
}

# What the states of an amount answer, and the numbers they are.
kept_needs <- c("sum", "moments", "extremes")

state_numbers <- c("known", "sum", "squares", "least", "greatest")

#' @export
partial_rows.drystack_database_engine <- function(engine, by, amounts) {
  database_rows_by_day(engine, by, amounts, c(ds_k = "1"), "")$rows
}

# The same of the order lines of a database whose key is greater than one: list(rows, last:
# the greatest).
partial_rows_past <- function(engine, by, amounts, past) {
  key <- sql_key(engine$db)
  if (length(key) != 1L) {
    raise("states", c("States of a database need one column of numbers that tells its lines apart.",
      ">" = "Name it: {.code orders_in(con, table, key = )}.",
      ">" = "Or name the day lines were entered: {.code keep_states(..., entered = )}."))
  }
  where <- if (is.null(past)) "" else paste0(" WHERE ", key, " > ", sql_values(engine$db, past))
  found <- database_rows_by_day(engine, by, amounts, c(ds_k = key), where)
  if (length(found$keys) > 0L && !is.numeric(found$keys)) {
    raise("states", c(
      "States of a database need a key of numbers, so that new lines are told from those before.",
      ">" = "Name one: {.code orders_in(con, table, key = )}.",
      ">" = "Or name the day lines were entered: {.code keep_states(..., entered = )}."))
  }
  list(rows = found$rows, last = if (length(found$keys) > 0L) max(as.numeric(found$keys)) else past)
}

# The same of the lines entered from one day on and before another (NULL for any), by a column as
# entered_column() gives it.
partial_rows_entered <- function(engine, by, amounts, entered, from, to) {
  compared <- function(op, day) {
    if (!is.null(day)) paste(entered$sql, op, sql_at_day(engine$db, day, entered$kind))
  }
  where <- sql_where(c(compared(">=", from), compared("<", to)))
  database_rows_by_day(engine, by, amounts, c(ds_k = "1"), where)$rows
}

# list(rows, keys: the greatest of each row)
database_rows_by_day <- function(engine, by, amounts, key, where) {
  query <- new_query(engine)
  x <- lapply(by, sql_of_column, query = query)
  day <- sql_day(engine$db, date_expression(engine))
  planned <- lapply(amounts, function(amount) {
    sql_amount(utils::modifyList(amount, list(needs = kept_needs, reads = "amount",
      position = FALSE,
      code_refused = FALSE)), query)
  })
  folded <- Map(amount_selected, planned, seq_along(planned), MoreArgs = list(db = engine$db))
  keys <- paste0("ds_d", seq_along(by), recycle0 = TRUE)
  inner <- c(ds_t = day, key, stats::setNames(vapply(x, sql_out, "", db = engine$db), keys),
    unlist(lapply(unname(folded), `[[`, "inner")))
  outer <- unlist(lapply(unname(folded), `[[`, "outer"))
  found <- database_rows(engine$db, sql_query(engine$db, inner, paste0(sql_from(query), where),
    c(own_names(c("ds_t", keys)), ds_n = "count(*)", ds_last = "max(ds_k)", outer),
    c("ds_t", keys)))
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
      paste0(name, "_", state_numbers))
  }, folded, names(amounts))
  rows <- structure(c(kept, unlist(unname(columns), recursive = FALSE)), class = "data.frame",
    row.names = seq_along(found$ds_n))
  list(rows = rows, keys = found$ds_last)
}
