# Rules of order, of members kept and of sides, as texts.

# One rule, or rules by dimension: 'depot = largest_first(sales)'.
rules_from <- function(text, option) {
  if (is.null(text)) {
    return(NULL)
  }
  read <- lapply(text, read_expression, option = option)
  rules <- lapply(read, function(r) rule_of(r$expr, option))
  names <- vapply(read, `[[`, "", "name")
  if (length(rules) == 1L && names == "") rules[[1L]] else stats::setNames(rules, names)
}

# 'all', or 'rows=all,cols=none'.
sides_from <- function(text) {
  if (is.null(text) || !grepl("=", text, fixed = TRUE)) {
    return(text)
  }
  parts <- strsplit(words_by_comma(text), "=", fixed = TRUE)
  if (any(lengths(parts) != 2L)) raise(
    "argument", c(paste0(quoted(text), " is not a choice for rows and columns."),
      ">" = "Write {.val rows=all,cols=none}.")
  )
  stats::setNames(trimws(vapply(parts, `[`, "", 2L)), trimws(vapply(parts, `[`, "", 1L)))
}

rules_said <- function(said, option, fill) {
  if (is.null(said)) {
    return(NULL)
  }
  if (!is.list(said)) {
    return(rules_from(fill(as.character(said)), option))
  }
  lapply(said, function(text) {
    rule_of(read_expression(fill(as.character(text)), option)$expr, option)
  })
}

sides_said <- function(said) if (is.list(said)) unlist(said) else said

against_said <- function(said, fill) {
  if (is.null(said)) {
    return(said(NULL))
  }
  expr <- function(text) read_expression(fill(as.character(text)), "against")$expr
  if (!is.list(said)) {
    return(said(expr(said)))
  }
  said(as.call(c(as.name("list"), lapply(said, expr))))
}

rule_text <- function(rule) {
  switch(rule$kind,
    key = arguments_text("by_key", name_text(rule$column)),
    given = arguments_text("in_order", vapply(rule$members, value_text, "")),
    measure = arguments_text(
      if (rule$largest) "largest_first" else "smallest_first",
      c(tree_text(rule$tree), if (!is.null(rule$at)) paste("at =", value_text(rule$at)))
    )
  )
}

keep_text <- function(rule, period) {
  if (rule$kind == "where") {
    return(arguments_text("keep_where", c(tree_text(rule$tree),
      if (!is.null(rule$others)) paste("others =", value_text(rule$others)))))
  }
  arguments_text(
    "keep_top", c(rule$n, tree_text(rule$tree),
      if (!period) paste("others =", if (is.null(rule$others)) "NULL" else value_text(rule$others)))
  )
}

# Orders that keep_top() brings with it are not said again.
implied_sorts <- function(ask) {
  Filter(function(name) !is.null(ask$keep[[name]]) && is.null(ask$sort[[name]]$said),
    names(ask$sort))
}
