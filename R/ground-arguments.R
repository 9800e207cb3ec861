# Checks of single arguments, used at the exported doors.

check_text <- function(x, name, optional = FALSE) {
  if (optional && is.null(x)) {
    return(invisible(x))
  }
  if (!is.character(x) || length(x) != 1L || is.na(x)) {
    raise("argument", c("{.arg {name}} must be one text.", "x" = "It is {.obj_type_friendly {x}}."))
  }
  invisible(x)
}

check_flag <- function(x, name) {
  if (!is.logical(x) || length(x) != 1L || is.na(x)) {
    raise("argument", c("{.arg {name}} must be TRUE or FALSE.", "x" = "It is {.obj_type_friendly {x}}."))
  }
  invisible(x)
}

check_whole <- function(x, name, least = -Inf, most = Inf) {
  ok <- is.numeric(x) && length(x) == 1L && !is.na(x) && x == round(x) && x >= least && x <= most
  if (!ok) {
    range <- if (is.finite(least) && is.finite(most)) " from {least} to {most}" else if (is.finite(least)) " of at least {least}" else ""
    raise("argument", c(
      paste0("{.arg {name}} must be one whole number", range, "."),
      "x" = "It is {.obj_type_friendly {x}}{if (is.atomic(x) && length(x) == 1) paste0(': ', x)}."
    ))
  }
  as.integer(x)
}

check_choice <- function(x, choices, name) {
  if (!is.character(x) || length(x) != 1L || is.na(x) || !x %in% choices) {
    said <- if (is.character(x) && length(x) == 1L) quoted(x) else "not one of the words"
    raise("argument", c(
      "{.arg {name}} must be one of {.val {choices}}.",
      "x" = paste0("It is ", said, "."),
      if (is.character(x) && length(x) == 1L) advise_word(x, choices, "words")
    ))
  }
  x
}
