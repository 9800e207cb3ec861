# The arguments of words, as they were written.

# Something stands between two commas, and before the bracket that closes.
check_no_gaps <- function(said) {
  gaps <- vapply(as.list(said)[-1L], function(part) identical(part, quote(expr = )), NA)
  if (any(gaps)) raise("expression", c(paste0(quoted(code_text(said)), " has a comma too many."),
    ">" = "Take it out, or say what is missing."))
}

# The arguments of a word in their places: those said by name go where the name says. A word that
# takes any number of them takes no names.
placed_arguments <- function(fn, said, takes) {
  given <- as.list(said)[-1L]
  names <- rlang::names2(given)
  if (all(names == "")) {
    return(unname(given))
  }
  takes <- setdiff(takes, "...")
  unknown <- setdiff(names, c("", takes))
  if (length(unknown) > 0L || anyDuplicated(names[names != ""]) > 0L ||
    length(given) > length(takes)) {
    raise("expression", c(
      "{.fn {fn}} does not take these arguments.",
      "x" = if (length(unknown) > 0L) "It has none named {examples_of(unknown)}."
        else "An argument is given twice, or there are too many.",
      ">" = if (length(takes) > 0L) paste0("Its arguments: ", words_of(takes), ".")
        else "Its arguments have no names: leave the names out."
    ))
  }
  placed <- match_arguments(given, takes, fn)
  unname(placed[intersect(takes, names(placed))])
}

# Matches given arguments to names by name, then by place.
match_arguments <- function(given, names, fn) {
  said <- rlang::names2(given)
  unknown <- setdiff(said[said != ""], names)
  if (length(unknown) > 0L || length(given) > length(names)) {
    raise("expression", c(
      "{.fn {fn}} does not take these arguments.",
      "x" = if (length(unknown) > 0L) "It has none named {examples_of(unknown)}."
        else "It takes at most {length(names)}.",
      ">" = "Its arguments: {names}."
    ))
  }
  free <- setdiff(names, said)
  said[said == ""] <- utils::head(free, sum(said == ""))
  stats::setNames(given, said)
}

# How the arguments after the measure were written, for the canonical text.
said_options <- function(given) {
  said <- vapply(given, code_text, "")
  names <- rlang::names2(given)
  unname(ifelse(names == "", said, paste(names, "=", said)))
}
