# median(gaps(ordered_on)): the days between the dates that follow each other in a cell, each date
# taken once, as one figure.

gap_figures <- c("median", "mean", "min", "max", "quantile", "sd", "count")

parse_gaps <- function(fn, spec, given, vocabulary, depth) {
  if (!fn %in% gap_figures) {
    raise("expression", c("{.fn {fn}} cannot summarise {.fn gaps}.",
      ">" = "These can: {gap_figures}."))
  }
  args <- match_arguments(given, c("x", spec$constants), fn)
  dates <- placed_arguments("gaps", args$x, "x")
  if (length(dates) != 1L) raise("expression", c("{.fn gaps} takes a column of dates.",
    ">" = "For example {.code {fn}(gaps(ordered_on))}."))
  dates <- parse_row(dates[[1L]], vocabulary, depth + 1L)
  if (!is.null(vocabulary$kind)) check_dates(vocabulary$kind(dates), dates)
  constants <- aggregate_constants(spec, args, fn, vocabulary)
  tree <- node("aggregate", fn = "gaps", args = list(
    call_node("-", list(dates, value_node(gaps_from)))),
    options = list(fn = fn, p = constants$p %||% switch(fn, min = 0, max = 1, 0.5)))
  tree$text <- arguments_text(fn, c(arguments_text("gaps", tree_text(dates)),
    vapply(constants, value_text, "")))
  tree$words <- paste(words_of_figures[[fn]], "days between", row_in_words(dates))
  tree
}

check_dates <- function(some, tree) {
  if (!inherits(some, c("Date", "POSIXct"))) raise("expression",
    c("{.fn gaps} takes a column of dates.",
    "x" = paste0(quoted(tree_text(tree)), " is {type_words(some)}.")))
}

parse_gaps_alone <- function(fn, said, vocabulary, depth) {
  raise("expression", c("{.fn gaps} gives the days between dates: say how they become one figure.",
    ">" = paste0("For example {.code median(", braces_kept(code_text(said)), ")}.")))
}

# Days as numbers.
gaps_from <- as.Date("1970-01-01")

words_of_figures <- c(median = "median of", mean = "mean of", min = "least", max = "greatest",
  quantile = "quantile of", sd = "spread of", count = "number of gaps of")

# Of one date there is no gap: the figure is unknown, the count 0.
aggregate_gaps <- made_once(function() {
  new_aggregate("rows", function(cell) {
    gaps <- cell$gaps(cell$constants$fn, cell$constants$p)
    unknown_face_of(gaps)
  }, repeated = FALSE)
})
