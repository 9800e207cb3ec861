# The kinds of tables: of each how its request is read against a daybook, and how its table is made
# of the ask.

table_kinds <- function() {
  list(
    rollup = list(read = read_rollup, table = rollup_table),
    crosstab = list(read = read_crosstab, table = crosstab_table),
    listing = list(read = read_listing, table = listing_table),
    headlines = list(read = read_headlines, table = headlines_table)
  )
}

# The ask of a request, its words read against a daybook.
read_request <- function(request, book) table_kinds()[[request$kind]]$read(request, book)

# The measures of a request and their figures, without what else a table tells.
asked_figures <- function(request, book) {
  learn_anew(engine_of(book))
  within_stack({
    ask <- read_request(request, book)
    mixed_currencies(ask, book)
    list(measures = ask$measures, figures = answer(ask, book)$rows$figures)
  })
}

# The table of a request.
make_table <- function(request, book) {
  learn_anew(engine_of(book))
  kind <- table_kinds()[[request$kind]]
  within_stack(kind$table(kind$read(request, book), book))
}
