# Lenses as they are said.

parse_lens <- function(fn, said, vocabulary, depth) {
  if (fn == "running" && "along" %in% rlang::names2(as.list(said))) {
    return(parse_along(fn, said, vocabulary, depth))
  }
  spec <- lenses()[[fn]]
  parts <- lens_arguments(fn, said, spec$takes, vocabulary, depth)
  node("lens", fn = fn, child = parts$child, options = spec$options(parts$args, vocabulary),
    said = parts$said)
}

# running(m, along = product): over the members or periods of an axis in the order shown, within the
# same values of the other axes; or within those of some axes only (`within`, none for all); from
# the first on, or from the last.
parse_along <- function(fn, said, vocabulary, depth) {
  parts <- lens_arguments(fn, said, c("along", "within", "from"), vocabulary, depth)
  check_no_table_lens(parts$child, fn)
  axis <- axis_option(parts$args$along, vocabulary)
  within <- parts$args$within
  if (!is.null(within)) within <- if (identical(within, as.name("all")))
    character() else axes_option(within, vocabulary)
  from <- word_option(parts$args$from, c("start", "end"), "from", fn)
  node("along", fn = fn, child = parts$child, axis = axis, within = within, from = from,
    said = parts$said)
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
  for (part in if (tree$kind == "share") tree$args[1L] else subtrees(
    tree)) check_no_table_lens(part, fn)
}

# change(m, unit) is m less its prior; growth(m, unit) their relation.
parse_change <- function(fn, said, vocabulary, depth) {
  spec <- lens_prior()
  parts <- lens_arguments(fn, said, spec$takes, vocabulary, depth)
  prior <- node("lens", fn = "prior", child = parts$child,
    options = spec$options(parts$args, vocabulary),
    said = parts$said)
  args <- list(parts$child, prior)
  tree <- if (fn == "change") call_node("-", args) else node("growth", args = args)
  tree$text <- arguments_text(fn, c(tree_text(parts$child), parts$said))
  tree
}

# The period of the table that is 100.
parse_index <- function(fn, said, vocabulary, depth) {
  parts <- lens_arguments(fn, said, "base", vocabulary, depth)
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
parse_only <- function(fn, said, vocabulary, depth) {
  parts <- lens_arguments(fn, said, "condition", vocabulary, depth)
  if (is.null(parts$args$condition)) raise(
    "expression", c("{.fn only} needs a condition.", ">" = "{.code only(sales, paid)}")
  )
  node(
    "scope", fn = fn, child = parts$child, condition = parse_row(parts$args$condition,
      vocabulary, depth + 1L),
    said = parts$said
  )
}

# Without the daybook's conditions that speak of some columns; `dates` are the
# conditions and limits on dates.
parse_regardless <- function(fn, said, vocabulary, depth) {
  given <- as.list(said)[-1L]
  named <- setdiff(rlang::names2(given), "")
  if (length(named) > 0L && !identical(rlang::names2(given), c("m", rep("", length(given) - 1L)))) {
    raise("expression", c("{.fn regardless} takes unnamed columns to disregard.",
      "x" = "It has {examples_of(named)}.", ">" = "{.code regardless(sales, region)}"))
  }
  if (length(given) < 2L) {
    raise(
      "expression", c(
        "{.fn regardless} needs a measure and the columns to disregard.",
          ">" = "{.code regardless(sales, region)}"
      )
    )
  }
  drop <- Reduce(joined_drops, lapply(given[-1L], drop_said, vocabulary = vocabulary))
  node("scope",
    fn = fn, child = parse_measure(given[[1L]], vocabulary, depth + 1L),
    drop = drop, said = said_options(given[-1L])
  )
}

# What is disregarded: list(columns, dates, all). The bare vocabulary `dates` and `all` have these
# meanings; a column of such a name is said as text. The daybook's own date column means the dates.
drop_said <- function(said, vocabulary) {
  if (identical(said, as.name("dates")) || identical(said, as.name("all"))) {
    return(list(columns = character(), dates = TRUE, all = identical(said, as.name("all"))))
  }
  name <- if (rlang::is_symbol(said) || is.character(said)) as.character(
    said) else rlang::as_label(said)
  known <- names(vocabulary$columns)
  if (is.character(said) && !name %in% known && name %in% c("dates", "all")) {
    return(drop_said(as.name(name), vocabulary))
  }
  check_column(name, c(known, "dates", "all"))
  list(columns = name, dates = identical(name, vocabulary$date), all = FALSE)
}

joined_drops <- function(a, b) {
  list(columns = union(a$columns, b$columns), dates = a$dates || b$dates, all = a$all || b$all)
}

# The periods read off another date column.
parse_on <- function(fn, said, vocabulary, depth) {
  parts <- lens_arguments(fn, said, "date", vocabulary, depth)
  column <- parts$args$date
  if (!(rlang::is_symbol(column) || is.character(column))) {
    raise("expression", c("{.fn on} needs a date column.",
      ">" = "For example {.code on(sales, shipped_on)}."))
  }
  name <- as.character(column)
  check_column(name, names(vocabulary$columns))
  node("scope", fn = fn, child = parts$child, date = list(name = name,
    id = vocabulary$columns[[name]]),
    said = parts$said)
}

# overall(m, within = ): the figure with the row's own values released; share(m) is the part of it.
# overall(m, using = f): the figures of the rows combined.
parse_overall <- function(fn, said, vocabulary, depth) {
  takes <- if (fn == "share") c("of", "within") else c("within", "using")
  parts <- lens_arguments(fn, said, takes, vocabulary, depth)
  of <- word_option(parts$args$of, c("total", "row", "column", "parent"), "of", fn)
  if (!is.null(parts$args$of) && !is.null(parts$args$within)) {
    raise("expression", "{.fn share} takes either {.arg of} or {.arg within}.")
  }
  within <- if (is.null(parts$args$of)) axes_option(parts$args$within, vocabulary)
    else axes_of_whole(of, vocabulary)
  if (!is.null(parts$args$using)) {
    return(node("of_rows", fn = fn, child = parts$child, within = within,
      using = using_option(parts$args$using, fn), said = parts$said))
  }
  whole <- node("overall",
    fn = "overall", child = parts$child, within = within, parent = if (of == "parent")
      setdiff(vocabulary$axes, vocabulary$cols),
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
axes_of_whole <- function(of, vocabulary) {
  rows <- setdiff(vocabulary$axes, vocabulary$cols)
  if (of %in% c("row", "column") && length(vocabulary$cols) == 0L) {
    raise("expression", c(
      "A share of the {of} needs a cross-tab.",
      ">" = "Say {.code of = \"parent\"} or {.code within = }, or use {.fn crosstab}."
    ))
  }
  switch(of, total = character(), row = rows, column = vocabulary$cols,
    parent = c(utils::head(rows, -1L), vocabulary$cols))
}

parse_rank <- function(fn, said, vocabulary, depth) {
  parts <- lens_arguments(fn, said, c("within", "from"), vocabulary, depth)
  node("rank",
    fn = fn, child = parts$child, within = axes_option(parts$args$within, vocabulary),
    from = word_option(parts$args$from, c("largest", "smallest"), "from", fn), said = parts$said
  )
}

# Axes of the table said as `region` or `c(region, month)`.
axes_option <- function(said, vocabulary) {
  if (is.null(said)) {
    return(character())
  }
  parts <- if (rlang::is_call(said, "c")) as.list(said)[-1L] else list(said)
  unname(vapply(parts, axis_option, "", vocabulary = vocabulary))
}

axis_option <- function(said, vocabulary) {
  name <- if (rlang::is_symbol(said) || is.character(said)) as.character(said) else gsub(
    "$", "_", rlang::as_label(said), fixed = TRUE
  )
  if (!name %in% vocabulary$axes) {
    raise("expression", c(paste0(quoted(name), " is not an axis of this table."),
      advise_word(name, vocabulary$axes, "axes")))
  }
  name
}
