# What the reading of the file could not settle.

find_reading <- function(orders, today) {
  lapply(orders$findings, function(found) {
    if (found$kind == "totals lines") {
      new_finding(
        "totals lines", length(found$rows), rows_of(found$rows),
        "They look like totals, but the lines above do not prove them: mend or remove them."
      )
    } else {
      new_finding("amounts as text", length(found$examples), examples_of(found$examples),
        unsettled_advice(), found$name)
    }
  })
}

unsettled_advice <- function() {
  paste0("Both marks are possible: say ", option_said("decimal", "."),
    " or ", option_said("decimal", ","), ".")
}

# The same in one line.
finding_words <- function(found) {
  if (found$kind == "totals lines") {
    return(paste0("Looks like totals, but the lines above do not prove it: ", rows_of(found$rows), "."))
  }
  paste0(quoted(found$name), " stays text: ", examples_of(found$examples, 3L), ". ", unsettled_advice())
}
