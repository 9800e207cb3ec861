# What an expression over a daybook may name; `env` is where R values are looked
# for, NULL where none may be.
book_vocabulary <- function(book, env = NULL, measures = list(), axes = character(),
  cols = character()) {
  c(new_vocabulary(
    book$columns, env, measures, book$calendars, axes, cols, book$date,
    function(fn) function_id(engine_of(book), fn), book$rates
  ), list(
    of_each = function(spec, text) each_id(engine_of(book), spec, text),
    parse_figure = parse_measure,
    records = lapply(book$records, function(record) {
      function(env, axes, cols) book_vocabulary(record$book, env, list(), axes, cols)
    }), kind = function(tree) column_kind(engine_of(book), tree),
    made = function(tree) made_id(engine_of(book), tree)
  ))
}

# That of conditions of order lines.
orders_vocabulary <- function(book, env) c(book_vocabulary(book, env), list(of_orders = TRUE))
