# What a table tells of its bridges: over which members, by which prices, and whether quantities are
# of one unit.

bridge_notes <- function(table) {
  trees <- lapply(Filter(function(m) m$tree$kind == "effect", table$ask$measures), `[[`, "tree")
  keys <- vapply(trees, function(tree) paste(tree$over$id, tree$units$id, tree$with_quantity), "")
  unlist(lapply(unname(trees[!duplicated(keys)]), bridge_note, table = table))
}

bridge_note <- function(tree, table) {
  over <- plain_words(tree$over$column)
  if (!tree$with_quantity) {
    return(paste0("Change is of the members of ", over,
      " with lines on both sides; new and gone of one side alone."))
  }
  c(paste0("Volume, mix and price compare each ", over,
    " with itself, quantities at the prices of before",
    if (!is.null(tree$units)) paste0(", volumes within each ",
      plain_words(tree$units$column)), "."),
    if (is.null(tree$units)) mixed_units_note(table))
}

# Quantities in tonnes and pieces make no volume together.
unit_names <- "^(unit|units|uom|unit_of_measure)$"

mixed_units_note <- function(table) {
  book <- table$book
  for (name in grep(unit_names, names(book$columns), ignore.case = TRUE, value = TRUE)) {
    known <- members(engine_of(book), column_axis(name, book))$members
    if (length(known) > 1L) {
      return(paste0("Quantities are of ", length(known), " units (", examples_of(known, 4L),
        "), which make no volume together: units = ", name, " counts volumes within each."))
    }
  }
}
