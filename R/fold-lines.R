# What engines that have the order lines at hand know of a cell from its lines: apart from the
# kernel, so that figures can be held against it.

#' @export
days_counted.drystack_engine <- function(engine) {
  days <- line_days(engine)
  coded <- kernel_encode(days, thread_count())
  list(days = days[coded$first], lines = tabulate(coded$codes, length(coded$first)))
}

#' @export
is_as_learned.drystack_engine <- function(engine) TRUE

#' @export
learn_anew.drystack_engine <- function(engine) invisible(engine)

#' @export
lines_meeting.drystack_engine <- function(engine, condition, book) {
  orders_facts(engine, list(condition))$lines
}

#' @export
lines_undecided.drystack_engine <- function(engine, conditions, book) {
  vapply(conditions, function(condition) {
    kept(engine, "undecided", condition$key, function(
      ) { orders_facts(engine, list(undecided(condition)))$lines + 0 })
  }, 0)
}

# The condition that another is unknown.
undecided <- function(condition) new_condition(call_node("is.na", list(condition$tree)))

#' @export
all_lines.drystack_engine <- function(engine) seq_len(engine$rows)

#' @export
count_lines.drystack_engine <- function(engine, part) length(order_lines(engine, part))

#' @export
distinct_values.drystack_engine <- function(engine, part, tree) {
  unique(line_values(engine, tree, order_lines(engine, part)))
}

#' @export
lines_as_given.drystack_engine <- function(engine, ids, scope) {
  met <- lapply(scope, function(one) line_values(engine, one$tree) %in% TRUE)
  rows <- if (length(met) > 0L) which(Reduce(`&`, met))
  lapply(unname(ids), function(id) line_values(engine, column_node("", id), rows))
}

#' @export
engine_of_lines.drystack_engine <- function(engine, lines) engine

# By R's own sum().
#' @export
sum_of_lines.drystack_engine <- function(engine, part, tree) {
  values <- plain_values_of(tree, engine, order_lines(engine, part))
  known <- is_known(values)
  summed <- if (is.numeric(values) || is.logical(values)) values[known] else 0
  list(value = sum(summed), added = sum(abs(summed)), known = sum(known))
}

# The values of an expression of columns, apart from the row language where it is plain arithmetic.
plain_values_of <- function(tree, engine, rows) {
  values <- if (tree$kind == "call" && tree$fn %in% c("+", "-", "*", "/", "^", "abs")) {
    do.call(tree$fn, lapply(tree$args, plain_values_of, engine = engine, rows = rows))
  } else {
    without_int64(line_values(engine, tree, rows))
  }
  if (is.numeric(values) && !is.factor(values)) as.numeric(values) else values
}
