# Marks: words that stand beside a figure where a rule holds, such as `falling = growth < 0`. A rule
# compares figures of the same row: measures of the table by name, numbers, and sums of these. Said
# inside good() or bad() the mark tells its tone too.

comparisons <- c("<", "<=", ">", ">=")

# c("falling" = bad(growth < 0)): by its word list(rule: the comparison; tone: "good",
# "bad" or "plain").
marks_said <- function(said) {
  if (is.null(said)) {
    return(NULL)
  }
  rules <- if (rlang::is_call(said, c("c", "list"))) as.list(said)[-1L] else list(said)
  if (!all(nzchar(rlang::names2(rules)))) raise("argument", c("Each mark has a word.",
    ">" = "For example {.code marks = c(\"falling\" = growth < 0)}."))
  lapply(rules, function(said) {
    toned <- rlang::is_call(said, names(mark_signs), n = 1L)
    rule <- if (toned) said[[2L]] else said
    if (!rlang::is_call(rule, comparisons, n = 2L)) raise_mark(rule)
    check_mark_side(rule[[2L]], rule)
    check_mark_side(rule[[3L]], rule)
    list(rule = rule, tone = if (toned) rlang::as_string(said[[1L]]) else "plain")
  })
}

# What stands before the word, so that the tone is told without colour.
mark_signs <- c(good = "\u2713", bad = "!")

check_mark_side <- function(side, rule) {
  if (rlang::is_symbol(side) || is.numeric(side) && length(side) == 1L) {
    return(invisible())
  }
  if (!rlang::is_call(side, c("+", "-", "*", "/", "("))) raise_mark(rule)
  for (part in as.list(side)[-1L]) check_mark_side(part, rule)
}

raise_mark <- function(rule) {
  raise("expression", c(
    paste0("A mark compares figures of its row, which ",
      quoted(rlang::as_label(rule)), " does not."),
    ">" = "Write measures of the table and numbers: {.code sales > 1.2 * ly}, {.code growth < 0}."
  ))
}

# Every name must be a figure that the table shows.
check_marks <- function(measures) {
  for (measure in measures) {
    for (mark in measure$marks) {
      unknown <- setdiff(all.vars(mark$rule), names(measures))
      if (length(unknown) > 0L) raise("column", c(
        paste0("A mark of ", quoted(measure$name), " speaks of ", quoted(unknown[1L]),
          ", which the table does not show."),
        advise_word(unknown[1L], names(measures), "figures")
      ))
    }
  }
}

# The mark at each figure of a measure, of several the first whose rule holds: list(word: "" where
# none does; tone).
marks_of <- function(measure, figures) {
  n <- length(figures[[measure$name]])
  words <- rep("", n)
  tones <- rep("plain", n)
  figures <- Filter(is.numeric, figures)
  for (word in names(measure$marks)) {
    mark <- measure$marks[[word]]
    known <- all(all.vars(mark$rule) %in% names(figures))
    holds <- words == "" & if (known) mark_value(mark$rule, figures) %in% TRUE else FALSE
    words[holds] <- paste(c(if (mark$tone != "plain") mark_signs[[mark$tone]], word),
      collapse = " ")
    tones[holds] <- mark$tone
  }
  list(word = words, tone = tones)
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
  if (length(marks) > 0L) lapply(marks, function(mark) {
    text <- paste(deparse(mark$rule, 500L), collapse = " ")
    if (mark$tone == "plain") text else arguments_text(mark$tone, text)
  })
}
