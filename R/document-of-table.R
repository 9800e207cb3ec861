# A table as a block of a standing report.

saved_block <- function(part, label, table, book) {
  label <- if (nzchar(label)) list(label = label)
  if (is.character(part)) {
    return(list(text = paste(part, collapse = "\n")))
  }
  said <- saved_ask(table)
  own <- saved_limits(table_book(table), book)
  if (inherits(part, "ggplot")) {
    return(
      list(
        figure = Filter(Negate(is.null), c(
          said[intersect(names(said), c("by", "rows", "cols", "show", "sort", "keep"))],
          list(kind = attr(part, "drystack")$kind, axis_labels = attr(part,
            "drystack")$axis_labels), label, own
        ))
      )
    )
  }
  # What changed is said of the whole report's orders.
  since <- attr(part, "changes_since")
  if (!is.null(since) && length(own) == 0L) {
    return(list(changes = c(said[c("by", "show")], if (nzchar(since)) list(since = since), label)))
  }
  stats::setNames(list(c(said, label, own)), table$kind)
}

# Conditions and dates shown that a table has beyond those of the report.
saved_limits <- function(own, book) {
  texts <- condition_said(own$scope)
  shared <- condition_said(book$scope)
  same <- own$date == book$date && own$as_of == book$as_of && all(shared %in% texts) && identical(
    names(own$calendars), names(book$calendars)
  )
  if (!same) raise(
    "standing",
    c(
      "The tables of the report come from different daybooks.",
      ">" = "Make them from one daybook, with more conditions where needed."
    )
  )
  Filter(function(v) length(v) > 0L, list(
    only = as.list(setdiff(texts, shared)), shown = if (!identical(own$shown, book$shown))
      saved_shown(own)
  ))
}

saved_ask <- function(x) {
  ask <- x$ask
  show <- as.list(if (ask$kind == "headlines") headline_names(ask) else names(ask$measures))
  axes <- function(names) {
    as.list(vapply(names, axis_text, "", ask = ask, book = table_book(x), USE.NAMES = FALSE))
  }
  rules <- list(
    sort = lapply(ask$sort[setdiff(names(ask$sort), implied_sorts(ask))], rule_text),
    keep = kept_texts(ask)
  )
  sides <- function(words) if (length(unique(words)) == 1L) words[[1L]] else as.list(words)
  said <- switch(x$kind,
    rollup = list(
      by = axes(names(ask$axes)), show = show, totals = ask$totals[["rows"]],
      totals_at = ask$totals_at[["rows"]], members = said_members(ask)
    ),
    crosstab = list(
      rows = axes(side_axes(ask, "rows")), cols = axes(side_axes(ask, "cols")),
      show = show, totals = sides(ask$totals), totals_at = sides(ask$totals_at),
      members = said_members(ask)
    ),
    listing = list(
      groups = axes(names(group_axes(ask))), lines = axes(names(ask$listing$columns)),
      show = show, per = ask$listing$per$name, totals = ask$totals[["rows"]],
      totals_at = ask$totals_at[["rows"]]
    ),
    headlines = list(show = show, against = saved_against(x), history = x$history$said %||% "none")
  )
  Filter(function(v) length(v) > 0L, c(said, unusual_looks(ask), rules))
}

kept_texts <- function(ask) {
  rules <- c(ask$keep, ask$keep_where)
  Map(keep_text, rules, names(rules) %in% names(Filter(is_period_axis, ask$axes)))
}

said_members <- function(ask) if (ask$members != "shown") ask$members

axis_text <- function(name, ask, book) {
  axis <- ask$listing$time_groups[[name]] %||% ask$axes[[name]] %||% ask$listing$columns[[name]]
  labels <- c(if (axis$labelled && !identical(axis$label, book$labels[[axis$name]])) axis$label,
    if (isTRUE(axis$calendar$labels[[axis$unit %||% ""]]$said))
      axis$calendar$labels[[axis$unit]]$label)
  own <- c(if (length(labels) > 0L) paste("label =", value_text(labels)),
    if (!is.null(axis$total)) paste("total =", value_text(axis$total)),
    if (isTRUE(axis$repeated)) "repeated = TRUE")
  word <- axis_word(axis, book)
  if (length(own) == 0L) word else arguments_text("axis", c(word, own))
}

axis_word <- function(axis, book) {
  if (axis$kind == "dimension") {
    return(axis$name)
  }
  word <- axis$unit %||% axis$part
  calendar <- names(book$calendars)[vapply(book$calendars,
    function(c) identical(c$id, axis$calendar$id), NA)][1L]
  if (calendar == names(book$calendars)[1L]) word else paste0(calendar, "$", word)
}

saved_against <- function(x) {
  lapply(x$compared, function(with) {
    if (is.null(with)) "none" else if (with$share) paste0("share(", tree_text(with$tree),
      ")") else with$unit
  })
}
