# Whether values may be amounts: numbers, and not codes.

check_amount <- function(values, tree) {
  if (inherits(values, "integer64")) {
    return(values)
  }
  if (!(is.numeric(values) || is.logical(values)) || is.factor(values) ||
    inherits(values, "Date")) {
    raise_not_amount(values, tree)
  }
  values
}

# Whole numbers under a name that codes have, or different on nearly every line with
# one length, are no amounts.
check_not_code <- function(values, name) {
  if (!looks_like_code(values, name)) {
    return()
  }
  raise("amount", c(
    paste0(quoted(name), " looks like a code, not an amount: adding it up means nothing."),
    "x" = "Its values: {examples_of(utils::head(unique(values), 5))}.",
    ">" = paste0("Count it with {.code distinct(", braces_kept(name_text(name)),
      ")}; if it is an amount all the same, say ",
                 "{.code sum(as_amount(", braces_kept(name_text(name)), "))}.")
  ))
}
