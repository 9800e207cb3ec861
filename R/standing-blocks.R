# The blocks of a standing report's page: each becomes a table, a figure or a text.

# earlier: see told_since(); NULL where no part of the page speaks of an earlier build.
standing_parts <- function(source, book, values, earlier = NULL) {
  check_measure_order(source, book)
  figures <- named_figures(source, book, values)
  made <- function(block, path) standing_part(block, path, source, book, values, figures, earlier)
  parts <- Map(made, source$said$page, lapply(seq_along(source$said$page), function(i) list("page", i)))
  stats::setNames(lapply(parts, `[[`, "part"), vapply(parts, `[[`, "", "label"))
}

# One block as a part of the page, with its label.
standing_part <- function(block, path, source, book, values, figures, earlier) {
  kind <- names(block)
  said <- block[[kind]]
  if (kind == "text") {
    return(list(label = "", part = filled_text(as.character(said), values, source, path, figures)))
  }
  if (kind == "beside") {
    made <- lapply(seq_along(said), function(i) {
      standing_part(said[[i]], c(path, list("beside", i)), source, book, values, figures, earlier)
    })
    names <- vapply(made, `[[`, "", "label")
    parts <- stats::setNames(lapply(made, `[[`, "part"), names)
    return(list(label = "", part = at_line(source, path, beside(!!!parts))))
  }
  label <- if (is.null(said$label)) "" else filled_text(said$label, values, source, path)
  if (kind == "changes") {
    page <- list(source = source, book = book, values = values)
    told <- earlier %||% list(why = "Nothing is compared here: the report is not being built.")
    return(list(label = label, part = changes_block(said, path, page, told)))
  }
  list(label = label, part = standing_block(kind, said, source, book, values, path))
}

# The blocks of a page, those side by side each for itself: list(kind, said, path).
flat_page <- function(source) {
  flat <- function(blocks, path) {
    unlist(lapply(seq_along(blocks), function(i) {
      kind <- names(blocks[[i]])
      here <- c(path, list(i))
      if (kind == "beside") flat(blocks[[i]][[kind]], c(here, list("beside")))
      else list(list(kind = kind, said = blocks[[i]][[kind]], path = here))
    }), recursive = FALSE)
  }
  flat(source$said$page, list("page"))
}

standing_block <- function(kind, said, source, book, values, path) {
  book <- limited_book(book, said, values, source, path)
  fill <- function(text) if (is.null(text)) NULL else filled_expression(text, values, source, path)
  axes <- function(key) lapply(unlist(said[[key]]), function(word) axis_said(word, book))
  request <- function(kind) standing_request(kind, said, source, values, path, axes, fill)
  build <- list(
    rollup = function() make_table(request("rollup"), book),
    crosstab = function() make_table(request("crosstab"), book),
    listing = function() make_table(request("listing"), book),
    headlines = function() make_table(request("headlines"), book),
    figure = function() {
      table <- make_table(request(if (is.null(c(said$rows, said$cols))) "rollup" else "crosstab"), book)
      kind <- figure_kind_quietly(table, said$kind)
      drawn <- function(table) {
        drawing <- drawing_of(with_axis_labels(draw_figure(table, kind), unlist(said$axis_labels)))
        drawing$drawn_again <- drawn
        drawing
      }
      drawn(table)
    }
  )
  at_line(source, path, build[[kind]]())
}

# What a block says, in the shape in which every table is asked.
standing_request <- function(kind, said, source, values, path, axes, fill) {
  look <- list(
    layout = said$layout %||% "columns", number = isTRUE(said$number), after = said$after %||% "nothing",
    empty = isTRUE(said$empty)
  )
  new_request(kind,
    rows = axes(switch(kind, rollup = "by", listing = "groups", "rows")),
    cols = axes("cols"), lines = axes("lines"), measures = block_measures(said, source, values, path),
    show = vapply(at_line(source, path, shown_items(said, source$said$measures)), `[[`, "", "name"),
    totals = sides_said(said$totals) %||% (if (kind == "listing") "all" else "none"),
    totals_at = sides_said(said$totals_at) %||% "end", sort = rules_said(said$sort, "sort", fill),
    keep = rules_said(said$keep, "keep", fill), members = said$members %||% "shown",
    measures_at = said$measures_at %||% "cols", per = said(said$per),
    look = look, against = against_said(said$against, fill),
    history = said(if (!identical(said$history, "none")) as.name(said$history %||% "month"))
  )
}

axis_said <- function(word, book) {
  said(if (word %in% names(book$columns)) word else read_expression(as.character(word), "by")$expr)
}

# The measures of the report that a block speaks of, in their order, then those that the block alone
# has: `show` tells which are shown.
block_measures <- function(said, source, values, path) {
  report <- spoken_of(source$said$measures, unlist(said[c("show", "sort", "keep", "against")]))
  measures <- lapply(stats::setNames(names(report), names(report)), function(name) {
    measure_said(report[[name]], name, source, values, list("measures", name))
  })
  own <- Filter(function(item) !is.null(item$own),
    at_line(source, path, shown_items(said, source$said$measures)))
  names(own) <- vapply(own, `[[`, "", "name")
  c(measures, lapply(own, function(item) {
    said(read_expression(filled_or_stop(item$own, values, source, path), "show")$expr)
  }))
}

# A measure may speak of those before it: not of itself, nor of a later one.
check_measure_order <- function(source, book) {
  measures <- source$said$measures
  for (i in seq_along(measures)) {
    one <- measures[[i]]
    text <- gsub("\"[^\"]*\"", "", as.character(if (is.list(one)) one$show else one))
    words <- unlist(regmatches(text, gregexpr("[A-Za-z.][A-Za-z0-9._]*(?!\\s*\\()\\b", text, perl = TRUE)))
    after <- setdiff(
      intersect(words, names(measures)[i:length(measures)]),
      c(names(book$columns), names(book$calendars), period_units)
    )
    if (length(after) > 0L) {
      what <- if (names(measures)[i] %in% after) "speaks of itself" else paste0(
        "speaks of ", quoted(after[1L]), ", which comes after it"
      )
      raise_key(
        source, list("measures", names(measures)[i]),
        paste0("The measure ", quoted(names(measures)[i]), " ", what, "."), "Put what it needs before it."
      )
    }
  }
}

# Those of the measures whose names stand in some texts, or in the measures that do.
spoken_of <- function(measures, texts) {
  texts_of <- lapply(measures, function(one) if (is.list(one)) one$show else one)
  known <- character()
  repeat {
    found <- intersect(names(measures), unlist(lapply(texts, names_in)))
    if (all(found %in% known)) {
      return(measures[names(measures) %in% known])
    }
    known <- union(known, found)
    texts <- as.character(unlist(texts_of[known]))
  }
}

# The names a text may speak of: itself, and those in the expression it is.
names_in <- function(text) {
  parsed <- rlang::try_fetch(parse(text = text, keep.source = FALSE), error = function(e) NULL)
  words <- if (is.null(parsed)) regmatches(text, gregexpr("[[:alpha:].][[:alnum:]._]*", text))[[1L]]
    else all.names(parsed)
  c(trimws(text), words)
}

# What a block shows: names of measures of the report, and "name = expression" of its own:
# list(name, own: the expression's text, or NULL).
shown_items <- function(said, measures) {
  lapply(as.character(unlist(said$show)), function(text) {
    if (trimws(text) %in% names(measures)) {
      return(list(name = trimws(text)))
    }
    read <- read_expression(text, "show")
    if (read$name != "") {
      return(list(name = read$name, own = sub(own_name, "", text, perl = TRUE)))
    }
    list(name = if (rlang::is_symbol(read$expr)) rlang::as_string(read$expr) else trimws(text))
  })
}

own_name <- "^\\s*(`(?:[^`\\\\]|\\\\.)*`|[^=`]+?)\\s*=(?!=)"

measure_said <- function(one, name, source, values, path) {
  if (!is.list(one)) one <- list(show = one)
  expr <- list(
    as.name("measure"), at_line(source, path,
      read_expression(filled_or_stop(one$show, values, source, path), name))$expr
  )
  for (key in intersect(c("label", "description"), names(one))) expr[[key]] <- filled_text(one[[key]],
    values, source, path)
  for (
    key in intersect(c("format", "total"), names(one))
  ) expr[[key]] <- at_line(source, path, read_expression(one[[key]], key))$expr
  if (!is.null(one$history)) expr$history <- read_expression(as.character(one$history), "history")$expr
  if (isTRUE(one$bar)) expr$bar <- TRUE
  if (!is.null(one$marks)) expr$marks <- as.call(c(as.name("c"), lapply(one$marks, function(rule) {
    at_line(source, path, read_expression(filled_or_stop(rule, values, source, path), "marks"))$expr
  })))
  said(as.call(expr))
}

filled_or_stop <- function(text, values, source, path) {
  filled <- filled_expression(text, values, source, path)
  if (is.null(filled)) raise_key(
    source, path, "A measure speaks of a parameter that has no value.", "Give the parameter a default."
  )
  filled
}

rules_said <- function(said, option, fill) {
  if (is.null(said)) {
    return(NULL)
  }
  if (!is.list(said)) {
    return(rules_from(fill(as.character(said)), option))
  }
  lapply(said, function(text) rule_of(read_expression(fill(as.character(text)), option)$expr, option))
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

# The figures that texts may show: each measure of the report, over everything, as its format shows
# it, worked out when a text speaks of it.
named_figures <- function(source, book, values) {
  names <- names(source$said$measures)
  stats::setNames(lapply(names, function(name) {
    function() {
      path <- list("measures", name)
      said <- block_measures(list(show = name), source, values, path)
      x <- at_line(source, path, make_table(new_request("rollup", measures = said, show = name), book))
      value <- x$figures[[name]]
      if (is.numeric(value)) format_by(value, x$ask$measures[[name]]$format) else as.character(value)
    }
  }), names)
}
