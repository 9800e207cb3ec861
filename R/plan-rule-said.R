# Rules of order and of members kept as text says them: read, never evaluated.

# A rule said as a call; nothing is evaluated but constants.
rule_of <- function(expr, option, env = NULL) {
  fn <- if (rlang::is_call(expr)) call_word(expr) else ""
  known <- if (option == "keep") "keep_top" else c("largest_first", "smallest_first", "by_key", "in_order")
  if (!fn %in% known) raise_not_known(expr, known)
  given <- as.list(expr)[-1L]
  constant <- function(said) constant_said(said, list(env = env), 0L)
  if (fn == "in_order") {
    return(do.call(in_order, lapply(placed_arguments(fn, expr, "..."), constant)))
  }
  if (fn == "by_key") {
    args <- match_arguments(given, "column", fn)
    return(new_sort_rule("key", column = word_of(args$column, fn)))
  }
  if (fn == "keep_top") {
    args <- match_arguments(given, c("n", "by", "others"), fn)
    if (is.null(args$n) || is.null(args$by)) raise(
      "expression", c("{.fn keep_top} takes a number and a measure.", ">" = "{.code keep_top(10, sales)}")
    )
    others <- if ("others" %in% names(args)) if (!is.null(args$others))
      constant(args$others) else NULL else "All others"
    return(new_keep_rule(check_whole(constant(args$n), "n", 1L),
      said(args$by, env), check_text(others, "others", optional = TRUE)))
  }
  args <- match_arguments(given, c("measure", "at"), fn)
  if (is.null(args$measure)) raise("expression",
    c("{.fn {fn}} needs a measure.", ">" = "{.code {fn}(sales)}"))
  at <- if (!is.null(args$at)) constant(args$at)
  new_sort_rule("measure", said = said(args$measure, env), at = at, largest = fn == "largest_first")
}

word_of <- function(said, fn) {
  if (!(rlang::is_symbol(said) || is.character(said)))
    raise("expression", "{.fn {fn}} needs the name of a column.")
  as.character(said)
}
