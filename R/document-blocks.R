# The blocks of a document as tables, figures and texts.

# The blocks of a page, those side by side each for itself: list(kind, said, path).
flat_page <- function(document) {
  flat <- function(blocks, path) {
    unlist(lapply(seq_along(blocks), function(i) {
      kind <- names(blocks[[i]])
      here <- c(path, list(i))
      if (kind == "beside") flat(blocks[[i]][[kind]], c(here, list("beside")))
      else list(list(kind = kind, said = blocks[[i]][[kind]], path = here))
    }), recursive = FALSE)
  }
  flat(document$said$page, list("page"))
}

document_block <- function(kind, said, document, book, values, path) {
  book <- limited_book(book, said, values, document, path)
  fill <- function(text) {
    if (is.null(text)) NULL else filled_expression(text, values, document, path)
  }
  axes <- function(key) lapply(unlist(said[[key]]), function(word) axis_said(word, book))
  request <- function(kind) block_request(kind, said, document, values, path, axes, fill)
  build <- list(
    rollup = function() make_table(request("rollup"), book),
    crosstab = function() make_table(request("crosstab"), book),
    listing = function() make_table(request("listing"), book),
    headlines = function() make_table(request("headlines"), book),
    figure = function() {
      table <- make_table(request(if (is.null(c(said$rows,
        said$cols))) "rollup" else "crosstab"), book)
      kind <- figure_kind_quietly(table, said$kind)
      drawn <- function(table) {
        drawing <- drawing_of(with_axis_labels(draw_figure(table, kind), unlist(said$axis_labels)))
        drawing$drawn_again <- drawn
        drawing
      }
      drawn(table)
    }
  )
  at_line(document, path, build[[kind]]())
}

# What a block says, in the shape in which every table is asked.
block_request <- function(kind, said, document, values, path, axes, fill) {
  new_request(kind,
    rows = axes(switch(kind, rollup = "by", listing = "groups", "rows")),
    cols = axes("cols"), lines = axes("lines"), measures = block_measures(said,
      document, values, path),
    show = if (!is.null(document$said$measures)) {
      vapply(at_line(document, path, shown_items(said, document$said$measures)), `[[`, "", "name")
    },
    totals = sides_said(said[["totals"]]) %||% (if (kind == "listing") "all" else "none"),
    totals_at = sides_said(said$totals_at) %||% "end", sort = rules_said(said$sort, "sort", fill),
    keep = rules_said(said$keep, "keep", fill), members = said$members %||% "shown",
    look = said[intersect(names(said), names(table_looks()))], per = said(said$per),
    against = against_said(said$against, fill),
    history = said(if (!identical(said$history, "none")) as.name(said$history %||% "month"))
  )
}

# The figures that texts may show: each measure of the report, over everything, as its format shows
# it, worked out when a text speaks of it.
named_figures <- function(document, book, values) {
  names <- names(document$said$measures)
  stats::setNames(lapply(names, function(name) {
    function() {
      path <- list("measures", name)
      said <- block_measures(list(show = name), document, values, path)
      x <- at_line(document, path, asked_figures(new_request("rollup", measures = said,
        show = name), book))
      value <- x$figures[[name]]
      if (is.numeric(value)) format_by(value, x$measures[[name]]$format) else as.character(value)
    }
  }), names)
}
