# Checks of single arguments, used at the exported doors.

check_text <- function(x, name, optional = FALSE) {
  if (optional && is.null(x)) {
    return(invisible(x))
  }
  if (!is.character(x) || length(x) != 1L || is.na(x)) {
    raise("argument", c(paste0(argument_said(name), " must be one text."),
      "x" = "It is {type_words(x)}."))
  }
  invisible(x)
}

check_flag <- function(x, name) {
  if (!is.logical(x) || length(x) != 1L || is.na(x)) {
    raise("argument", c(paste0(argument_said(name), " must be TRUE or FALSE."),
      "x" = "It is {type_words(x)}."))
  }
  invisible(x)
}

check_whole <- function(x, name, least = -Inf, most = Inf) {
  if (!is_whole(x) || x < least || x > most) {
    said <- if (is.atomic(x) && length(x) == 1L) paste0(": ", x)
    raise("argument", c(
      paste0(argument_said(name), " must be one whole number", range_words(least, most), "."),
      "x" = "It is {type_words(x)}{said}."
    ))
  }
  as.integer(x)
}

is_whole <- function(x) is.numeric(x) && length(x) == 1L && !is.na(x) && x == round(x)

range_words <- function(least, most) {
  if (is.finite(most)) {
    return(paste(" from", least, "to", most))
  }
  if (is.finite(least)) paste(" of at least", least)
}

check_choice <- function(x, choices, name) {
  if (!is.character(x) || length(x) != 1L || is.na(x) || !x %in% choices) {
    said <- if (is.character(x) && length(x) == 1L) quoted(x) else "not one of the words"
    raise("argument", c(
      paste0(argument_said(name), " must be one of {.val {choices}}."),
      "x" = paste0("It is ", said, "."),
      if (is.character(x) && length(x) == 1L) advise_word(x, choices, "words")
    ))
  }
  x
}

# R takes a name that is the beginning of an argument's for that argument: a measure named
# `row` would become `rows`.
check_names_whole <- function(call, arguments) {
  for (name in setdiff(names(call), c("", arguments))) {
    taken <- setdiff(arguments[startsWith(arguments, name)], names(call))
    if (length(taken) > 0L) {
      raise("argument", c(
        "R takes {.arg {name}} for the argument {.arg {taken[1]}}.",
        ">" = "Give it another name, or name {.arg {taken[1]}} in full."
      ))
    }
  }
}

# The columns that tables have besides axes and figures: no column or measure carries such a name.
names_of_tables <- c(".role", ".measure", ".line", ".part", ".record", ".estimated")

check_column <- function(word, names) {
  if (!word %in% names) {
    raise("column", c(paste0("There is no column ", quoted(word), "."),
      advise_word(word, names, "columns")))
  }
  invisible(word)
}
