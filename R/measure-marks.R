# Marks: words that stand beside a figure where a rule holds, such as `falling = growth < 0`. A rule
# compares figures of the same row: measures of the table by name, numbers, and sums of these.

comparisons <- c("<", "<=", ">", ">=")

# c("falling" = growth < 0): for each its word and the expression.
marks_said <- function(said) {
  if (is.null(said)) {
    return(NULL)
  }
  rules <- if (rlang::is_call(said, c("c", "list"))) as.list(said)[-1L] else list(said)
  if (!all(nzchar(rlang::names2(rules)))) raise("argument", c("Each mark has a word.",
    ">" = "For example {.code marks = c(\"falling\" = growth < 0)}."))
  for (rule in rules) {
    if (!rlang::is_call(rule, comparisons, n = 2L)) raise_mark(rule)
    check_mark_side(rule[[2L]], rule)
    check_mark_side(rule[[3L]], rule)
  }
  rules
}

check_mark_side <- function(side, rule) {
  if (rlang::is_symbol(side) || is.numeric(side) && length(side) == 1L) {
    return(invisible())
  }
  if (!rlang::is_call(side, c("+", "-", "*", "/", "("))) raise_mark(rule)
  for (part in as.list(side)[-1L]) check_mark_side(part, rule)
}

raise_mark <- function(rule) {
  raise("expression", c(
    paste0("A mark compares figures of its row, which ", quoted(rlang::as_label(rule)), " does not."),
    ">" = "Write measures of the table and numbers: {.code sales > 1.2 * ly}, {.code growth < 0}."
  ))
}

# Every name must be a figure that the table shows.
check_marks <- function(measures) {
  for (measure in measures) {
    for (rule in measure$marks) {
      unknown <- setdiff(all.vars(rule), names(measures))
      if (length(unknown) > 0L) raise("column", c(
        paste0("A mark of ", quoted(measure$name), " speaks of ", quoted(unknown[1L]),
          ", which the table does not show."),
        advise_word(unknown[1L], names(measures), "figures")
      ))
    }
  }
}

# The word at each figure of a measure, "" where no rule holds; of several the first.
marks_of <- function(measure, figures) {
  words <- rep("", length(figures[[measure$name]]))
  figures <- Filter(is.numeric, figures)
  for (word in names(measure$marks)) {
    rule <- measure$marks[[word]]
    holds <- if (all(all.vars(rule) %in% names(figures))) mark_value(rule, figures) else FALSE
    words[words == "" & holds & !is.na(holds)] <- word
  }
  words
}

mark_value <- function(said, figures) {
  if (rlang::is_symbol(said)) {
    return(figures[[rlang::as_string(said)]])
  }
  if (!rlang::is_call(said)) {
    return(said)
  }
  args <- lapply(as.list(said)[-1L], mark_value, figures = figures)
  do.call(get(rlang::as_string(said[[1L]]), baseenv()), unname(args))
}

marks_text <- function(marks) {
  if (length(marks) > 0L) lapply(marks, function(rule) paste(deparse(rule, 500L), collapse = " "))
}
