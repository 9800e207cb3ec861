# Engines: the only places that read orders. A daybook says what is meant (conditions,
# columns, lookups, as trees) and names its engine; all that is worked out from orders is
# asked of it, in few questions:
#
# orders_facts(engine, scope): first and last day, lines and undated lines, among the orders
#   that meet some conditions
# lines_meeting(engine, condition, book): how many meet one, of a daybook that may be
# asked for others
# lines_undecided(engine, conditions, book): how many meet neither each condition nor its contrary
# column_kind(engine, tree): a few values of an expression, for what must be known of
#   it before it is worked out
# members(engine, axis): the members of a dimension in their order
# member_pairs(engine, a, b): the places of the members of two dimensions that occur together
# fold(engine, job, dimensions, book): the states of a job by group and span (see fold-frame-job.R)
# order_lines(engine, part): the order lines of a cell, as their places among the orders
# line_values(engine, tree, rows): what an expression is on order lines
# line_days(engine): the day of each order line, since 1970; days_counted(engine):
# the different days
#   with how many order lines each has
# all_lines(engine): the places of all order lines
# count_lines, distinct_values, sum_of_lines: of the order lines of a cell, how many there are, the
#   values of an expression, and its plain sum (list(value, added: the sizes of what was added,
#   known: how many values are))
# lines_as_given(engine, ids, scope): columns of all order lines that meet some conditions,
# in any order
# engine_of_lines(engine, lines): an engine that has these at hand, all columns and all that are
# asked for
# rows_of_orders(engine, rows): where such places are in the orders as they were given
# orders_part(engine, rows): an engine of these orders only; number_lines() numbers its lines for a
#   listing, and period_column() gives it a column of periods
# lookup_match(engine, id): the row of a lookup for each order line, and the keys it lacks
# left_out(engine, book): how many lines no figure of the daybook reads, by reason
#
# The engines are of orders in memory (fold-frame.R), in parts (fold-parts.R) and in a database
# (fold-database.R). An engine is held by its daybooks from outside R's memory image, so that a
# table saved to a file does not take the orders with it.

# told_of_columns(engine): what was told of columns since the orders were opened
# is_as_learned(engine): whether its orders are still those that it has learned; learn_anew(engine)
# learns them
#   again where they are not

is_as_learned <- function(engine) UseMethod("is_as_learned")
learn_anew <- function(engine) UseMethod("learn_anew")
orders_facts <- function(engine, scope) UseMethod("orders_facts")
lines_meeting <- function(engine, condition, book) UseMethod("lines_meeting")
lines_undecided <- function(engine, conditions, book) UseMethod("lines_undecided")
column_kind <- function(engine, tree) UseMethod("column_kind")
members <- function(engine, axis) UseMethod("members")
member_pairs <- function(engine, a, b) UseMethod("member_pairs")
fold <- function(engine, job, dimensions, book) UseMethod("fold")
order_lines <- function(engine, part) UseMethod("order_lines")
line_values <- function(engine, tree, rows = NULL) UseMethod("line_values")
line_days <- function(engine) UseMethod("line_days")
days_counted <- function(engine) UseMethod("days_counted")
all_lines <- function(engine) UseMethod("all_lines")
count_lines <- function(engine, part) UseMethod("count_lines")
distinct_values <- function(engine, part, tree) UseMethod("distinct_values")
sum_of_lines <- function(engine, part, tree) UseMethod("sum_of_lines")
left_out <- function(engine, book) UseMethod("left_out")
lines_as_given <- function(engine, ids, scope) UseMethod("lines_as_given")
engine_of_lines <- function(engine, lines) UseMethod("engine_of_lines")
rows_of_orders <- function(engine, rows) UseMethod("rows_of_orders")
orders_part <- function(engine, rows) UseMethod("orders_part")
number_lines <- function(engine, per) UseMethod("number_lines")
period_column <- function(engine, axis) UseMethod("period_column")
lookup_match <- function(engine, id) UseMethod("lookup_match")
told_of_columns <- function(engine) UseMethod("told_of_columns")

#' @export
told_of_columns.default <- function(engine) NULL

# An engine of orders as they were taken in (see taken_orders()), whose days are read as is said:
# list(name: of the column, order, undated). It tells how they were read (told).
as_engine <- function(taken, date) UseMethod("as_engine")

# What orders may be said to be instead of a data frame: the path of a file, say. wanted: texts that
# speak of columns that will be needed.
as_orders <- function(orders, wanted) UseMethod("as_orders")

#' @export
as_orders.default <- function(orders, wanted) orders

new_engine <- function(kind, rows) {
  engine <- new.env(parent = emptyenv())
  engine$rows <- rows
  engine$meanings <- new.env(parent = emptyenv())
  engine$last_id <- 0L
  engine$functions <- list()
  engine$told <- NULL
  structure(engine, class = c(kind, "drystack_engine"))
}

# What a column means: an id by which it is told from any other, and from what it is worked out.
new_meaning <- function(engine, meaning) {
  root <- engine$root %||% engine
  engine$last_id <- root$last_id <- root$last_id + 1L
  id <- paste0("c", root$last_id)
  assign(id, meaning, envir = root$meanings)
  if (!is.null(engine$root) && meaning$kind != "of_each")
    assign(id, meaning, envir = engine$meanings)
  id
}

# The ids of the columns of the orders. The date column is the days it was read as, not the texts or
# numbers it came as, wherever it stands.
source_ids <- function(engine, taken, names) {
  vapply(stats::setNames(nm = names), function(name) {
    new_meaning(engine, source_meaning(engine, taken, name))
  }, "")
}

source_meaning <- function(engine, taken, name) {
  if (identical(name, engine$date$name) && isTRUE(engine$date$settled)) list(kind = "day")
  else taken$meaning(name)
}

# An expression in which columns that were worked out stand as what they are worked out of.
expanded_tree <- function(tree, engine) {
  if (tree$kind == "column") {
    meaning <- engine$meanings[[tree$id]]
    return(if (meaning$kind == "worked_out") expanded_tree(meaning$tree, engine) else tree)
  }
  tree$args <- lapply(tree$args, expanded_tree, engine = engine)
  tree
}

# R functions are told apart by themselves.
function_id <- function(engine, fn) {
  known <- which(vapply(engine$functions, identical, NA, fn))
  if (length(known) > 0L) {
    return(known[1L])
  }
  engine$functions <- c(engine$functions, list(fn))
  length(engine$functions)
}

hold_engine <- function(engine) kernel_hold(engine)

engine_of <- function(book) {
  engine <- kernel_held(book$engine)
  if (is.null(engine)) {
    raise("engine", c(
      "The orders of this table are not in this session.",
      "i" = "A table that was saved keeps its figures, not the orders behind them.",
      ">" = "Make the daybook from its orders again, and the table from it."
    ))
  }
  settled_engine(engine, book)
}
