# The ask as a sentence: phrases of parts, each of which can be changed where it stands.
#
# A phrase is list(lead, parts, join, plus): the words before its parts, what stands between them,
# and what one more would be (NULL where there can be none). A part is list(menu, at, text, says,
# mark): the menu that changes it and its place there, its words, what it is, and what is told
# beside it.

explored_sentence <- function(seen) {
  ask <- seen$ask
  switch(ask$kind,
    table = c(list(measure_phrase(seen)), axis_phrases(seen), shared_phrases(seen),
      look_phrases(seen)),
    listing = c(list(line_phrase(seen), measure_phrase(seen, "with"), group_phrase(seen)),
      shared_phrases(seen), look_phrases(seen)),
    headlines = c(list(measure_phrase(seen)), list(against_phrase(seen)), shared_phrases(seen),
      look_phrases(seen))
  )
}

new_phrase <- function(lead, parts, join = ", ", plus = NULL) {
  list(lead = lead, parts = parts, join = join, plus = plus)
}

new_part <- function(menu, text, says, at = 0L, mark = "", quiet = FALSE) {
  list(menu = menu, at = at, text = text, says = says, mark = mark, quiet = quiet)
}

measure_phrase <- function(seen, lead = "") {
  shown <- which(!vapply(seen$ask$measures, `[[`, NA, "hidden"))
  parts <- lapply(shown, function(at) {
    new_part("measure", measure_face(seen$ask$measures[[at]], seen), "Figure", at,
      mark = regardless_mark(seen$ask$measures[[at]], seen))
  })
  if (length(parts) == 0L && seen$ask$kind != "listing") {
    parts <- list(new_part("measure", "which figure?", "Figure"))
  }
  new_phrase(lead, parts, join = " and ", plus = list(menu = "measure", text = "a figure"))
}

# A figure in words: its label, what it means, or as it is written.
measure_face <- function(measure, seen) {
  if (nzchar(measure$label)) {
    return(measure$label)
  }
  known <- seen$measures[[measure$name]]
  if (is.null(known)) measure$text else known$label
}

# Which conditions a figure does not go by.
regardless_mark <- function(measure, seen) {
  tree <- seen$measures[[measure$name]]$tree
  drops <- if (!is.null(tree)) tree_collect(tree, function(one) {
    if (!is.null(one$drop)) list(one$drop)
  })
  if (length(drops) == 0L) "" else paste("whatever the",
    joined_words(unique(vapply(drops, dropped_in_words, ""))))
}

axis_phrases <- function(seen) {
  ask <- seen$ask
  side <- function(side, lead, none) {
    parts <- lapply(seq_along(ask[[side]]), function(at) {
      new_part(side, axis_face(ask[[side]][at]), if (side ==
        "rows") "Down the side" else "Across", at)
    })
    if (length(parts) == 0L) parts <- list(new_part(side, none, "Across or down", quiet = TRUE))
    new_phrase(lead, parts, join = ", then ", plus = list(menu = side, text = "one more"))
  }
  list(side("rows", "by", "nothing"), side("cols", "across", "nothing"))
}

axis_face <- function(word) plain_words(gsub("$", " ", word, fixed = TRUE))

line_phrase <- function(seen) {
  ask <- seen$ask
  parts <- lapply(seq_along(ask$lines), function(at) {
    new_part("lines", axis_face(ask$lines[at]), "Shown on each line", at)
  })
  if (length(parts) == 0L) parts <- list(new_part("lines", "which columns?", "Shown on each line"))
  per <- if (nzchar(ask$per)) plain_words(ask$per) else "order line"
  phrase <- new_phrase("for each", list(new_part("per", per, "What a line is")), join = "")
  shown <- new_phrase("the", parts, plus = list(menu = "lines", text = "a column"))
  shown$before <- phrase
  shown
}

group_phrase <- function(seen) {
  ask <- seen$ask
  parts <- lapply(seq_along(ask$rows), function(at) {
    new_part("rows", axis_face(ask$rows[at]), "Group", at)
  })
  if (length(parts) == 0L) parts <- list(new_part("rows", "no groups", "Group", quiet = TRUE))
  new_phrase("under", parts, join = ", then ", plus = list(menu = "rows", text = "a group"))
}

against_phrase <- function(seen) {
  against <- seen$ask$against
  face <- if (against %in% c("", "none")) "nothing" else paste("a", against, "before")
  new_phrase("compared with", list(new_part("against", face, "Compared with")))
}

shared_phrases <- function(seen) {
  list(condition_phrase(seen), new_phrase("showing", list(new_part("dates", dates_face(seen),
    "Dates shown"))),
    new_phrase("as of", list(new_part("as_of", as_of_face(seen), "As-of date"))),
    new_phrase("", list(new_part("calendar", calendar_face(seen), "Calendar")))
  )
}

condition_phrase <- function(seen) {
  parts <- lapply(seq_along(seen$ask$only), function(at) {
    new_part("only", condition_face(seen$ask$only[at], seen), "Condition", at,
      mark = lines_left_mark(seen, at))
  })
  parts <- c(parts, lapply(seen$fixed, function(text) {
    new_part("fixed", text, "Condition of the daybook")
  }))
  if (length(parts) == 0L) parts <- list(new_part("only", "all orders", "Condition", quiet = TRUE))
  new_phrase("for", parts, plus = list(menu = "only", text = "a condition"))
}

# Members by name, the first few; anything else in words.
condition_face <- function(text, seen) {
  called <- names(read_condition(text))
  if (nzchar(called)) {
    return(called)
  }
  limit <- limit_said(text)
  if (!is.null(limit) && length(limit$members) + limit$none > most_named) {
    named <- utils::head(unquoted(limit$members), most_named - 1L)
    return(paste(plain_words(limit$column), if (limit$except) "is not" else "is",
      paste(named, collapse = ", "),
      "or", length(limit$members) + limit$none - length(named), "more"))
  }
  if (!is.null(limit) && limit$none && length(limit$members) > 0L) {
    return(paste(plain_words(limit$column), if (limit$except) "is not" else "is",
      joined_words(c(unquoted(limit$members), "(none)"), "or")))
  }
  tree <- rlang::try_fetch(
    parse_row(read_expression(text, "only")$expr, book_vocabulary(seen$columns_of)),
    drystack_error = function(e) NULL
  )
  if (is.null(tree)) text else row_in_words(tree)
}

read_condition <- function(text) {
  rlang::try_fetch(read_expressions(text, "only"), drystack_error = function(e) {
    stats::setNames(list(NULL),
      "")
  })
}

most_named <- 4L

unquoted <- function(constants) {
  vapply(constants, function(text) constant_in_words(eval_constant(text)), "", USE.NAMES = FALSE)
}

# How many lines meet this condition and those before it.
lines_left_mark <- function(seen, at) {
  left <- seen$left[at]
  if (is.null(left) || is.na(left)) "" else counted_lines(left)
}

dates_face <- function(seen) {
  ask <- seen$ask
  finished <- if (ask$complete) ", finished ones" else ""
  if (nzchar(ask$latest)) {
    words <- strsplit(trimws(ask$latest), "[ ,]+")[[1L]]
    unit <- axis_face(words[2L])
    n <- suppressWarnings(as.numeric(words[1L]))
    if (is.na(n) || n == 1) return(paste0("the last ", unit, finished))
    return(paste0("the last ", words[1L], " ", sub("[^ ]+$",
      unit_plural(sub("^.* ", "", unit)), unit), finished))
  }
  day <- function(text) {
    days <- iso_days(text)
    if (is.na(days)) text else day_words(days)
  }
  if (nzchar(ask$from) && nzchar(ask$to)) {
    if (ask$from == ask$to) return(day(ask$from))
    return(paste0(day(ask$from), " to ", day(ask$to), finished))
  }
  if (nzchar(ask$from)) return(paste0("from ", day(ask$from), " on", finished))
  if (nzchar(ask$to)) return(paste0("up to ", day(ask$to), finished))
  paste0("all dates", finished)
}

as_of_face <- function(seen) {
  if (!is.null(seen$book)) {
    return(day_words(seen$book$as_of))
  }
  said <- seen$ask$as_of
  if (nzchar(said)) if (is.na(iso_days(said))) said else day_words(iso_days(said))
    else day_words(seen$base$book$as_of)
}

calendar_face <- function(seen) {
  calendars <- (seen$book %||% seen$columns_of)$calendars
  calendar_words(calendars[[1L]])
}

# "fiscal year, July to June": what is said after that is for notes.
calendar_words <- function(calendar) sub("^([^,]*,[^,]*),.*$", "\\1", calendar$words$long)

# Order, members kept, totals, and the form in which it is shown.
look_phrases <- function(seen) {
  ask <- seen$ask
  list(new_phrase("", list(new_part("order", order_face(ask), "Order",
    quiet = length(ask$sort) == 0L))),
    if (ask$kind != "headlines" && length(c(ask$rows, ask$cols)) > 0L) {
      new_phrase("", list(new_part("totals", totals_face(ask), "Totals",
        quiet = ask$totals == "none")))
    },
    new_phrase("as", list(new_part("kind", c(table = "a table", listing = "order lines",
      headlines = "headlines")[[ask$kind]], "Form", quiet = TRUE),
      if (ask$kind == "table") new_part("figure", figure_face(ask), "Figure drawn", quiet = TRUE)),
        join = " with ")
  ) |> Filter(f = Negate(is.null)) |> lapply(function(phrase) {
    phrase$parts <- Filter(Negate(is.null), phrase$parts)
    c(phrase, list(look = TRUE))
  })
}

order_face <- function(ask) {
  kept <- vapply(ask$keep, kept_face, "")
  orders <- vapply(ask$sort, function(text) {
    switch(sub("[(].*$", "", text), largest_first = "largest first",
      smallest_first = "smallest first",
      by_key = "by a key", "in an order given")
  }, "")
  words <- c(unique(unname(orders)), unique(unname(kept)))
  if (length(words) == 0L) "in its own order" else paste(words, collapse = ", ")
}

# "the top 10", "rows where growth < 0".
kept_face <- function(text) {
  rule <- str2lang(text)
  if (call_word(rule) == "keep_where") paste("rows where",
    paste(deparse(rule[[2L]], 500L), collapse = " "))
  else paste("the top", rule[[2L]])
}

totals_face <- function(ask) {
  switch(ask$totals, none = "without totals", grand = "with a grand total", all = "with all totals",
    "with totals of its own")
}

figure_face <- function(ask) {
  switch(ask$figure, none = "no figure", fitting = "the figure that fits",
    ask$figure)
}
