# Measures as the keys of a document.

# The measures of the report that a block speaks of, in their order, then those that the block alone
# has: `show` tells which are shown. Pages of many people say the same: it is read once.
block_measures <- function(said, document, values, path) {
  spoken <- said[c("show", "sort", "keep", "against")]
  key <- rlang::hash(list(spoken, document$said$measures, values, path))
  remembered_in(document$read, key, function() read_block_measures(said, document, values, path))
}

read_block_measures <- function(said, document, values, path) {
  report <- spoken_of(document$said$measures, unlist(said[c("show", "sort", "keep", "against")]))
  measures <- lapply(stats::setNames(names(report), names(report)), function(name) {
    measure_said(report[[name]], name, document, values, list("measures", name))
  })
  own <- Filter(function(item) !is.null(item$own),
    at_line(document, path, shown_items(said, document$said$measures)))
  names(own) <- vapply(own, function(item) if (isTRUE(item$unnamed)) "" else item$name, "")
  c(measures, lapply(own, function(item) {
    said(read_expression(filled_or_stop(item$own, values, document, path), "show")$expr)
  }))
}

# A measure may speak of those before it: not of itself, nor of a later one.
check_measure_order <- function(document, book) {
  measures <- document$said$measures
  for (i in seq_along(measures)) {
    one <- measures[[i]]
    text <- gsub("\"[^\"]*\"", "", as.character(if (is.list(one)) one$show else one))
    words <- unlist(regmatches(text, gregexpr("[A-Za-z.][A-Za-z0-9._]*(?!\\s*\\()\\b",
      text, perl = TRUE)))
    after <- setdiff(
      intersect(words, names(measures)[i:length(measures)]),
      c(names(book$columns), names(book$calendars), period_units, names(book$records),
        unlist(lapply(book$records, function(record) names(record$book$columns))))
    )
    if (length(after) > 0L) {
      what <- if (names(measures)[i] %in% after) "speaks of itself" else paste0(
        "speaks of ", quoted(after[1L]), ", which comes after it"
      )
      raise_key(
        document, list("measures", names(measures)[i]),
        paste0("The measure ", quoted(names(measures)[i]), " ", what, "."),
        "Put what it needs before it."
      )
    }
  }
}

measure_said <- function(one, name, document, values, path) {
  if (!is.list(one)) one <- list(show = one)
  expr <- list(
    as.name("measure"), at_line(document, path,
      read_expression(filled_or_stop(one$show, values, document, path), name))$expr
  )
  for (key in intersect(c("label", "description"),
    names(one))) expr[[key]] <- filled_text(one[[key]], values, document, path)
  for (
    key in intersect(c("format", "total"), names(one))
  ) expr[[key]] <- at_line(document, path, read_expression(one[[key]], key))$expr
  if (!is.null(one$history)) expr$history <- read_expression(as.character(one$history),
    "history")$expr
  if (isTRUE(one$bar)) expr$bar <- TRUE
  if (!is.null(one$marks)) expr$marks <- as.call(c(as.name("c"), lapply(one$marks, function(rule) {
    at_line(document, path, read_expression(filled_or_stop(rule, values, document,
      path), "marks"))$expr
  })))
  said(as.call(expr))
}

filled_or_stop <- function(text, values, document, path) {
  filled <- filled_expression(text, values, document, path)
  if (is.null(filled)) raise_key(
    document, path, "A measure speaks of a parameter that has no value.",
    "Give the parameter a default."
  )
  filled
}
