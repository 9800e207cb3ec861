# The known word nearest to a mistyped one, or NULL when none is near.
nearest_word <- function(word, known) {
  if (length(known) == 0L || is.na(word)) {
    return(NULL)
  }
  distance <- utils::adist(word, known, ignore.case = TRUE)[1L, ]
  # A short stem of a long word is near too: "amt" is far from "amount" by edits, "amou" is not.
  distance[startsWith(tolower(known), tolower(word)) & nchar(word) >= 3L] <- 1L
  # Two letters that changed places are one slip.
  letters_of <- function(x) {
    vapply(strsplit(tolower(x), ""), function(l) paste(sort(l), collapse = ""), "")
  }
  distance[letters_of(known) == letters_of(word)] <- 1L
  # Of several the one that also agrees in capitals.
  near <- which(distance == min(distance))
  best <- near[which.min(utils::adist(word, known[near])[1L, ])]
  if (distance[best] <= max(1L, nchar(word) %/% 3L)) known[best] else NULL
}

# The advice line of an error about an unknown word.
advise_word <- function(word, known, kind) {
  near <- nearest_word(word, known)
  if (!is.null(near)) {
    return(c(">" = paste0("Did you mean ", quoted(near), "?")))
  }
  c(">" = paste0("Known ", kind, ": ", words_of(known, most = 12L), "."))
}

# Text that goes into a message as it is: braces would be read as code by cli.
quoted <- function(x) {
  braces_kept(with_signs_shown(shown_text(encodeString(as.character(x), quote = "\""))))
}

words_of <- function(x, most = 8L) {
  phrase <- paste(utils::head(x, most), collapse = ", ")
  if (length(x) > most) phrase <- paste0(phrase, ", ...")
  braces_kept(phrase)
}

braces_kept <- function(x) gsub("([{}])", "\\1\\1", x)
