# What the reading of the file could not settle.

find_reading <- function(orders, today) {
  lapply(orders$findings, function(found) {
    if (found$kind == "totals lines") {
      new_finding(
        "totals lines", length(found$rows), rows_of(found$rows),
        "They look like totals, but the lines above do not prove them: correct or remove them."
      )
    } else {
      new_finding("amounts as text", length(found$examples), examples_of(found$examples),
        paste0(unsettled_words(found$examples[1L]), "."), found$name)
    }
  })
}

# The same in one line.
finding_words <- function(found) {
  if (found$kind == "totals lines") {
    return(paste0("Looks like totals, but the lines above do not prove it: ",
      rows_of(found$rows), "."))
  }
  paste0(quoted(found$name), " stays text: ", unsettled_words(found$examples[1L]), ".")
}
