# What a reader must know to read the table right: each note once, in the order of weight.

table_notes <- function(table) {
  c(part_way_note(table), record_note(table), missing_notes(table), left_out_notes(table))
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

record_note <- function(table) {
  if (!table$before_record) {
    return(character())
  }
  paste0(
    "The record begins on ", day_words(table$first), ": figures that reach back before it count from there, and are ",
    "unknown where they lie wholly before it."
  )
}

missing_notes <- function(table) {
  missing <- table$missing[table$missing > 0]
  if (length(missing) == 0L) {
    return(character())
  }
  paste0(names(missing), " is unknown on ", counted_lines(missing), ", left out of its figures.")
}

left_out_notes <- function(table) {
  left <- table$facts$left_out
  if (nrow(left) == 0L) {
    return(character())
  }
  counted <- paste(counted_lines(left$lines), left$reason)
  paste0("Left out: ", paste(counted, collapse = "; "), ".")
}

counted_lines <- function(n) paste(format_count(n), ifelse(n == 1, "line", "lines"))

format_count <- function(n) format(n, big.mark = ",", scientific = FALSE, trim = TRUE)

# The standing facts of a table, a line each: calendar, as-of date and lines used, scope.
table_facts <- function(table) {
  calendars <- vapply(table$calendars, function(calendar) calendar$words$long, "")
  c(
    paste0(
      if (length(calendars) > 0L) paste0(paste(calendars, collapse = "; "), "; "), "as of ", day_words(table$as_of), "; ",
      format_count(table$facts$used), " of ", format_count(table$facts$read), " order lines"
    ),
    if (length(table$scope) > 0L) paste("scope:", paste(table$scope, collapse = " and "))
  )
}

table_title <- function(table) {
  measures <- vapply(table$ask$measures, `[[`, "", "label")
  axes <- vapply(table$ask$axes, `[[`, "", "label")
  title <- joined_words(measures)
  if (length(axes) > 0L) title <- paste(title, "by", joined_words(axes))
  sentence_case(title)
}

joined_words <- function(x) {
  n <- length(x)
  if (n > 1L) paste(paste(x[-n], collapse = ", "), "and", x[n]) else x
}

sentence_case <- function(text) paste0(toupper(substr(text, 1L, 1L)), substr(text, 2L, nchar(text)))
