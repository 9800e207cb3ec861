# Rules of order and of members kept as text says them: read, never evaluated.

# A rule said as a call; nothing is evaluated but constants.
rule_of <- function(expr, option, env = NULL) {
  fn <- if (rlang::is_call(expr)) call_word(expr) else ""
  known <- if (option == "keep") keep_readers else sort_readers
  if (!fn %in% names(known)) raise_not_known(expr, names(known))
  known[[fn]](expr, fn, env, function(said) constant_said(said, list(env = env), 0L))
}

read_given_order <- function(expr, fn, env, constant) {
  do.call(in_order, lapply(placed_arguments(fn, expr, "..."), constant))
}

read_key_order <- function(expr, fn, env, constant) {
  args <- match_arguments(as.list(expr)[-1L], "column", fn)
  new_sort_rule("key", column = word_of(args$column, fn))
}

read_measure_order <- function(expr, fn, env, constant) {
  args <- match_arguments(as.list(expr)[-1L], c("measure", "at"), fn)
  if (is.null(args$measure)) raise("expression",
    c("{.fn {fn}} needs a measure.", ">" = "{.code {fn}(sales)}"))
  at <- if (!is.null(args$at)) constant(args$at)
  new_sort_rule("measure", said = said(args$measure, env), at = at, largest = fn == "largest_first")
}

read_top <- function(expr, fn, env, constant) {
  args <- match_arguments(as.list(expr)[-1L], c("n", "by", "others"), fn)
  if (is.null(args$n) || is.null(args$by)) raise(
    "expression", c("{.fn keep_top} takes a number and a measure.",
      ">" = "{.code keep_top(10, sales)}")
  )
  others <- if ("others" %in% names(args)) label_of_others(args, constant) else others_label
  new_keep_rule(check_whole(constant(args$n), "n", 1L), said(args$by, env), others)
}

read_where <- function(expr, fn, env, constant) {
  args <- match_arguments(as.list(expr)[-1L], c("condition", "others"), fn)
  if (is.null(args$condition)) raise_no_condition()
  new_where_rule(said(args$condition, env), label_of_others(args, constant))
}

label_of_others <- function(args, constant) {
  check_text(if (!is.null(args$others)) constant(args$others), "others", optional = TRUE)
}

keep_readers <- list(keep_top = read_top, keep_where = read_where)

sort_readers <- list(largest_first = read_measure_order, smallest_first = read_measure_order,
  by_key = read_key_order, in_order = read_given_order)

word_of <- function(said, fn) {
  if (!(rlang::is_symbol(said) || is.character(said)))
    raise("expression", "{.fn {fn}} needs the name of a column.")
  as.character(said)
}
