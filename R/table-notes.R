# What a reader must know to read the table right: each note once, in the order of weight.

table_notes <- function(table) {
  c(part_way_note(table), left_out_notes(table))
}

part_way_note <- function(table) {
  if (!any(table$part_way)) {
    return(character())
  }
  grain <- table$grain
  start <- period_start(table$as_of, grain$unit, grain$calendar)
  end <- period_end(table$as_of, grain$unit, grain$calendar)
  label <- period_labels(start, grain$unit, grain$calendar)
  compared <- any(vapply(table$ask$measures, function(m) has_lens(m$tree, "prior"), logical(1L)))
  paste0(
    label, " is part-way: ", table$as_of - start + 1L, " of ", end - start + 1L, " days, to ", day_words(table$as_of),
    if (compared) "; comparatives cover the same days", "."
  )
}

has_lens <- function(tree, fn) {
  (tree$kind == "lens" && tree$fn == fn) || any(vapply(subtrees(tree), has_lens, logical(1L), fn = fn))
}

left_out_notes <- function(table) {
  left <- table$facts$left_out
  if (nrow(left) == 0L) {
    return(character())
  }
  counted <- paste(format_count(left$lines), ifelse(left$lines == 1, "line", "lines"), left$reason)
  paste0("Left out: ", paste(counted, collapse = "; "), ".")
}

format_count <- function(n) format(n, big.mark = ",", scientific = FALSE, trim = TRUE)

# The standing facts of a table, a line each: calendar, as-of date and lines used, scope.
table_facts <- function(table) {
  calendars <- vapply(table$calendars, function(calendar) calendar$words$long, "")
  facts <- c(
    paste0(
      paste(calendars, collapse = " and "), ", as of ", day_words(table$as_of), ", ",
      format_count(table$facts$used), " of ", format_count(table$facts$read), " order lines"
    ),
    if (length(table$scope) > 0L) paste("scope:", paste(table$scope, collapse = " and "))
  )
  facts
}

table_title <- function(table) {
  measures <- vapply(table$ask$measures, `[[`, "", "label")
  axes <- vapply(table$ask$axes, `[[`, "", "label")
  and <- function(x) if (length(x) > 1L) paste(paste(x[-length(x)], collapse = ", "), "and", x[length(x)]) else x
  title <- and(measures)
  if (length(axes) > 0L) title <- paste(title, "by", and(axes))
  paste0(toupper(substr(title, 1L, 1L)), substr(title, 2L, nchar(title)))
}
