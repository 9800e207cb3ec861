# The engine for orders in a database: a plan becomes SQL that groups there and gives back states
# (fold-database-job.R). Order lines are fetched only where they are
# asked for (fold-database-lines.R).
#
# db: the database (fold-dialect.R); date: list(name, order, undated)
# store: the order lines that were fetched, by their places

#' @export
as_engine.drystack_taken_database <- function(taken, date) {
  engine <- new_engine("drystack_database_engine", 0)
  engine$date <- date
  engine$taken_db <- taken$db
  engine$generation <- 0
  learn_orders(engine)
  engine
}

# What an engine knows of its orders beside what was said: their number, kinds of columns, members.
# It is learned when it is opened, and anew by an ask that finds other orders there.
learn_orders <- function(engine) {
  # What is settled of columns depends on which of them is the date.
  engine$db <- structure(rlang::env_clone(engine$taken_db), class = class(engine$taken_db))
  engine$kept <- new.env(parent = emptyenv())
  engine$store <- new_store()
  # Where something goes wrong on the way nothing is learned yet.
  engine$learned <- NULL
  token <- orders_token(engine$db)
  engine$rows <- plain_numbers(database_rows(engine$db,
    paste0("SELECT count(*) AS n FROM ", engine$db$relation,
    " o"))$n)
  if (engine$rows == 0) {
    raise("orders", c(paste0("There are no orders: ", braces_kept(engine$db$words),
      " has no rows."),
      ">" = "Check the table, or the query before it."))
  }
  settle_date(engine)
  engine$facts <- orders_facts(engine, list())
  engine$learned <- token
}

#' @export
is_as_learned.drystack_database_engine <- function(engine) {
  identical(orders_token(engine$db), engine$learned)
}

#' @export
learn_anew.drystack_database_engine <- function(engine) {
  if (is_as_learned(engine)) {
    return(invisible(engine))
  }
  before <- engine$rows
  learn_orders(engine)
  engine$generation <- engine$generation + 1
  engine$changed <- paste0("the orders have changed since they were opened: ",
    format_count(engine$rows), " lines, ", format_count(before), " before; what is told is of now")
  invisible(engine)
}

# The date column must tell days: what it holds says how.
settle_date <- function(engine) {
  name <- engine$date$name
  engine$db$undated <- list(name = name, words = engine$date$undated)
  kind <- kind_of_days(engine, name, kind_of_column(engine, name))
  assign(paste("kind", name), kind, envir = engine$kept)
  if (kind == "zoned") {
    engine$told <- paste0(quoted(name), " read as the days of ", engine$db$zone)
  }
}

# The kind of a column that must tell days.
kind_of_days <- function(engine, name, kind) {
  is_empty <- kind %in% c("text", "whole", "number") && length(some_values(engine, name)) == 0L
  # That there is no date at all is told by daybook().
  if (is_empty && kind != "whole") {
    return("iso")
  }
  if (kind %in% c("whole", "number") && !is_empty) kind <- kind_of_day_numbers(engine, name)
  if (!is_day_kind(kind) && !kind %in% c("time", "zoned")) raise_no_days(engine, name)
  kind
}

# The column of the day that lines were entered, as SQL: each line must have one.
entered_column <- function(engine, name) {
  kind <- kind_of_days(engine, name, kind_of_date_texts(column_kind_in(engine$db, name)))
  x <- new_sql(sql_column(engine$db, name, kind), kind)
  none <- plain_numbers(database_rows(engine$db,
    paste0("SELECT count(*) AS n FROM ", engine$db$relation, " o WHERE ", x$sql, " IS NULL"))$n)
  if (none > 0) {
    raise("states", c(paste0("Column ", quoted(name),
      " must say of each order line when it was entered."),
      "x" = paste0(counted_lines(none), if (none == 1) " has" else " have", " nothing there."),
      ">" = "Name another column, or a key: {.code orders_in(con, table, key = )}."))
  }
  x
}

last_day_of <- function(engine, x) {
  last <- sql_day(engine$db, new_sql(paste0("max(", x$sql, ")"), x$kind))
  as.integer(database_rows(engine$db, paste0("SELECT ", last, " AS d FROM ",
    engine$db$relation, " o"))$d)
}

# Days counted from 1970 or as spreadsheets do, told by where they lie.
kind_of_day_numbers <- function(engine, name) {
  x <- sql_of_source(engine, name)
  ends <- database_rows(engine$db, paste0("SELECT min(", sql_double(engine$db, x), ") AS a, max(",
    sql_double(engine$db, x), ") AS b FROM ", engine$db$relation, " o"))
  ends <- plain_numbers(unlist(ends))
  within <- function(from, to) !anyNA(ends) && ends[1L] >= from && ends[2L] < to
  kind <- if (within(3652, 29220)) "days" else if (within(32874, 84372)) "serial"
  if (is.null(kind)) raise_no_days(engine, name)
  engine$told <- paste0(quoted(name), " read as the ",
    if (kind == "days") "days since 1 January 1970"
    else "day numbers of spreadsheets")
  kind
}

raise_no_days <- function(engine, name) {
  some <- some_values(engine, name)
  odd <- if (is.character(some)) some[is.na(iso_days(some))] else some
  raise("date", c(
    paste0("Column ", quoted(name), " of ", braces_kept(engine$db$words), " holds no days."),
    "x" = "It has {examples_of(utils::head(unique(c(odd, some)), 5))}.",
    ">" = "Dates, date-times, texts such as 2026-08-31 and day numbers are read.",
    ">" = "Turn others into them in a query of your own."
  ))
}

some_values <- function(engine, name) {
  x <- sql_of_source(engine, name)
  database_rows(engine$db, paste0("SELECT DISTINCT ", x$sql, " AS v FROM ",
    engine$db$relation, " o WHERE ", x$sql, " IS NOT NULL LIMIT 200"))$v
}

date_expression <- function(engine) sql_of_source(engine, engine$date$name)

#' @export
column_kind.drystack_database_engine <- function(engine, tree) {
  check_no_functions(tree)
  values <- column_kind(first_lines(engine, tree), settled_tree(tree, engine))
  # What cannot be said is told when it is said.
  sql_of(new_query(engine), tree)
  values
}

#' @export
labels_counted.drystack_database_engine <- function(engine, tree) {
  query <- new_query(engine)
  x <- sql_of(query, tree)
  key <- sql_key(engine$db)
  single <- length(key) == 1L
  found <- database_rows(engine$db, sql_query(
    engine$db, c(ds_v = sql_out(engine$db, x), if (single) c(ds_k = key)), sql_from(query),
    c(ds_v = "ds_v", ds_n = "count(*)", if (single) c(ds_first = "min(ds_k)")), "ds_v"
  ))
  found <- known_rows(without_marks(found))
  found <- lapply(found, `[`, order(found$first %||% found$v, method = "radix"))
  list(labels = as.character(plain_values(values_out(found$v, x, engine$db))),
    lines = plain_numbers(found$n))
}

# The first order lines with the columns that an expression is worked out of, as an engine
# in memory.
first_lines <- function(engine, tree) {
  names <- source_names(engine, ids_of(tree))
  if (length(names) == 0L) names <- engine$date$name
  columns <- lapply(stats::setNames(nm = names), function(name) {
    kept(engine, "first", name, function() {
      x <- sql_of_source(engine, name)
      values_out(database_rows(engine$db, paste0("SELECT ", sql_out(engine$db, x), " AS v FROM ",
        engine$db$relation, " o LIMIT ", sample_rows))$v, x, engine$db)
    })
  })
  frame_of_values(engine, columns)
}

#' @export
orders_facts.drystack_database_engine <- function(engine, scope) {
  kept(engine, "facts", scope_key(scope), function() {
    query <- new_query(engine)
    day <- date_expression(engine)
    met <- sql_conditions_met(query, scope)
    end <- function(which) sql_day(engine$db, new_sql(paste0(which, "(", day$sql, ")"), day$kind))
    found <- database_rows(engine$db, paste0("SELECT count(*) AS n, count(", day$sql,
      ") AS dated, ", end("min"), " AS a, ", end("max"), " AS b ", sql_from(query), sql_where(met)))
    list(lines = plain_numbers(found$n), undated = plain_numbers(found$n) -
      plain_numbers(found$dated),
      first = as.integer(found$a), last = as.integer(found$b))
  })
}

known_rows <- function(found) lapply(found, `[`, !is.na(found$v))

sql_where <- function(conditions) {
  if (length(conditions) == 0L) "" else paste0(" WHERE ", paste(conditions, collapse = " AND "))
}

# Conditions as SQL; limits to members are no conditions of the orders.
sql_conditions_met <- function(query, scope) {
  own <- Filter(function(condition) is.null(condition$limit), scope)
  vapply(own, function(condition) sql_of(query, condition$tree)$sql, "")
}

#' @export
days_counted.drystack_database_engine <- function(engine) {
  kept(engine, "days", "counted", function() {
    day <- sql_day(engine$db, date_expression(engine))
    found <- database_rows(engine$db, sql_query(engine$db, c(ds_d = day),
      paste0("FROM ", engine$db$relation, " o"), c(ds_d = "ds_d", ds_n = "count(*)"), "ds_d"))
    list(days = as.integer(found$ds_d), lines = plain_numbers(found$ds_n))
  })
}

# The members of a dimension: their codes stay in the database.
#' @export
members.drystack_database_engine <- function(engine, axis) {
  key <- if (axis$kind == "cyclic") paste(axis$part, axis$calendar$id) else axis$column
  kept(engine, "members", key, function() {
    values <- if (axis$kind == "cyclic" && axis$part != "hour_of_day") {
      part_factor(engine$facts$first:engine$facts$last, axis$part, axis$calendar)
    } else {
      dimension_values(engine, axis)
    }
    coded <- dimension_codes(values, axis$name)
    distinct <- if (coded$factor) coded$members else vctrs::vec_slice(coded$values,
      order(coded$place))
    list(codes = NULL, place = seq_along(coded$members), members = coded$members, values = distinct,
      factor = coded$factor, axis = axis)
  })
}

dimension_values <- function(engine, axis) {
  query <- new_query(engine)
  x <- sql_of_axis(query, axis)
  found <- database_rows(engine$db, paste0("SELECT DISTINCT ", sql_out(engine$db, x), " AS v ",
    sql_from(query)))
  values <- values_out(found$v, x, engine$db)
  values[!is.na(values)]
}

# A dimension as SQL; a part of the date is read off its day (see by_day()).
sql_of_axis <- function(query, axis) {
  if (axis$kind == "cyclic") {
    column <- sql_of_column(query, axis$column)
    # The hours of a time of day in a column of its own are numbers already.
    if (column$kind == "number") {
      return(new_sql(column$sql, "hour"))
    }
    if (!column$kind %in% c("time", "zoned")) hour_factor(values_out(character(), column, query$db))
    return(new_sql(sql_hour(query$db, column), "hour"))
  }
  sql_of_column(query, axis$column)
}

#' @export
member_pairs.drystack_database_engine <- function(engine, a, b) {
  query <- new_query(engine)
  x <- lapply(list(a, b), sql_of_axis, query = query)
  found <- database_rows(engine$db, paste0("SELECT DISTINCT ",
    sql_out(engine$db, x[[1L]]), " AS a, ", sql_out(engine$db, x[[2L]]), " AS b ", sql_from(query)))
  places <- Map(function(values, x, axis) {
    place_of(values_out(values, x, engine$db), members(engine, axis))
  }, found, x, list(a, b))
  known <- !is.na(places[[1L]]) & !is.na(places[[2L]])
  lapply(places, `[`, known)
}

# Where values stand among the members of a dimension, NA for the missing one.
place_of <- function(values, coded) {
  if (is.factor(values)) values <- as.character(values)
  coded$place[match(values, coded$values)]
}

# One beyond the last for the missing one.
place_or_none <- function(values, coded) {
  place <- place_of(values, coded)
  place[is.na(place)] <- length(coded$members) + 1L
  place
}

#' @export
left_out.drystack_database_engine <- function(engine, book) {
  if (length(book$scope) == 0L && book$as_of >= engine$facts$last) {
    return(c(engine$facts$undated, 0))
  }
  scope_counts(engine, book)$left_out
}

# What is told of the conditions of a daybook, in one pass: list(left_out: how many order lines no
# figure reads, by the first reason that fits; met: how many meet each condition, dated or not).
scope_counts <- function(engine, book) {
  kept(engine, "scope", paste(book$as_of, scope_key(book$scope)), function() {
    query <- new_query(engine)
    day <- date_expression(engine)
    met <- sql_conditions_met(query, book$scope)
    reasons <- c(
      paste0(day$sql, " IS NULL"), paste0(day$sql, " >= ",
        sql_at_day(engine$db, book$as_of + 1L, day$kind)),
      if (length(met) > 0L) paste0("NOT coalesce(", met, ", ", sql_values(engine$db, FALSE), ")")
    )
    cases <- paste0("WHEN ", reasons, " THEN ", seq_along(reasons), collapse = " ")
    each <- function(before, after) paste0(before, seq_along(met), after, recycle0 = TRUE)
    is_met <- stats::setNames(paste0("CASE WHEN ", met, " THEN 1 ELSE 0 END", recycle0 = TRUE),
      each("ds_m", ""))
    found <- database_rows(engine$db, sql_query(
      engine$db, c(ds_r = paste("CASE", cases, "ELSE 0 END"), is_met), sql_from(query),
      c(ds_r = "ds_r", ds_n = "count(*)", stats::setNames(each("sum(ds_m", ")"),
        each("ds_met", ""))), "ds_r"
    ))
    reason <- as.integer(found$ds_r)
    left <- rep(0, length(reasons))
    left[reason[reason > 0L]] <- plain_numbers(found$ds_n)[reason > 0L]
    list(left_out = left, met = vapply(found[-(1:2)], function(n) sum(plain_numbers(n)), 0))
  })
}

#' @export
lines_meeting.drystack_database_engine <- function(engine, condition, book) {
  own <- match(condition$key, vapply(book$scope, `[[`, "", "key"))
  if (is.na(own)) orders_facts(engine, list(condition))$lines else unname(
    scope_counts(engine, book)$met[own])
}

#' @export
lines_undecided.drystack_database_engine <- function(engine, conditions, book) {
  key <- paste(vapply(conditions, `[[`, "", "key"), collapse = " ")
  kept(engine, "undecided", key, function() {
    query <- new_query(engine)
    met <- sql_conditions_met(query, conditions)
    sums <- paste0("sum(CASE WHEN ", met, " IS NULL THEN 1 ELSE 0 END) AS n", seq_along(met))
    found <- database_rows(engine$db, paste0("SELECT ", paste(sums, collapse = ", "), " ",
      sql_from(query)))
    vapply(found, function(n) plain_numbers(n), 0)
  })
}

# The keys that a lookup lacks; which row each order line has is known in the database alone.
#' @export
lookup_match.drystack_database_engine <- function(engine, id) {
  kept(engine, "lookup", id, function() {
    lookup <- engine$meanings[[id]]
    query <- new_query(engine)
    x <- sql_of_column(query, lookup$by)
    found <- database_rows(engine$db, sql_query(engine$db, c(ds_v = sql_out(engine$db, x)),
      sql_from(query), c(ds_v = "ds_v", ds_n = "count(*)"), "ds_v"))
    found <- known_rows(without_marks(found))
    keys <- values_out(found$v, x, engine$db)
    order <- order(keys)
    texts <- member_text(plain_values(keys))[order]
    lacking <- is.na(match(texts, member_text(plain_values(lookup$keys))))
    list(row = NULL, unmatched = texts[lacking],
      lines = sum(plain_numbers(found$n)[order][lacking]))
  })
}

#' @export
begin_anew.drystack_database_engine <- function(engine) engine$store <- new_store()
