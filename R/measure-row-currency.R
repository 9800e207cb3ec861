# Amounts of several currencies in one of them, by rates that a daybook has (see new_rates()).

# in_currency(net, "EUR"): an amount in that currency, by the rate of its own at the order's day,
# or at the end of its month. A currency without rates is the one that rates are in; it must be
# one alone.
parse_in_currency <- function(fn, said, vocabulary, depth) {
  args <- match_arguments(as.list(said)[-1L], c("x", "to", "at"), fn)
  if (is.null(args$x) || is.null(args$to)) {
    raise("expression", c("{.fn in_currency} takes an amount and a currency.",
      ">" = "{.code in_currency(net, \"EUR\")}"))
  }
  rates <- vocabulary$rates
  if (is.null(rates)) {
    raise("expression", c("{.fn in_currency} needs rates.",
      ">" = paste0("Say the column of currencies and a table of rates: ",
        braces_kept(option_said("currency", "currency")), ", ", braces_kept(option_said("rates",
          "rates.csv")), ".")))
  }
  to <- constant_said(args$to, vocabulary, depth)
  at <- if (is.null(args$at)) "day" else constant_said(args$at, vocabulary, depth)
  check_choice(at, c("day", "month end"), "at")
  check_target(to, rates)
  columns <- if (at == "day") rates$by_day$columns else rates$by_month_end$columns
  tree <- converted_tree(parse_row(args$x, vocabulary, depth + 1L), to, rates, columns,
    column_node(rates$column, vocabulary$columns[[rates$column]]))
  tree$text <- paste(deparse(said, width.cutoff = 500L), collapse = " ")
  tree
}

check_target <- function(to, rates) {
  known <- union(rates$listed, rates$unlisted)
  if (!is.character(to) || length(to) != 1L || !to %in% known) {
    raise("rates", c(paste0("There is no currency ", quoted(as.character(to)[1L]),
      " among the orders and the rates."),
      "i" = paste0("There are ", words_of(known), ".")))
  }
  base <- rates$unlisted
  if (length(base) > 1L) {
    raise("rates",
      c(paste0("Several currencies of the orders have no rates, so the others cannot be ",
        "converted into one of them."),
      "x" = paste0("They are ", words_of(base), "."),
      ">" = "Give rates for all but the one that rates are in."))
  }
}

converted_tree <- function(amount, to, rates, columns, currency) {
  rate <- function(code) {
    if (code %in% rates$listed) column_node(paste("rate of", code),
      columns[[code]]) else value_node(1)
  }
  known <- setdiff(union(rates$listed, rates$unlisted), to)
  tree <- call_node("ifelse", list(is_currency(currency, to), amount, value_node(NA_real_)))
  for (code in rev(known)) {
    ratio <- if (to %in% rates$listed) call_node("/", list(rate(code), rate(to))) else rate(code)
    tree <- call_node("ifelse", list(is_currency(currency, code),
      call_node("*", list(amount, ratio)), tree))
  }
  tree
}

is_currency <- function(column, code) call_node("==", list(column, value_node(code)))
