# Keys that a lookup has but for their writing: leading zeros, case, blanks.

# Keys without a row beside those of the lookup that are like them: list(ours, theirs, zeros:
# whether leading zeros are all that differs), NULL where none are.
keys_alike <- function(unmatched, lookup, engine) {
  if (length(unmatched) == 0L || !is.null(lookup$decode)) {
    return(NULL)
  }
  theirs <- member_text(plain_values(engine$meanings[[lookup$id]]$keys))
  stems <- remembered_in(engine$kept, paste("stems", lookup$id), function() key_stem(theirs))
  at <- match(key_stem(unmatched), stems)
  if (all(is.na(at))) {
    return(NULL)
  }
  ours <- unmatched[!is.na(at)]
  like <- theirs[at[!is.na(at)]]
  list(ours = ours, theirs = like, zeros = all(without_zeros(ours) == without_zeros(like)))
}

key_stem <- function(text) tolower(without_zeros(gsub("[[:space:]\u00a0]+", "", text)))

without_zeros <- function(text) sub("^0+(?=.)", "", text, perl = TRUE)

# "7" for "0007", and what mends it.
alike_words <- function(alike, by) {
  pairs <- paste(encodeString(alike$ours, quote = "\""), "for",
    encodeString(alike$theirs, quote = "\""))
  paste0(
    format_count(length(alike$ours)), if (length(alike$ours) == 1L) " is" else " are",
    " there in another writing: ", paste(utils::head(pairs, 3L), collapse = ", "),
    if (alike$zeros) zeros_words(alike, by)
    else paste0(". Write them alike in one of the two, as ",
      work_out_said(by, paste0("trimws(toupper(",
      name_text(by), "))")), " does before the lookup is added.")
  )
}

# Zeros that the lookup lacks are left out of the orders too; those that the orders lack, as codes
# that are read as numbers do, are there in their file.
zeros_words <- function(alike, by) {
  lacking <- nchar(alike$ours[1L]) > nchar(alike$theirs[1L])
  paste0(if (lacking) ". The lookup has no leading zeros: read the orders so too, by "
    else ". Leading zeros are lost where codes are read as numbers: say ",
    pair_said("types", by, if (lacking) "amount" else "text"), ".")
}
