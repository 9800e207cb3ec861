# Turns R syntax into a measure tree. `vocabulary` is what may be named (see new_vocabulary()).

parse_measure <- function(said, vocabulary, depth = 0L) {
  check_depth(depth)
  if (rlang::is_symbol(said)) {
    return(parse_measure_name(rlang::as_string(said), vocabulary))
  }
  if (rlang::is_call(said)) {
    return(parse_measure_call(said, vocabulary, depth))
  }
  if (is.numeric(said) && length(said) == 1L) {
    return(value_node(said))
  }
  raise_not_known(said, measure_words())
}

measure_words <- function() c(names(measure_parsers()), names(measure_functions()))

# Which function reads a call of each word.
measure_parsers <- made_once(function() {
  of <- function(vocabulary, parser) {
    stats::setNames(rep(list(parser), length(vocabulary)), vocabulary)
  }
  c(
    of(names(aggregates()), parse_aggregate), list(weighted_mean = parse_weighted_mean,
      custom = parse_custom_measure),
    of(names(lenses()), parse_lens), list(change = parse_change, growth = parse_change,
      index = parse_index),
    list(of = parse_of, days_left = parse_days_left, outlook = parse_outlook,
      effect = parse_effect), list(only = parse_only, regardless = parse_regardless, on = parse_on),
    list(overall = parse_overall, share = parse_overall, rank = parse_rank),
    list(occurrences = parse_occurrences, open_at = parse_open_at, alike = parse_alike),
    list(longest = parse_longest, gaps = parse_gaps_alone),
    list(as.Date = function(fn, said, vocabulary, depth) parse_date(said, vocabulary, depth))
  )
})

parse_measure_name <- function(name, vocabulary) {
  if (name %in% names(vocabulary$measures)) {
    return(node("named", name = name, child = vocabulary$measures[[name]]))
  }
  if (name %in% names(vocabulary$columns)) {
    raise("expression", c(
      paste0(quoted(name), " is a column: say how its values become one figure."),
      ">" = paste0("For example {.code sum(", braces_kept(name_text(name)), ")}.")
    ))
  }
  if (name == "as_of") {
    return(day_node("as_of"))
  }
  value <- if (!is.null(vocabulary$env)) get0(name, envir = vocabulary$env, mode = "numeric")
  if (length(value) == 1L) {
    return(value_node(value))
  }
  raise("expression", c(
    paste0("There is no measure ", quoted(name), " before this one."),
    advise_word(name, c(names(vocabulary$measures), names(vocabulary$columns)), "names")
  ))
}

parse_measure_call <- function(said, vocabulary, depth) {
  check_no_gaps(said)
  fn <- call_word(said)
  if (fn == "(") {
    return(parse_measure(said[[2L]], vocabulary, depth + 1L))
  }
  parser <- measure_parsers()[[fn]]
  if (!is.null(parser)) {
    return(parser(fn, said, vocabulary, depth))
  }
  if (!fn %in% names(measure_functions())) raise_not_known(said, measure_words())
  given <- placed_arguments(fn, said, names(formals(measure_functions()[[fn]])))
  args <- lapply(given, parse_measure, vocabulary = vocabulary, depth = depth + 1L)
  check_arity(fn, args, said)
  call_node(fn, args)
}

# The measure of a lens and its other arguments.
lens_arguments <- function(fn, said, takes, vocabulary, depth) {
  given <- as.list(said)[-1L]
  args <- match_arguments(given, c("m", takes), fn)
  if (is.null(args$m)) {
    raise("expression", c("{.fn {fn}} needs a measure.",
      ">" = "For example {.code {fn}(sum(amount))}."))
  }
  named <- match("m", names(args))
  list(
    child = parse_measure(args$m, vocabulary, depth + 1L), args = args[-named],
    said = said_options(given[-named])
  )
}
