# How a table looks beside its figures: the looks that there are, by name, each with the tables that
# have it and the words it is one of (or yes and no), the usual one first. A new look is an entry
# here and in the table of fields, an argument in R, and what draws it.

table_looks <- function() {
  look <- function(kinds, values) list(kinds = kinds, values = values)
  list(
    measures_at = look("crosstab", c("cols", "rows")),
    layout = look("listing", c("columns", "indented")),
    number = look("listing", c(FALSE, TRUE)),
    after = look(c("crosstab", "listing"), c("nothing", "blank", "page")),
    empty = look("listing", c(FALSE, TRUE)),
    zeros = look(c("rollup", "crosstab", "listing"), c("shown", "blank"))
  )
}

looks_of <- function(kind) Filter(function(look) kind %in% look$kinds, table_looks())

usual_looks <- function(looks = table_looks()) lapply(looks, function(look) look$values[1L])

# What is said of a table's looks, checked; the others as usual.
read_looks <- function(said, kind) {
  looks <- looks_of(kind)
  for (name in intersect(names(looks), names(said))) {
    values <- looks[[name]]$values
    if (is.logical(values)) check_flag(said[[name]],
      name) else check_choice(said[[name]], values, name)
  }
  known <- said[intersect(names(said), names(looks))]
  utils::modifyList(usual_looks(looks), as.list(known))
}

# The looks of a table that are not the usual ones.
unusual_looks <- function(ask) {
  usual <- usual_looks(looks_of(ask$kind))
  ask$look[!mapply(identical, ask$look[names(usual)], usual)]
}
