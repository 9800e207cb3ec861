# The column that tells the currency of order lines, where nobody said which.

currency_names <- paste0("(^|[^[:alpha:]])(currency|currencies|ccy|curr|cur|currencycode|iso ?code|",
  "w(\u00e4|ae)hrung|devise|divisa|moneda|moeda|valuta|waluta)([^[:alpha:]]?code)?$")

most_currencies <- 40L

# The first whose name says so and whose values are codes of several currencies, or signs; NULL for none.
likely_currency <- function(book) {
  named <- names(book$columns)[grepl(currency_names, names(book$columns), ignore.case = TRUE)]
  for (name in named) {
    codes <- currency_codes_in(book, name)
    if (length(codes) > 1L) {
      return(name)
    }
  }
  NULL
}

currency_codes_in <- function(book, name) {
  column <- column_node(name, book$columns[[name]])
  kind <- column_kind(engine_of(book), column)
  if (!is.character(kind) && !is.factor(kind)) {
    return(character())
  }
  values <- unique(as.character(plain_values(distinct_values(engine_of(book), part_in_scope(book), column))))
  codes <- toupper(kernel_trimmed(values[!is.na(values)]))
  known <- grepl("^[A-Z]{3}$", codes) | codes %in% names(currency_signs)
  if (length(codes) <= most_currencies && all(known)) codes else character()
}
