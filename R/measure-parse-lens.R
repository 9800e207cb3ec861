# Lenses as they are said.

parse_lens <- function(fn, said, words, depth) {
  if (fn == "running" && "along" %in% rlang::names2(as.list(said))) {
    return(parse_along(fn, said, words, depth))
  }
  spec <- lenses()[[fn]]
  parts <- lens_arguments(fn, said, spec$takes, words, depth)
  node("lens", fn = fn, child = parts$child, options = spec$options(parts$args, words), said = parts$said)
}

# running(m, along = product): over the members of a dimension in the order shown, within the same members of the other
# axes; or within those of some axes only (`within`, none for all).
parse_along <- function(fn, said, words, depth) {
  parts <- lens_arguments(fn, said, c("along", "within"), words, depth)
  axis <- axis_option(parts$args$along, words)
  within <- parts$args$within
  if (!is.null(within)) within <- if (identical(within, as.name("all"))) character() else axes_option(within, words)
  node("along", fn = fn, child = parts$child, axis = axis, within = within, said = parts$said)
}

# change(m, unit) is m less its prior; growth(m, unit) their relation.
parse_change <- function(fn, said, words, depth) {
  spec <- lens_prior()
  parts <- lens_arguments(fn, said, spec$takes, words, depth)
  prior <- node("lens", fn = "prior", child = parts$child, options = spec$options(parts$args, words), said = parts$said)
  args <- list(parts$child, prior)
  tree <- if (fn == "change") call_node("-", args) else node("growth", args = args)
  tree$text <- arguments_text(fn, c(tree_text(parts$child), parts$said))
  tree
}

# The period of the table that is 100.
parse_index <- function(fn, said, words, depth) {
  parts <- lens_arguments(fn, said, "base", words, depth)
  base <- parts$args$base
  if (!is.character(base)) {
    raise("expression", c(
      "{.fn index} needs the period that is 100, as text.", ">" = "For example {.code index(sales, \"2025-01\")}."
    ))
  }
  node("index", fn = fn, child = parts$child, base = base, said = parts$said)
}

# The orders that meet a condition too.
parse_only <- function(fn, said, words, depth) {
  parts <- lens_arguments(fn, said, "condition", words, depth)
  if (is.null(parts$args$condition)) raise(
    "expression", c("{.fn only} needs a condition.", ">" = "{.code only(sales, paid)}")
  )
  node(
    "scope", fn = fn, child = parts$child, condition = parse_row(parts$args$condition, words, depth + 1L), said = parts$said
  )
}

# Without the daybook's conditions that speak of some columns; `dates` are the conditions and limits on dates.
parse_regardless <- function(fn, said, words, depth) {
  given <- as.list(said)[-1L]
  if (length(given) < 2L) {
    raise(
      "expression", c(
        "{.fn regardless} needs a measure and what to disregard.", ">" = "{.code regardless(sales, region)}"
      )
    )
  }
  columns <- vapply(given[-1L], function(x) {
    if (rlang::is_symbol(x) || is.character(x)) as.character(x) else rlang::as_label(x)
  }, "")
  for (column in setdiff(columns, c("dates", "all"))) check_column(column, c(words$columns, "dates", "all"))
  node(
    "scope", fn = fn, child = parse_measure(given[[1L]], words, depth + 1L), drop = columns, said = said_options(
      given[-1L]
    )
  )
}

# The periods read off another date column.
parse_on <- function(fn, said, words, depth) {
  parts <- lens_arguments(fn, said, "date", words, depth)
  column <- parts$args$date
  if (!(rlang::is_symbol(column) || is.character(column))) {
    raise("expression", c("{.fn on} needs a date column.", ">" = "For example {.code on(sales, shipped_on)}."))
  }
  check_column(as.character(column), words$columns)
  node("scope", fn = fn, child = parts$child, date = as.character(column), said = parts$said)
}

# overall(m, within = ): the figure with the row's own values released; share(m) is the part of it.
parse_overall <- function(fn, said, words, depth) {
  takes <- if (fn == "share") c("of", "within") else "within"
  parts <- lens_arguments(fn, said, takes, words, depth)
  of <- word_option(parts$args$of, c("total", "row", "column", "parent"), "of", fn)
  if (!is.null(parts$args$of) && !is.null(parts$args$within)) {
    raise("expression", "{.fn share} takes either {.arg of} or {.arg within}.")
  }
  within <- if (is.null(parts$args$of)) axes_option(parts$args$within, words) else axes_of_whole(of, words)
  whole <- node("overall", fn = "overall", child = parts$child, within = within, said = parts$said)
  if (fn == "overall") {
    return(whole)
  }
  kept <- if (length(within) > 0L) paste0("within = ", if (length(within) > 1L) arguments_text("c", within) else within)
  whole$text <- arguments_text("overall", c(tree_text(parts$child), kept))
  tree <- node("share", args = list(parts$child, whole))
  tree$text <- arguments_text(fn, c(tree_text(parts$child), parts$said))
  tree
}

# The axes that the whole of a share keeps: those of the row, of the column, or all but the last down.
axes_of_whole <- function(of, words) {
  rows <- setdiff(words$axes, words$cols)
  if (of %in% c("row", "column") && length(words$cols) == 0L) {
    raise("expression", c(
      "A share of the {of} needs a cross-tab.", ">" = "Say {.code of = \"parent\"} or {.code within = }, or use {.fn crosstab}."
    ))
  }
  switch(of, total = character(), row = rows, column = words$cols, parent = c(utils::head(rows, -1L), words$cols))
}

parse_rank <- function(fn, said, words, depth) {
  parts <- lens_arguments(fn, said, c("within", "from"), words, depth)
  node("rank",
    fn = fn, child = parts$child, within = axes_option(parts$args$within, words),
    from = word_option(parts$args$from, c("largest", "smallest"), "from", fn), said = parts$said
  )
}

# Axes of the table said as `region` or `c(region, month)`.
axes_option <- function(said, words) {
  if (is.null(said)) {
    return(character())
  }
  parts <- if (rlang::is_call(said, "c")) as.list(said)[-1L] else list(said)
  unname(vapply(parts, axis_option, "", words = words))
}

axis_option <- function(said, words) {
  name <- if (rlang::is_symbol(said) || is.character(said)) as.character(said) else gsub(
    "$", "_", rlang::as_label(said), fixed = TRUE
  )
  if (!name %in% words$axes) {
    raise("expression", c(paste0(quoted(name), " is no axis of this table."), advise_word(name, words$axes, "axes")))
  }
  name
}
