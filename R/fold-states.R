# The engine for kept states: orders folded by day and some columns, once, from files that
# source-states.R keeps. What these can answer is answered by them; all else is asked of the orders,
# which are opened then.
#
# kept_rows: the kept combinations as partial_rows() gives them; frame: these as an engine in memory
# kept_by, kept_names: the columns they are kept by, and with the date where it has no times
# amount_texts: the amounts, by the beginning of the names of their numbers
# some: a few values of each column, where there are no orders to be opened
# open: a function that opens the orders; taken, orders: these and their engine, once opened

#' @export
as_engine.drystack_taken_states <- function(taken, date) {
  kept <- taken$kept
  if (date$name != kept$date) {
    raise("date", c(paste0("The states in ", quoted(kept$path), " are kept by the days of ",
      quoted(kept$date), "."),
      "x" = paste0("They are asked by ", quoted(date$name), "."),
      ">" = "Keep others, or name that column."))
  }
  check_same_dates(date, kept)
  engine <- new_engine("drystack_states", sum(kept$rows$n))
  engine$date <- list(name = kept$date, order = unlist(kept$reading$date_order),
    undated = as.character(unlist(kept$undated)))
  engine$kept_rows <- kept$rows
  engine$kept_by <- kept$by
  engine$kept_names <- c(kept$by, if (!isTRUE(kept$timed)) kept$date)
  engine$amount_texts <- kept$amounts
  engine$open <- kept$open
  engine$told <- kept$told
  engine$some <- kept$some
  engine$kept <- new.env(parent = emptyenv())
  engine
}

# Days were read when the states were kept.
check_same_dates <- function(date, kept) {
  other <- !is.null(date$order) && !identical(date$order, unlist(kept$reading$date_order))
  if (other || (length(date$undated) > 0L && !setequal(date$undated, unlist(kept$undated)))) {
    raise("date", c("The days of these states were read in another way when they were kept.",
      ">" = paste0("Leave {.arg date_order} and {.arg undated} out, or keep states of a daybook ",
        "that is made so.")))
  }
}

# The kept combinations as an engine in memory, in which all means what it does among the orders.
states_frame <- function(engine) {
  if (is.null(engine$frame)) engine$frame <- frame_engine(nrow(engine$kept_rows),
    engine$kept_rows$day)
  with_meanings(engine$frame, engine, function(meaning) {
    if (meaning$name == engine$date$name) list(kind = "day")
    else if (meaning$name %in% engine$kept_by) {
      list(kind = "source", values = engine$kept_rows[[paste0("by",
        match(meaning$name, engine$kept_by))]])
    }
  })
}

# A few values of each column, where no orders stand behind the states.
some_frame <- function(engine) {
  if (is.null(engine$sample)) engine$sample <- frame_engine(nrow(engine$some), rep(NA_integer_,
    nrow(engine$some)))
  with_meanings(engine$sample, engine, function(meaning) {
    list(kind = "source", values = engine$some[[meaning$name]])
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
  each <- c(names(engine$each), each_tables(engine))
  for (id in setdiff(each, ls(inner$meanings))) mean_alike(id, inner, engine)
  inner$each <- engine$each
  inner$each_some <- engine$each_some
  for (id in setdiff(ls(engine$meanings), ls(inner$meanings))) {
    meaning <- engine$meanings[[id]]
    if (meaning$kind == "elsewhere") meaning <- source_meaning(inner, engine$taken, meaning$name)
    assign(id, meaning, envir = inner$meanings)
  }
  inner$last_id <- engine$last_id
  inner$functions <- engine$functions
  inner
}

# Each state stands for some order lines.
#' @export
labels_counted.drystack_states <- function(engine, tree) {
  answered_by(engine, ids_of(tree), function(frame) {
    lines_by_label(frame, tree, engine, engine$kept_rows$n)
  }, function(orders) labels_counted(orders, tree))
}

#' @export
labels_counted.drystack_frame <- function(engine, tree) {
  lines_by_label(engine, tree, engine, rep(1, engine$rows))
}

lines_by_label <- function(frame, tree, engine, lines) {
  texts <- as.character(plain_values(line_values(frame, settled_tree(tree, engine))))
  labels <- unique(texts[!is.na(texts)])
  list(labels = labels, lines = sums_at(lines, match(texts, labels), length(labels)))
}

# The sums of some numbers at their places; what has none is left out.
sums_at <- function(x, place, n) {
  known <- !is.na(place)
  sums <- rowsum(x[known], place[known])
  replace(numeric(n), as.integer(rownames(sums)), sums[, 1L])
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
    list(lines = sum(n), undated = sum(n[is.na(day)]), first = end_known(day, min),
      last = end_known(day, max))
  }, function(orders) orders_facts(orders, scope))
}

#' @export
days_counted.drystack_states <- function(engine) {
  days <- sort(unique(as.integer(engine$kept_rows$day)), na.last = FALSE)
  list(days = days, lines = sums_at(engine$kept_rows$n,
    match(engine$kept_rows$day, days), length(days)))
}

#' @export
column_kind.drystack_states <- function(engine, tree) {
  check_no_functions(tree)
  if (!is.null(engine$some)) {
    return(column_kind(some_frame(engine), tree))
  }
  answered_by(engine, ids_of(tree), function(frame) column_kind(frame, tree),
    function(orders) column_kind(orders, tree))
}

#' @export
members.drystack_states <- function(engine, axis) {
  ids <- if (axis$kind == "cyclic" && axis$part != "hour_of_day") character() else axis$column
  coded <- answered_by(engine, ids, function(frame) members(frame, axis),
    function(orders) members(orders, axis))
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
    reasons <- c(list(is.na(day), (day > book$as_of) %in% TRUE),
      lapply(settled_scope(engine, book$scope), function(condition) {
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
  order_lines(orders_engine(engine), of_orders(engine, part))
}

#' @export
count_lines.drystack_states <- function(engine, part) {
  count_lines(orders_engine(engine), of_orders(engine, part))
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
  line_values(orders_engine(engine), tree, rows)
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
    if (!is.null(condition$limit)) condition$limit$dimensions <- lapply(
      condition$limit$dimensions, own)
    condition
  })
  part
}

#' @export
begin_anew.drystack_states <- function(engine) {
  engine$frame <- engine$sample <- engine$orders <- NULL
}
