# Aggregates as they are said: of an expression of columns, or of each day, period or order.

parse_aggregate <- function(fn, said, vocabulary, depth) {
  spec <- aggregates()[[fn]]
  given <- as.list(said)[-1L]
  if (length(given) >= 1L && rlang::is_call(given[[1L]], "each") &&
    !"each" %in% names(vocabulary$columns)) {
    return(parse_each(fn, spec, given, vocabulary, depth))
  }
  if (length(given) >= 1L && rlang::is_call(given[[1L]], "gaps") &&
    !"gaps" %in% names(vocabulary$columns)) {
    return(parse_gaps(fn, spec, given, vocabulary, depth))
  }
  args <- aggregate_arguments(fn, spec, given, said)
  rows <- args[setdiff(spec$takes, spec$constants)]
  if (any(vapply(given, is.null, logical(1L)))) raise_not_known(said, measure_words())
  rows <- rows[!vapply(rows, is.null, logical(1L))]
  check_not_nested(rows, fn, vocabulary)
  node("aggregate",
    fn = fn, args = lapply(unname(rows), parse_row, vocabulary = vocabulary, depth = depth + 1L),
    options = aggregate_constants(spec, args, fn, vocabulary)
  )
}

aggregate_arguments <- function(fn, spec, given, said) {
  right <- length(given) == length(spec$takes) || (spec$optional && length(given) == 0L)
  if (!right) {
    what <- if (length(spec$takes) == 1L) "one expression of columns"
      else paste(length(spec$takes), "arguments")
    raise("expression", c(
      paste0("{.fn {fn}} takes ", what, "."), "x" = paste0(quoted(rlang::as_label(said)),
        " has {length(given)}.")
    ))
  }
  match_arguments(given, spec$takes, fn)
}

# The only constant is the probability of a quantile.
aggregate_constants <- function(spec, args, fn, vocabulary) {
  constants <- lapply(args[spec$constants], function(said) {
    tree <- parse_row(said, new_vocabulary(env = vocabulary$env))
    value <- if (tree$kind == "value") tree$value
    if (!is.numeric(value) || length(value) != 1L || is.na(value) || value < 0 || value > 1) {
      raise("expression", c(
        "{.arg p} of {.fn {fn}} is a number from 0 to 1.",
        "x" = paste0("It is ", quoted(rlang::as_label(said)), ".")
      ))
    }
    value
  })
  if (length(constants) > 0L) constants
}

# An aggregate of a measure: sum(sum(x)), or sum(sales) where sales is a measure and no column.
check_not_nested <- function(given, fn, vocabulary) {
  inner <- unlist(lapply(given, all.names))
  columns <- unlist(lapply(given, all.vars))
  measures <- setdiff(intersect(columns, names(vocabulary$measures)), names(vocabulary$columns))
  nested <- setdiff(intersect(inner, names(aggregates())),
    c(names(vocabulary$columns), "first", "last"))
  if (length(nested) > 0L || length(measures) > 0L) {
    what <- "An aggregate stands inside another"
    if (length(measures) > 0L) what <- paste0(quoted(measures[1L]), " is a figure already")
    inner <- if (length(measures) > 0L) measures[1L] else "sum(amount)"
    raise("expression", c(
      paste0(what, ": {.fn {fn}} is worked out from order lines."),
      ">" = paste0("Say of what: {.code ", fn, "(each(day, ", braces_kept(inner),
        "))} goes over daily figures.")
    ))
  }
}

# The lines where both are known, weights and values.
parse_weighted_mean <- function(fn, said, vocabulary, depth) {
  args <- match_arguments(as.list(said)[-1L], c("x", "w"), fn)
  if (length(args) != 2L) raise(
    "expression", c("{.fn weighted_mean} takes values and weights.",
      ">" = "{.code weighted_mean(price, quantity)}")
  )
  check_not_nested(args, fn, vocabulary)
  x <- parse_row(args$x, vocabulary, depth + 1L)
  w <- parse_row(args$w, vocabulary, depth + 1L)
  product <- call_node("*", list(x, w))
  weight <- call_node("where_known", list(w, product))
  tree <- call_node("/", list(
    node("aggregate", fn = "sum", args = list(product), quiet = TRUE),
    node("aggregate", fn = "sum", args = list(weight), quiet = TRUE)
  ))
  tree$text <- arguments_text(fn, c(tree_text(x), tree_text(w)))
  tree
}

# Lines with an unknown value in some argument are left out, unless missing = TRUE.
parse_custom_measure <- function(fn, said, vocabulary, depth) {
  parts <- as.list(said)
  missing <- flag_option(parts$missing, "missing", fn)
  parts$missing <- NULL
  row <- parse_custom(as.call(parts), vocabulary, depth)
  text <- paste(deparse(said, width.cutoff = 500L), collapse = " ")
  node("aggregate",
    fn = "custom", args = row$args, custom = row$custom, function_id = row$function_id,
    options = list(missing = missing), text = text
  )
}

# mean(each(day, sum(net))): finer figures first, then one of them.
parse_each <- function(fn, spec, given, vocabulary, depth) {
  if (!fn %in% names(combiners())) {
    raise("expression", c("{.fn {fn}} cannot summarise {.fn each}.",
      ">" = "These can: {names(combiners())}."))
  }
  args <- match_arguments(given, c("x", spec$constants), fn)
  inner <- match_arguments(as.list(args$x)[-1L], c("grain", "m", "days"), "each")
  if (is.null(inner$grain) || is.null(inner$m)) {
    raise("expression", c(
      "{.fn each} takes a period or a column, and a measure.",
      ">" = "For example {.code mean(each(day, sum(amount)))}."
    ))
  }
  node("each",
    fn = fn, options = aggregate_constants(spec, args, fn, vocabulary),
    grain = each_grain(inner$grain, vocabulary),
    days = word_option(inner$days, c("sold", "all", "trading"), "days", "each"),
    child = parse_measure(inner$m, vocabulary, depth + 1L), said = code_text(args$x)
  )
}

each_grain <- function(said, vocabulary) {
  period <- period_of_words(said, vocabulary$calendars)
  if (!is.null(period)) {
    calendar <- vocabulary$calendars[[period$calendar_name]]
    check_unit(period$unit, calendar)
    return(list(unit = period$unit, calendar = calendar))
  }
  name <- if (rlang::is_symbol(said) || is.character(said)) as.character(
    said) else rlang::as_label(said)
  check_column(name, c(names(vocabulary$columns), period_units))
  list(column = name, id = vocabulary$columns[[name]])
}
