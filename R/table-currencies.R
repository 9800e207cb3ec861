# Which figures of a table add amounts of several currencies together: the same ask, with each
# amount replaced by how many currencies stand behind it.

# list(column; currencies, of the lines in scope), where some figure puts several into one; else
# NULL. They are told apart by a dimension, of which only totals go over several: anything else
# is refused.
mixed_currencies <- function(ask, book) {
  check_currencies_beside(ask, book)
  name <- if (!book$one_currency) book$currency %||% likely_currency(book)
  if (is.null(name)) {
    return(NULL)
  }
  currency <- column_node(name, book$columns[[name]])
  counts <- lapply(ask$measures, function(m) currencies_behind(m$tree, currency, engine_of(book)))
  counts <- Filter(function(tree) tree$kind != "value", counts)
  if (length(counts) == 0L || !any(unlist(figures_of_trees(counts, ask, book)) > 1, na.rm = TRUE)) {
    return(NULL)
  }
  known <- distinct_values(engine_of(book), part_in_scope(book), currency)
  currencies <- as.character(sort_values(unique(plain_values(known))))
  apart <- vapply(ask$axes, function(axis) identical(axis$column, currency$id), NA)
  if (!any(apart)) raise_currencies(name, currencies)
  list(column = name, currencies = currencies)
}

# A record beside the orders is in their currency, or has its own as a dimension of the table.
check_currencies_beside <- function(ask, book) {
  for (name in records_asked(ask)) {
    record <- book$records[[name]]
    own <- currencies_named(record$book)
    said <- length(own$codes) == 0L || any(vapply(ask$axes, function(axis) {
      identical(axis_beside(axis, record, book)$column, record$book$columns[[own$column]])
    }, NA))
    if (said || own$column %in% unlist(lapply(book$scope, `[[`, "columns"))) next
    if (length(own$codes) > 1L) raise_currencies(own$column, own$codes)
    orders <- if (!book$one_currency) currencies_named(book)$codes
    if (length(orders) == 1L && orders != own$codes) raise("currencies", c(
      paste0("The record ", quoted(name), " is in ", own$codes, ", the orders in ", orders, "."),
      ">" = "Convert one of them: their amounts cannot be compared."))
  }
}

# The column named for currency that holds codes: list(column, codes).
currencies_named <- function(book) {
  named <- names(book$columns)[grepl(currency_names, names(book$columns), ignore.case = TRUE)]
  codes <- lapply(named, currency_codes_in, book = book)
  held <- which(lengths(codes) > 0L)[1L]
  if (is.na(held)) list(column = "", codes = character()) else list(column = named[held],
    codes = codes[[held]])
}

raise_currencies <- function(name, currencies) {
  raise("currencies", c(
    paste0("Amounts of ", length(currencies), " currencies would be added together: ",
      joined_words(currencies), "."),
    "i" = paste0("Column ", quoted(name), " tells the currency."),
    ">" = paste0("Make ", quoted(name), " a dimension; or keep one of them: ", braces_kept(
      condition_to_say(paste0(name_text(name), " == \"", currencies[1L], "\""))),
      "; or give rates (",
      braces_kept(option_said("rates", "rates.csv")), ") and ask for in_currency(amount, \"",
        currencies[1L], "\")."),
    ">" = paste0("If all amounts are in one currency already, say so: ",
      braces_kept(option_said("currency", "none")), ".")
  ))
}

currency_names <- paste0("(^|[^[:alpha:]])(currency|currencies|ccy|curr|cur|currencycode|iso ",
  "?code|",
  "w(\u00e4|ae)hrung|devise|divisa|moneda|moeda|valuta|waluta)([^[:alpha:]]?code)?$")

most_currencies <- 40L

# Where nobody said which column tells the currency: the first whose name says so and whose values
# are codes of several currencies, or signs; NULL for none.
likely_currency <- function(book) {
  named <- names(book$columns)[grepl(currency_names, names(book$columns), ignore.case = TRUE)]
  several <- vapply(named, function(name) length(currency_codes_in(book, name)) > 1L, NA)
  if (any(several)) named[several][1L]
}

currency_codes_in <- function(book, name) {
  column <- column_node(name, book$columns[[name]])
  kind <- column_kind(engine_of(book), column)
  if (!is.character(kind) && !is.factor(kind)) {
    return(character())
  }
  values <- distinct_values(engine_of(book), part_in_scope(book), column)
  codes <- unique(toupper(kernel_trimmed(as.character(plain_values(values)))))
  codes <- codes[!is.na(codes)]
  known <- grepl("^[A-Z]{3}$", codes) | codes %in% names(currency_signs)
  if (length(codes) <= most_currencies && all(known)) codes else character()
}

# What other measures are on all rows of a table.
figures_of_trees <- function(trees, ask, book) {
  names <- paste0("step", seq_along(trees))
  ask$measures <- stats::setNames(Map(new_measure, names, trees), names)
  if (ask$kind == "listing") {
    ask$axes <- dimension_axes(ask)[setdiff(names(dimension_axes(ask)),
      c("lines", names(ask$listing$time_groups)))]
    ask$kind <- "rollup"
  }
  ask$sort <- ask$keep <- ask$keep_where <- list()
  answer(ask, book)$rows$figures
}

# A measure that counts the currencies in each amount; 0 where it holds none.
currencies_behind <- function(tree, currency, engine) {
  inside <- function(part) currencies_behind(part, currency, engine)
  most <- function(parts) {
    parts <- Filter(function(part) part$kind != "value", lapply(parts, inside))
    if (length(parts) < 2L) c(parts, list(value_node(0)))[[1L]]
    else call_node("greatest", lapply(parts, function(part) call_node("or_zero", list(part))))
  }
  switch(tree$kind,
    named = , rank = , of_rows = , index = inside(tree$child),
    outlook = if (is.null(tree$options$unit)) inside(tree$child)
      else counted_within(node("lens", fn = "so_far", options = tree$options["unit"]),
        inside(tree$child)),
    effect = inside(tree$args[[1L]]),
    call = most(tree$args), growth = , share = most(tree$args),
    aggregate = if (is_in_currency(tree, currency, engine)) {
      node("aggregate", fn = "distinct", args = list(currency))
    } else {
      value_node(0)
    },
    lens = , scope = , overall = , along = , each = counted_within(tree, inside(tree$child)),
    value_node(0)
  )
}

# The same lens round a count. Over finer figures it is the greatest that matters.
counted_within <- function(tree, child) {
  if (child$kind == "value") {
    return(child)
  }
  tree$child <- child
  tree$text <- NULL
  if (tree$kind == "each") tree[c("fn", "options")] <- list("max", NULL)
  if (tree$kind == "lens" && !is.null(tree$options$using)) tree$options$using <- "max"
  tree
}

# Amounts that are added as they stand; those that the currency was looked at for are converted.
is_in_currency <- function(tree, currency, engine) {
  if (tree$fn %in% c("count", "distinct", "most_common", "custom") || length(tree$args) == 0L) {
    return(FALSE)
  }
  read <- unlist(lapply(tree$args, ids_of))
  source <- base_ids(engine, read)
  kind <- column_kind(engine, tree$args[[1L]])
  own <- sub("_currency$", "", currency$name)
  is.numeric(kind) && !currency$id %in% source &&
    !is_quantity(unlist(lapply(tree$args, columns_of)))
}

# Columns whose name says that they hold no money.
is_quantity <- function(names) {
  length(names) > 0L && all(grepl(
    "^(qty|quantity|units?|pieces|pcs|weight|kg|tonnes?|lines?)$", names,
    ignore.case = TRUE))
}
