# Words of the measure language that are made of others.

# open_at(m, from, until, older): of order lines that are open from one date on until another, what
# is open at each cell's last day, whatever dates are shown: what has begun by then less what has
# ended by then. What is older than some days has begun so long before.
parse_open_at <- function(fn, said, vocabulary, depth) {
  parts <- lens_arguments(fn, said, c("from", "until", "older"), vocabulary, depth)
  check_adds_up(parts$child, fn)
  from <- open_date(parts$args$from, "from", vocabulary)
  until <- open_date(parts$args$until, "until", vocabulary)
  older <- whole_option(parts$args$older, 0L, fn)
  if (older < 0L) raise("expression",
    "{.arg older} of {.fn open_at} is a number of days, 0 or more.")
  lasting <- call_node(">=", list(call_node("-", list(until, from)), value_node(older)))
  begun <- call_node("|", list(call_node("is.na", list(until)), lasting))
  if (older > 0L) {
    later <- call_node("+", list(from, value_node(older)))
    from <- column_node(tree_text(later), vocabulary$made(later))
  }
  so_far <- function(condition, date) {
    condition <- call_node("if_known", list(condition, value_node(FALSE)))
    begun <- node("scope", fn = "only", child = parts$child, condition = condition,
      said = tree_text(condition))
    all <- node("lens", fn = "running", child = begun, options = list(unit = NULL, from = "record"),
      said = "from = \"record\"")
    node("scope", fn = "on", child = all, date = date[c("name", "id")], said = tree_text(date))
  }
  tree <- call_node("-", list(so_far(begun, from), so_far(lasting, until)))
  tree$text <- arguments_text(fn, c(tree_text(parts$child), parts$said))
  tree
}

open_date <- function(said, name, vocabulary) {
  if (is.null(said)) raise("expression", c("{.fn open_at} takes a measure and two dates.",
    ">" = "For example {.code open_at(sum(amount), from = ordered_on, until = paid_on)}."))
  column <- if (rlang::is_symbol(said) || is.character(said)) as.character(
    said) else rlang::as_label(said)
  check_column(column, names(vocabulary$columns))
  column_node(column, vocabulary$columns[[column]])
}

check_adds_up <- function(tree, fn) {
  if (!is_additive(tree)) raise("expression", c(
    paste0("{.fn ", fn, "} takes what adds up, such as a sum or a count; ", quoted(tree_text(tree)),
      " does not."),
    ">" = "Divide two of them to get a mean."))
}

# longest(each(month, sum(net) > 0)): the longest run of periods, one after the other, in
# which it holds.
parse_longest <- function(fn, said, vocabulary, depth) {
  given <- as.list(said)[-1L]
  if (length(given) != 1L || !rlang::is_call(given[[1L]], "each")) raise("expression", c(
    "{.fn longest} takes a condition on each period.",
    ">" = "For example {.code longest(each(month, sum(amount) > 0))}."))
  tree <- parse_each(fn, list(constants = character()), given, vocabulary, depth)
  if (!is.null(tree$grain$column)) raise("expression",
    "{.fn longest} goes over periods, which follow each other.")
  tree
}
