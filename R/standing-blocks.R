# The blocks of a standing report's page: each becomes a table, a figure or a text.

# earlier: see told_since(); NULL where no part of the page speaks of an earlier build.
standing_parts <- function(document, book, values, earlier = NULL) {
  check_measure_order(document, book)
  figures <- named_figures(document, book, values)
  made <- function(block, path) standing_part(block, path, document, book, values, figures, earlier)
  parts <- Map(made, document$said$page, lapply(seq_along(document$said$page),
    function(i) list("page", i)))
  stats::setNames(lapply(parts, `[[`, "part"), vapply(parts, `[[`, "", "label"))
}

# One block as a part of the page, with its label.
standing_part <- function(block, path, document, book, values, figures, earlier) {
  kind <- names(block)
  said <- block[[kind]]
  if (kind == "text") {
    return(list(label = "", part = filled_text(as.character(said), values, document,
      path, figures)))
  }
  if (kind == "beside") {
    made <- lapply(seq_along(said), function(i) {
      standing_part(said[[i]], c(path, list("beside", i)), document, book, values, figures, earlier)
    })
    names <- vapply(made, `[[`, "", "label")
    parts <- stats::setNames(lapply(made, `[[`, "part"), names)
    return(list(label = "", part = at_line(document, path, beside(!!!parts))))
  }
  label <- if (is.null(said$label)) "" else filled_text(said$label, values, document, path)
  if (kind == "changes") {
    page <- list(document = document, book = book, values = values)
    return(list(label = label, part = changed_part(said, path, page, earlier)))
  }
  list(label = label, part = document_block(kind, said, document, book, values, path))
}
