# Why a figure is another than before: effect() gives one part of the difference, and bridge()
# stands for the figure before, all parts and the figure now as measures side by side.

# With a quantity the difference of members there on both sides is parted in three
# (see measure_language).
effect_parts <- function(with_quantity) {
  c(if (with_quantity) c("volume", "mix", "price") else "change", "new", "gone")
}

bridge_arguments <- c("quantity", "over", "to", "from", "from_quantity", "units")

parse_effect <- function(fn, said, vocabulary, depth) {
  parts <- lens_arguments(fn, said, c(bridge_arguments, "part"), vocabulary, depth)
  args <- parts$args
  if (is.null(args$over)) raise("expression", c(
    "{.fn {fn}} needs the column whose members are compared.",
    ">" = "For example {.code over = product_id}."))
  over <- each_grain(args$over, vocabulary)
  if (is.null(over$column)) raise("expression", "The members of {.fn {fn}} are those of a column.")
  of <- function(expr) if (!is.null(expr)) parse_measure(expr, vocabulary, depth + 1L)
  quantity <- of(args$quantity)
  from <- of(args$from)
  from_quantity <- of(args$from_quantity)
  if (!is.null(from) && is.null(quantity) != is.null(from_quantity)) raise("expression", c(
    "{.arg from} and {.arg from_quantity} of {.fn {fn}} stand together with {.arg quantity}.",
    ">" = "Say both, or leave the quantities out."))
  for (tree in Filter(Negate(is.null), list(parts$child, quantity, from,
    from_quantity))) check_adds_up(tree, fn)
  known <- effect_parts(!is.null(quantity))
  part <- word_option(args$part, known, "part", fn)
  units <- if (!is.null(args$units)) each_grain(args$units, vocabulary)
  tree <- node("effect", fn = fn, args = Filter(Negate(is.null), list(parts$child, quantity, from,
    from_quantity)),
    over = over, part = part, with_quantity = !is.null(quantity),
    with_from = !is.null(from), units = units,
    options = list(part = part, unit = if (is.null(from)) period_option(args$to, NULL,
      vocabulary, fn)
      else NULL, units = units$id, over = over$id, from = !is.null(from)))
  tree$text <- arguments_text(fn, c(tree_text(parts$child), parts$said))
  tree
}

# `bridge(sales, quantity, over = product)` among the measures of a table, as its measures: by name
# the expressions, in the order in which they add up. Under a name of its own theirs begin with it.
bridge_measures <- function(expr, name) {
  args <- match_arguments(as.list(expr)[-1L], c("m", bridge_arguments), "bridge")
  if (is.null(args$m) || is.null(args$over)) raise("expression", c(
    "{.fn bridge} needs a measure and the column whose members are compared.",
    ">" = "For example {.code bridge(sum(amount), sum(quantity), over = product_id, to = year)}."))
  rest <- args[setdiff(names(args), "m")]
  before <- args$from %||% as.call(c(list(as.name("prior"), args$m), if (!is.null(args$to))
    list(args$to)))
  parts <- effect_parts(!is.null(args$quantity))
  effects <- lapply(parts, function(part) {
    as.call(c(list(as.name("effect"), args$m), rest, list(part = part)))
  })
  all <- c(list(before), effects, list(args$m))
  names(all) <- c("before", parts, "now")
  labels <- c(before = "Before", volume = "Volume", mix = "Mix", price = "Price", change = "Change",
    new = "New",
    gone = "Gone", now = "Now")[names(all)]
  all <- Map(function(one, label) call("measure", one, label = label), all, labels)
  if (nzchar(name)) names(all) <- paste0(name, "_", names(all))
  all
}
