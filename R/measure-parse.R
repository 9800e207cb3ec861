# Turns R syntax into a measure tree. `words` is what may be named:
# list(columns = , env = , measures = named list of trees, calendars = named list).

parse_measure <- function(said, words, depth = 0L) {
  check_depth(depth)
  if (rlang::is_symbol(said)) {
    return(parse_measure_name(rlang::as_string(said), words))
  }
  if (rlang::is_call(said)) {
    return(parse_measure_call(said, words, depth))
  }
  if (is.numeric(said) && length(said) == 1L) {
    return(value_node(said))
  }
  raise_not_known(said, measure_words())
}

measure_words <- function() c(names(aggregates()), names(lenses()), names(measure_functions()))

parse_measure_name <- function(name, words) {
  if (name %in% names(words$measures)) {
    return(node("named", name = name, child = words$measures[[name]]))
  }
  if (name %in% words$columns) {
    raise("expression", c(
      paste0(quoted(name), " is a column: say how its values become one figure."),
      ">" = paste0("For example {.code sum(", braces_kept(name_text(name)), ")}.")
    ))
  }
  value <- if (!is.null(words$env)) get0(name, envir = words$env, mode = "numeric")
  if (length(value) == 1L) {
    return(value_node(value))
  }
  raise("expression", c(
    paste0("There is no measure ", quoted(name), " before this one."),
    advise_word(name, c(names(words$measures), words$columns), "names")
  ))
}

parse_measure_call <- function(said, words, depth) {
  fn <- call_word(said)
  if (fn == "(") {
    return(parse_measure(said[[2L]], words, depth + 1L))
  }
  if (fn %in% names(aggregates())) {
    return(parse_aggregate(fn, said, words, depth))
  }
  if (fn %in% names(lenses())) {
    return(parse_lens(fn, said, words, depth))
  }
  if (!fn %in% names(measure_functions())) raise_not_known(said, measure_words())
  args <- lapply(unname(as.list(said)[-1L]), parse_measure, words = words, depth = depth + 1L)
  check_arity(fn, args, said)
  call_node(fn, args)
}

parse_aggregate <- function(fn, said, words, depth) {
  spec <- aggregates()[[fn]]
  given <- unname(as.list(said)[-1L])
  if (length(given) != 1L && !(spec$optional && length(given) == 0L)) {
    raise("expression", c(
      paste0("{.fn {fn}} takes one expression of columns."),
      "x" = paste0(quoted(rlang::as_label(said)), " has {length(given)}.")
    ))
  }
  check_not_nested(given, fn, words)
  node("aggregate", fn = fn, args = lapply(given, parse_row, words = words, depth = depth + 1L))
}

# An aggregate of a measure: sum(sum(x)), or sum(sales) where sales is a measure and no column.
check_not_nested <- function(given, fn, words) {
  inner <- unlist(lapply(given, all.names))
  columns <- unlist(lapply(given, all.vars))
  measures <- setdiff(intersect(columns, names(words$measures)), words$columns)
  if (any(inner %in% setdiff(names(aggregates()), words$columns)) || length(measures) > 0L) {
    what <- "An aggregate stands inside another"
    if (length(measures) > 0L) what <- paste0(quoted(measures[1L]), " is a figure already")
    raise("expression", c(
      paste0(what, ": {.fn {fn}} is worked out from order lines."),
      ">" = "Give {.fn {fn}} an expression of columns."
    ))
  }
}

parse_lens <- function(fn, said, words, depth) {
  spec <- lenses()[[fn]]
  given <- as.list(said)[-1L]
  args <- match_arguments(given, c("m", spec$takes), fn)
  if (is.null(args$m)) {
    raise("expression", c("{.fn {fn}} needs a measure.", ">" = "For example {.code {fn}(sum(amount))}."))
  }
  child <- parse_measure(args$m, words, depth + 1L)
  options <- spec$options(args[names(args) != "m"], words)
  said_options <- vapply(given[-1L], rlang::as_label, "")
  names <- rlang::names2(given[-1L])
  node("lens",
    fn = fn, child = child, options = options,
    said = unname(ifelse(names == "", said_options, paste(names, "=", said_options)))
  )
}

# Matches given arguments to names by name, then by place.
match_arguments <- function(given, names, fn) {
  said <- rlang::names2(given)
  unknown <- setdiff(said[said != ""], names)
  if (length(unknown) > 0L || length(given) > length(names)) {
    raise("expression", c(
      "{.fn {fn}} does not take these arguments.",
      "x" = if (length(unknown) > 0L) "It has none named {examples_of(unknown)}." else "It takes at most {length(names)}.",
      ">" = "Its arguments: {names}."
    ))
  }
  free <- setdiff(names, said)
  said[said == ""] <- utils::head(free, sum(said == ""))
  stats::setNames(given, said)
}
