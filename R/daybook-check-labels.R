# Checks of labels and keys: variants of one label, codes that are numbers, keys
# that lookups do not have.

find_variants <- function(book, today) {
  each_column(book, function(x, name) {
    if (!(is.character(x) || is.factor(x))) {
      return(NULL)
    }
    coded <- labels_of_column(book, name)
    usual <- usual_spelling(coded$labels, coded$lines)
    odd <- which(coded$lines > 0L & usual != seq_along(usual))
    if (length(odd) == 0L) {
      return(NULL)
    }
    odd <- odd[order(coded$labels[odd], method = "radix")]
    column <- name_text(name)
    pairs <- paste(
      encodeString(coded$labels[odd], quote = "\""), "for",
      encodeString(coded$labels[usual[odd]], quote = "\"")
    )
    new_finding(
      "label variants", sum(coded$lines[odd]), paste(utils::head(pairs, 5L), collapse = ", "),
      paste0("Each counts as a member of its own. Correct them, or say ",
        work_out_said(name, paste0("one_spelling(", column, ")")), "."), name
    )
  })
}

find_codes <- function(book, today) {
  each_column(book, function(x, name) {
    if (!looks_like_code(x, name)) {
      return(NULL)
    }
    new_finding(
      "codes as numbers", sum(!is.na(x)), paste(format_plain(utils::head(unique(x[!is.na(x)]), 5L)),
        collapse = ", "),
      "A code is not an amount: count it with distinct(), or read it as text.", name
    )
  })
}

find_unmatched <- function(book, today) {
  lapply(book$lookups, function(lookup) {
    if (length(lookup$keys) == 0L) {
      return(NULL)
    }
    new_finding(
      "unmatched keys", length(lookup$keys), paste0(examples_of(lookup$keys),
        " on ", counted_lines(lookup$lines)),
      paste0("They have no row in ", lookup$name, ": enter them there.",
        if (!is.null(lookup$alike)) paste0(" Of these ",
          alike_words(lookup$alike, lookup$by))), lookup$by
    )
  })
}
