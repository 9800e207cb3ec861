# Lenses as they are said.

parse_lens <- function(fn, said, words, depth) {
  if (fn == "running" && "along" %in% rlang::names2(as.list(said))) {
    return(parse_along(fn, said, words, depth))
  }
  spec <- lenses()[[fn]]
  parts <- lens_arguments(fn, said, spec$takes, words, depth)
  node("lens", fn = fn, child = parts$child, options = spec$options(parts$args, words), said = parts$said)
}

# running(m, along = product): over the members or periods of an axis in the order shown, within the
# same values of the other axes; or within those of some axes only (`within`, none for all); from
# the first on, or from the last.
parse_along <- function(fn, said, words, depth) {
  parts <- lens_arguments(fn, said, c("along", "within", "from"), words, depth)
  check_no_table_lens(parts$child, fn)
  axis <- axis_option(parts$args$along, words)
  within <- parts$args$within
  if (!is.null(within)) within <- if (identical(within, as.name("all")))
    character() else axes_option(within, words)
  from <- word_option(parts$args$from, c("start", "end"), "from", fn)
  node("along", fn = fn, child = parts$child, axis = axis, within = within, from = from, said = parts$said)
}

# What looks at other rows cannot be added up over rows.
check_no_table_lens <- function(tree, fn) {
  if (tree$kind %in% c("overall", "rank", "along")) {
    raise("expression", c(
      paste0("{.code running(along = )} takes no figure that looks at other rows: ",
        quoted(tree_text(tree)), "."),
      ">" = "Put it the other way round: take the share or the rank of the running figure."
    ))
  }
  # A share runs as its figure does: what it is a part of stays the same.
  for (part in if (tree$kind == "share") tree$args[1L] else subtrees(tree)) check_no_table_lens(part, fn)
}

# change(m, unit) is m less its prior; growth(m, unit) their relation.
parse_change <- function(fn, said, words, depth) {
  spec <- lens_prior()
  parts <- lens_arguments(fn, said, spec$takes, words, depth)
  prior <- node("lens", fn = "prior", child = parts$child, options = spec$options(parts$args, words),
    said = parts$said)
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
      "{.fn index} needs the period that is 100, as text.",
      ">" = "For example {.code index(sales, \"2025-01\")}."
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
    "scope", fn = fn, child = parts$child, condition = parse_row(parts$args$condition, words, depth + 1L),
    said = parts$said
  )
}

# Without the daybook's conditions that speak of some columns; `dates` are the
# conditions and limits on dates.
parse_regardless <- function(fn, said, words, depth) {
  given <- as.list(said)[-1L]
  if (length(given) < 2L) {
    raise(
      "expression", c(
        "{.fn regardless} needs a measure and what to disregard.", ">" = "{.code regardless(sales, region)}"
      )
    )
  }
  drop <- Reduce(joined_drops, lapply(given[-1L], drop_said, words = words))
  node("scope",
    fn = fn, child = parse_measure(given[[1L]], words, depth + 1L),
    drop = drop, said = said_options(given[-1L])
  )
}

# What is disregarded: list(columns, dates, all). The bare words `dates` and `all` have these
# meanings; a column of such a name is said as text. The daybook's own date column means the dates.
drop_said <- function(said, words) {
  if (identical(said, as.name("dates")) || identical(said, as.name("all"))) {
    return(list(columns = character(), dates = TRUE, all = identical(said, as.name("all"))))
  }
  name <- if (rlang::is_symbol(said) || is.character(said)) as.character(said) else rlang::as_label(said)
  known <- names(words$columns)
  if (is.character(said) && !name %in% known && name %in% c("dates", "all")) {
    return(drop_said(as.name(name), words))
  }
  check_column(name, c(known, "dates", "all"))
  list(columns = name, dates = identical(name, words$date), all = FALSE)
}

joined_drops <- function(a, b) {
  list(columns = union(a$columns, b$columns), dates = a$dates || b$dates, all = a$all || b$all)
}

# The periods read off another date column.
parse_on <- function(fn, said, words, depth) {
  parts <- lens_arguments(fn, said, "date", words, depth)
  column <- parts$args$date
  if (!(rlang::is_symbol(column) || is.character(column))) {
    raise("expression", c("{.fn on} needs a date column.",
      ">" = "For example {.code on(sales, shipped_on)}."))
  }
  name <- as.character(column)
  check_column(name, names(words$columns))
  node("scope", fn = fn, child = parts$child, date = list(name = name, id = words$columns[[name]]),
    said = parts$said)
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
  whole <- node("overall",
    fn = "overall", child = parts$child, within = within, parent = if (of == "parent")
      setdiff(words$axes, words$cols),
    said = parts$said
  )
  if (fn == "overall") {
    return(whole)
  }
  kept <- if (length(within) > 0L) paste0("within = ", if (length(within) > 1L)
    arguments_text("c", within) else within)
  whole$text <- arguments_text("overall", c(tree_text(parts$child), kept))
  tree <- node("share", args = list(parts$child, whole))
  tree$text <- arguments_text(fn, c(tree_text(parts$child), parts$said))
  tree
}

# The axes that the whole of a share keeps: those of the row, of the column, or all but the last
# down that the row itself keeps.
axes_of_whole <- function(of, words) {
  rows <- setdiff(words$axes, words$cols)
  if (of %in% c("row", "column") && length(words$cols) == 0L) {
    raise("expression", c(
      "A share of the {of} needs a cross-tab.",
      ">" = "Say {.code of = \"parent\"} or {.code within = }, or use {.fn crosstab}."
    ))
  }
  switch(of, total = character(), row = rows, column = words$cols,
    parent = c(utils::head(rows, -1L), words$cols))
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
    raise("expression", c(paste0(quoted(name), " is no axis of this table."),
      advise_word(name, words$axes, "axes")))
  }
  name
}
