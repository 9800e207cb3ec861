# The engine for kept states: orders folded by day and some columns, once, from files that source-states.R
# keeps. What these can answer is answered by them; all else is asked of the orders, which are opened then.
#
# rows: of the states: frame, an engine in memory whose rows are the kept combinations, and n, how many
#   order lines each stands for
# kept_names: the columns that are kept; amounts: by the key of their trees the columns of numbers
# open: a function that opens the orders, as daybook() takes them; orders: their engine, once opened

#' @export
as_engine.drystack_taken_states <- function(taken, date) {
  kept <- taken$kept
  if (date$name != kept$date) {
    raise("date", c(paste0("The states in ", quoted(kept$path), " are kept by the days of ",
      quoted(kept$date), "."),
      "x" = paste0("They are asked by ", quoted(date$name), "."), ">" = "Keep others, or name that column."))
  }
  engine <- new_engine("drystack_states", sum(kept$rows$n))
  engine$date <- date
  engine$kept_rows <- kept$rows
  engine$kept_by <- kept$by
  engine$kept_names <- c(kept$by, kept$date)
  engine$amount_texts <- kept$amounts
  engine$names <- kept$names
  engine$open <- kept$open
  engine$told <- kept$told
  engine$kept <- new.env(parent = emptyenv())
  engine
}

# The kept combinations as an engine in memory, in which all means what it does among the orders.
states_frame <- function(engine) {
  if (is.null(engine$frame)) engine$frame <- frame_engine(nrow(engine$kept_rows), engine$kept_rows$day)
  with_meanings(engine$frame, engine, function(meaning) {
    if (meaning$name == engine$date$name) list(kind = "source", values = as_day_date(engine$kept_rows$day))
    else if (meaning$name %in% engine$kept_by) {
      list(kind = "source", values = engine$kept_rows[[paste0("by", match(meaning$name, engine$kept_by))]])
    }
  })
}

# Whether columns are worked out of what is kept.
can_answer <- function(engine, ids) all(source_names(engine, ids) %in% engine$kept_names)

# The engine of the orders themselves, with every column and condition that was said.
orders_engine <- function(engine) {
  if (is.null(engine$orders)) {
    engine$taken <- engine$open()
    engine$orders <- as_engine(engine$taken, engine$date)
  }
  inner <- engine$orders
  for (id in setdiff(ls(engine$meanings), ls(inner$meanings))) {
    meaning <- engine$meanings[[id]]
    if (meaning$kind == "elsewhere") meaning <- engine$taken$meaning(meaning$name)
    assign(id, meaning, envir = inner$meanings)
  }
  inner$last_id <- engine$last_id
  inner$functions <- engine$functions
  inner
}

# Each state stands for some order lines.
#' @export
labels_counted.drystack_states <- function(engine, tree) {
  answered_by(engine, ids_of(tree), function(frame) lines_by_label(frame, tree, engine, engine$kept_rows$n),
    function(orders) labels_counted(orders, tree))
}

#' @export
labels_counted.drystack_frame <- function(engine, tree) {
  lines_by_label(engine, tree, engine,
    rep(1, engine$rows))
}

lines_by_label <- function(frame, tree, engine, lines) {
  texts <- as.character(plain_values(line_values(frame, settled_tree(tree, engine))))
  labels <- unique(texts[!is.na(texts)])
  counts <- rowsum(lines, match(texts, labels), na.rm = TRUE)
  list(labels = labels, lines = unname(counts[match(seq_along(labels), rownames(counts)), 1L]))
}

# Conditions as they mean among all order lines.
settled_scope <- function(engine, scope) {
  lapply(scope, function(condition) {
    if (is.null(condition$limit)) condition$tree <- settled_tree(condition$tree, engine)
    condition
  })
}

# Answered by the states where they can, else by the orders.
answered_by <- function(engine, ids, by_states, by_orders) {
  if (can_answer(engine, ids)) by_states(states_frame(engine)) else by_orders(orders_engine(engine))
}

#' @export
orders_facts.drystack_states <- function(engine, scope) {
  answered_by(engine, condition_ids(scope), function(frame) {
    met <- scope_mask(frame, settled_scope(engine, scope)) %||% rep(TRUE, frame$rows)
    day <- as.integer(engine$kept_rows$day[met])
    n <- engine$kept_rows$n[met]
    list(lines = sum(n), undated = sum(n[is.na(day)]), first = end_known(day, min), last = end_known(day,
      max))
  }, function(orders) orders_facts(orders, scope))
}

#' @export
days_counted.drystack_states <- function(engine) {
  lines <- rowsum(engine$kept_rows$n, engine$kept_rows$day, na.rm = FALSE)
  days <- suppressWarnings(as.integer(rownames(lines)))
  list(days = days, lines = as.vector(lines))
}

#' @export
column_kind.drystack_states <- function(engine, tree) {
  check_no_functions(tree)
  answered_by(engine, ids_of(tree), function(frame) column_kind(frame, tree),
    function(orders) column_kind(orders, tree))
}

#' @export
members.drystack_states <- function(engine, axis) {
  ids <- if (axis$kind == "cyclic" && axis$part != "hour_of_day") character() else axis$column
  coded <- answered_by(engine, ids, function(frame) members(frame, axis), function(orders) {
    members(orders,
      axis)
  })
  coded$axis <- axis
  coded
}

#' @export
member_pairs.drystack_states <- function(engine, a, b) {
  answered_by(engine, c(a$column, b$column), function(frame) member_pairs(frame, a, b),
    function(orders) member_pairs(orders, a, b))
}

#' @export
lookup_match.drystack_states <- function(engine, id) {
  lookup <- engine$meanings[[id]]
  answered_by(engine, lookup$by, function(frame) {
    found <- lookup_match(frame, id)
    lacking <- is.na(found$row) & !is.na(frame_values(frame, lookup$by))
    list(row = NULL, unmatched = found$unmatched, lines = sum(engine$kept_rows$n[lacking]))
  }, function(orders) lookup_match(orders, id))
}

#' @export
left_out.drystack_states <- function(engine, book) {
  if (length(book$scope) == 0L && book$as_of >= book$last) {
    return(c(book$undated, 0))
  }
  answered_by(engine, condition_ids(book$scope), function(frame) {
    day <- engine$kept_rows$day
    reasons <- c(list(is.na(day), (day > book$as_of) %in% TRUE), lapply(settled_scope(engine, book$scope),
      function(condition) {
      !condition_mask(frame, condition)
    }))
    left <- rep(FALSE, length(day))
    vapply(reasons, function(reason) {
      first <- reason %in% TRUE & !left
      left <<- left | first
      sum(engine$kept_rows$n[first])
    }, 0)
  }, function(orders) left_out(orders, book))
}

# What looks at order lines looks at the orders.
#' @export
order_lines.drystack_states <- function(engine, part) {
  order_lines(orders_engine(engine), of_orders(engine,
    part))
}

#' @export
count_lines.drystack_states <- function(engine, part) {
  count_lines(orders_engine(engine), of_orders(engine,
    part))
}

#' @export
sum_of_lines.drystack_states <- function(engine, part, tree) {
  sum_of_lines(orders_engine(engine), of_orders(engine, part), tree)
}

#' @export
distinct_values.drystack_states <- function(engine, part, tree) {
  distinct_values(orders_engine(engine), of_orders(engine, part), tree)
}

#' @export
all_lines.drystack_states <- function(engine) all_lines(orders_engine(engine))

#' @export
line_values.drystack_states <- function(engine, tree, rows = NULL) {
  line_values(orders_engine(engine), tree,
    rows)
}

#' @export
line_days.drystack_states <- function(engine) line_days(orders_engine(engine))

#' @export
rows_of_orders.drystack_states <- function(engine, rows) rows_of_orders(orders_engine(engine), rows)

#' @export
orders_part.drystack_states <- function(engine, rows) orders_part(orders_engine(engine), rows)

# A part with the codes of the order lines; places are the same, as members are.
of_orders <- function(engine, part) {
  orders <- orders_engine(engine)
  own <- function(dimension) {
    if (is.null(dimension$codes) || inherits(orders, "drystack_parts")) {
      return(dimension)
    }
    coded <- members(orders, dimension$axis)
    dimension$codes <- coded$codes
    dimension$place <- match(coded$members, dimension$members)[coded$place]
    if (is.null(coded$codes)) dimension$values <- coded$values[order(coded$place)]
    dimension
  }
  part$dimensions <- lapply(part$dimensions, own)
  part$job$scope <- lapply(part$job$scope, function(condition) {
    if (!is.null(condition$limit)) condition$limit$dimensions <- lapply(condition$limit$dimensions, own)
    condition
  })
  part
}

# A job is answered where all it looks at is kept.
#' @export
fold.drystack_states <- function(engine, job, dimensions, book) {
  ids <- c(job$date$id, job$entity$id, condition_ids(job$scope), dimension_ids(dimensions))
  amounts <- lapply(job$amounts, kept_amount, engine = engine)
  fits <- job$date$name == engine$date$name && !job$rows && can_answer(engine, ids) &&
    !any(vapply(amounts, is.null, NA))
  if (!fits) {
    part <- of_orders(engine, list(dimensions = dimensions, job = job))
    return(fold(orders_engine(engine), part$job, part$dimensions, book))
  }
  frame <- states_frame(engine)
  rows <- state_rows(engine, frame, job, dimensions)
  groups <- groups_of(rows)
  at <- cell_numbers(rows, groups)
  given <- function(state, numbers) {
    kernel_given_states(state, groups$count, job$spans$count, at, lapply(numbers,
      function(x) as.numeric(x[rows$kept])))
  }
  list(
    places = stats::setNames(groups$places[seq_along(dimensions)], names(dimensions)),
    entity = if (!is.null(job$entity)) groups$places[[length(groups$places)]], entity_id = job$entity$id,
    count = groups$count, lines = given("count", list(engine$kept_rows$n)),
    states = lapply(amounts, kept_states_of, engine = engine, given = given), cells = NULL,
    values = function(key) numeric(), codes = NULL, sorted = NULL
  )
}

# The kept rows that a job reads: list(kept: which, spans, places).
state_rows <- function(engine, frame, job, dimensions) {
  day <- as.integer(engine$kept_rows$day)
  at <- day - job$spans$cuts[1L] + 1L
  at[is.na(at) | at < 1L | at > length(job$spans$of_day)] <- NA
  span <- job$spans$of_day[at]
  kept <- which(!is.na(span) & span >= 0L & (scope_mask(frame, settled_scope(engine, job$scope)) %||% TRUE))
  coded <- c(unname(dimensions), if (!is.null(job$entity)) list(column_codes(frame, job$entity$id,
    job$entity$name)))
  places <- lapply(coded, function(d) {
    place <- d$place[as.integer(d$codes)[kept]]
    place[is.na(place)] <- length(d$members) + 1L
    place
  })
  list(kept = kept, spans = span[kept] + 1L, places = places)
}

# An amount as it is kept, NULL where it is not, or not in the states that are wanted.
kept_amount <- function(amount, engine) {
  for (own in names(engine$amount_texts)) {
    known <- engine$amount_texts[[own]]
    if (identical(known$text, amount$text) && same_columns(engine, amount$tree) &&
      all(amount$needs %in% known$needs) && !amount$position) {
      return(list(columns = own, needs = amount$needs))
    }
  }
}

# Columns that were worked out since stand under other meanings, whatever their names.
same_columns <- function(engine, tree) {
  all(vapply(ids_of(tree), function(id) engine$meanings[[id]]$kind == "elsewhere", NA))
}

kept_states_of <- function(amount, engine, given) {
  rows <- engine$kept_rows
  column <- function(what) rows[[paste0(amount$columns, "_", what)]]
  known <- column("known")
  states <- list(missing = given("count", list(rows$n - known)))
  if ("sum" %in% amount$needs) states$sum <- given("sum", as_units(column("sum")))
  if ("moments" %in% amount$needs) {
    mean <- ifelse(known > 0, column("sum") / known, 0)
    centre <- sum(column("sum"), na.rm = TRUE) / max(sum(known), 1)
    less <- mean - centre
    states$moments <- given("moments", list(known, known * less, column("squares") + known * less^2))
  }
  if ("extremes" %in% amount$needs) states$extremes <- given("extremes", list(column("least"),
    column("greatest")))
  states
}

# Sums that stand for decimals as whole ten-thousandths, others as they are.
as_units <- function(sums) {
  units <- round(sums * 10000)
  on <- !is.na(sums) & abs(units) < 2^51 & abs(sums * 10000 - units) <= 2^-52 * abs(units)
  list(ifelse(on, units, NA), ifelse(on, NA, sums))
}

# What is kept of some order lines: a row for each day (missing for none) and combination of columns (by1,
# by2 and so on, whatever they are called), with n, the lines, and of each amount what its states need (by its name: known, sum, squares about the mean,
# least, greatest).
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
      squares = ifelse(is.na(variance), 0, variance) * pmax(known - 1, 0), least = finished("extremes",
        "least"),
      greatest = finished("extremes", "greatest"))
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
    raise("states", c("States of a database need a key of numbers, so that new lines are told from those before.",
      ">" = "Name one: {.code orders_in(con, table, key = )}."))
  }
  kept <- c(list(day = as.integer(found$ds_t)), stats::setNames(Map(values_out, found[keys], x,
    MoreArgs = list(db = engine$db)), paste0("by", seq_along(by), recycle0 = TRUE)), list(n = as.numeric(found$ds_n)))
  columns <- Map(function(amount, name) {
    number <- function(what) as.numeric(found[[amount$columns[[what]]]])
    known <- number("known")
    sums <- ten_thousandths_of(found[[amount$columns[["sum"]]]], amount)
    sum <- ifelse(is.na(sums[[1L]]), ifelse(is.na(sums[[2L]]), 0, sums[[2L]]), sums[[1L]] / 10000)
    squares <- number("second") - ifelse(known > 0, number("first")^2 / known, 0)
    stats::setNames(list(known, sum, pmax(ifelse(is.na(squares), 0, squares), 0), number("least"),
      number("greatest")),
      paste0(name, "_", c("known", "sum", "squares", "least", "greatest")))
  }, folded, names(amounts))
  rows <- structure(c(kept, unlist(unname(columns), recursive = FALSE)), class = "data.frame",
    row.names = seq_along(found$ds_n))
  list(rows = rows, last = if (length(found$ds_n) > 0L) max(as.numeric(found$ds_last)) else past)
}
