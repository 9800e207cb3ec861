# Orders on closed days that figures over trading days leave out: by measure list(lines, amount,
# word), where amount is what the figure of each day would be together, if it adds up.

closed_day_orders <- function(ask, book) {
  found <- lapply(ask$measures, function(measure) {
    each <- trading_days_in(measure$tree)
    if (is.null(each)) NULL else orders_on_closed_days(each, ask, book)
  })
  Filter(function(one) !is.null(one) && one$lines > 0, found)
}

# The first node that looks at each trading day.
trading_days_in <- function(tree) {
  is_trading <- function(one) one$kind == "each" && identical(one$days, "trading")
  c(tree_collect(tree, function(one) if (is_trading(one)) list(one)), list(NULL))[[1L]]
}

orders_on_closed_days <- function(each, ask, book) {
  calendar <- each$grain$calendar
  day <- period_axis("day", names(book$calendars)[1L], calendar, TRUE)
  trees <- list(lines = node("aggregate", fn = "count", args = list()), amount = each$child)
  by_day <- new_ask("rollup", list(day = day), Map(new_measure, names(trees), trees))
  rows <- answer(by_day, book)$rows
  days <- as.integer(vctrs::vec_data(rows$axes[[1L]]))
  closed <- !open_days(calendar)[days - first_known_day + 1L]
  lines <- sum(rows$figures$lines[closed], na.rm = TRUE)
  if (!is_additive(each$child)) {
    return(list(lines = lines))
  }
  amount <- as.numeric(rows$figures$amount)
  list(lines = lines, amount = sum(amount[closed], na.rm = TRUE), of = sum(amount, na.rm = TRUE))
}
