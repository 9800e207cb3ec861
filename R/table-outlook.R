# What a table tells of its outlooks: by which rule, and how far the same rule was off before, at
# the same day of the last twelve periods.

most_looked_back <- 12L

outlook_notes <- function(table) {
  measures <- Filter(function(m) looks_through(m, "outlook"), table$ask$measures)
  estimated <- Filter(function(m) any(table$rows$estimated[[m$name]]), measures)
  unlist(lapply(unname(estimated), outlook_note, table = table))
}

outlook_note <- function(measure, table) {
  nodes <- tree_collect(measure$tree, function(one) if (one$kind == "outlook") list(one))
  vapply(nodes, function(node) {
    unit <- node$options$unit %||% table$grain
    paste0(estimate_mark, " ", sentence_case(measure$label), " is an estimate: ",
      outlook_words(c(node$options["by"],
      list(unit = unit)), day_words(min(table$as_of, table$covered, table$shown$last))), ". ",
      how_far_off(node, unit, table))
  }, "")
}

estimate_mark <- "\u2248"

how_far_off <- function(node, unit, table) {
  errors <- errors_before(node, unit, table)
  what <- unit_plural(unit$unit)
  if (length(errors) < 3L) {
    return(paste0("Fewer than three ", what, " before tell how far off that is."))
  }
  paste0("At the same day of the last ", length(errors), " ", what, " it was within ",
    percent_words(stats::median(abs(errors))), " half of the time, at most ",
    percent_words(max(abs(errors))), " off.")
}

percent_words <- function(x) paste0(format(round(100 * x, 1), nsmall = 1L), "%")

# The rule's figure at the matching day of each earlier period, less the figure of the whole, as a
# part of it.
errors_before <- function(node, unit, table) {
  unit <- unit[c("unit", "calendar")]
  node$options$unit <- unit
  before <- function(tree, n) {
    node("lens", fn = "prior", child = tree, options = list(unit = unit, n = n, match = "position",
      trading = FALSE, sold = FALSE))
  }
  whole <- node("lens", fn = "whole", child = node$child, options = list(unit = unit))
  ns <- seq_len(most_looked_back)
  trees <- c(lapply(ns, function(n) current_at(before(node, n), unit)),
    lapply(ns, function(n) current_at(before(whole, n), unit)))
  measures <- stats::setNames(Map(new_measure, paste0("m", seq_along(trees)), trees), paste0("m",
    seq_along(trees)))
  figures <- vapply(answer(new_ask("rollup", list(), measures),
    table$book)$rows$figures, as.numeric, 0)
  rule <- figures[ns]
  actual <- figures[most_looked_back + ns]
  errors <- rule / actual - 1
  errors[is.finite(errors)]
}

# Worked out in the period that holds the last day shown.
current_at <- function(tree, unit) {
  node("lens", fn = "so_far", child = tree, options = list(unit = unit))
}

# Files tell estimates by a column of their own, which tables without one do not have.
estimated_column <- function(estimated) {
  any <- Reduce(`|`, lapply(estimated, function(rows) rows %in% TRUE), FALSE)
  if (any(any)) list(.estimated = any)
}

# Of the rows of a wide cross-tab, where several lines are of one row.
estimated_by_row <- function(x, n) {
  lapply(x$rows$estimated, function(cells) {
    rows <- tapply(cells, factor(x$grid$row, levels = seq_along(x$grid$row_head)), any)
    rep(as.vector(rows) %in% TRUE, each = n / length(x$grid$row_head))
  })
}
