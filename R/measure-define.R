# A measure as a table holds it: a tree with the name, label and format that travel with it.
new_measure <- function(name, tree, label = name, format = NULL) {
  list(name = name, tree = tree, label = label, format = format)
}

# Reads the measures of an ask in the order given: a later one may use the earlier ones by name.
read_measures <- function(measures, book) {
  if (length(measures) == 0L) {
    raise(
      "argument", c("The request has no measure.", ">" = "Give at least one, for example {.code sales = sum(amount)}.")
    )
  }
  names <- rlang::names2(measures)
  unnamed <- names == ""
  names[unnamed] <- vapply(measures[unnamed], said_label, "")
  check_measure_names(names)
  trees <- list()
  for (i in seq_along(measures)) {
    words <- list(columns = names(book$columns), env = measures[[i]]$env, measures = trees, calendars = book$calendars)
    trees[[names[i]]] <- parse_measure(measures[[i]]$expr, words)
  }
  stats::setNames(Map(new_measure, names, trees, USE.NAMES = FALSE), names)
}

check_measure_names <- function(names) {
  repeated <- unique(names[duplicated(names)])
  if (length(repeated) > 0L) {
    raise("argument", c(
      "Measures need names of their own.",
      "x" = "More than one is named {examples_of(repeated)}."
    ))
  }
}
