# alike(m, column, unit): like for like, only of members that were there both in the cell and so
# long before: those with orders on both sides, or those that are open all the while, by columns
# with the days of it.

parse_alike <- function(fn, said, vocabulary, depth) {
  parts <- lens_arguments(fn, said, c("column", "unit", "n", "from", "until"), vocabulary, depth)
  if (is.null(parts$args$column) || is.null(parts$args$unit)) raise("expression", c(
    "{.fn alike} takes a measure, a column and a unit.",
      ">" = "For example {.code alike(sales, depot, year)}."))
  if (is.null(parts$args$from) && !is.null(parts$args$until)) raise("expression",
    "{.arg until} of {.fn alike} stands beside {.arg from}.")
  now <- without_prior(parts$child)
  check_adds_up(now, fn)
  grain <- each_grain(parts$args$column, vocabulary)
  if (is.null(grain$column)) raise("expression",
    "The members of {.fn alike} are those of a column.")
  before <- function(tree) {
    node("lens", fn = "prior", child = tree, options = lenses()$prior$options(
      parts$args[intersect(c("unit", "n"), names(parts$args))], vocabulary),
      said = code_text(parts$args$unit))
  }
  here <- there_by_orders(before)
  if (!is.null(parts$args$from)) here <- there_by_days(parts$args, before, vocabulary)
  both <- call_node("*", unname(here))
  # What is not there in both is unknown, and so no part of the sum.
  child <- call_node("*", list(parts$child, call_node("/", list(both, both))))
  outside <- list(now = call_node("*", list(here$now, call_node("!", list(both)))),
    before = call_node("*", list(here$before, call_node("!", list(both)))),
    amount_now = now, amount_before = before(now))
  tree <- node("each", fn = "sum", grain = grain, days = "sold", child = child, said = "",
    outside = outside, unit = before(now),
    days_of = c(parts$args$from, parts$args$until))
  tree$text <- arguments_text(fn, c(tree_text(parts$child), parts$said))
  tree
}

there_by_orders <- function(before) {
  lines <- node("aggregate", fn = "count", args = list())
  there <- function(count) call_node(">", list(or_nothing(count), value_node(0)))
  list(now = there(lines), before = there(before(lines)))
}

or_nothing <- function(tree) call_node("or_zero", list(tree))

# From the first day before to the last day now; a side is as far as the column goes,
# whatever was ordered.
there_by_days <- function(args, before, vocabulary) {
  day <- function(said, name, fn) {
    least <- node("aggregate", fn = fn, quiet = TRUE,
      args = list(open_date(said, name, vocabulary)))
    call_node("if_known", list(least, before(least)))
  }
  opened <- day(args$from, "from", "min")
  closed <- if (!is.null(args$until)) day(args$until, "until", "max")
  open <- function(first, last) {
    begun <- or_nothing(call_node("<=", list(opened, first)))
    if (is.null(closed)) return(begun)
    goes_on <- call_node("if_known", list(call_node(">=", list(closed, last)), value_node(1)))
    call_node("*", list(begun, goes_on))
  }
  list(now = open(day_node("first"), day_node("last")), before = open(before(day_node("first")),
    before(day_node("last"))))
}
