# Labels that differ in case and blanks only are one label spelt in several ways.

plain_spelling <- function(labels) gsub("\\s+", " ", kernel_trimmed(tolower(shown_text(labels))))

# Which of the labels stands for each: of those spelt alike the one with most
# lines, the earlier of two.
usual_spelling <- function(labels, lines) {
  plain <- plain_spelling(labels)
  usual <- vapply(split(seq_along(labels), plain), function(same) same[which.max(lines[same])], 1L)
  unname(usual[plain])
}

# Labels whose usual spelling is settled already.
spelt_values <- function(x, labels, usual) usual[match(as.character(as_plain(x)), labels)]

one_spelling <- function(x) {
  text <- as.character(as_plain(x))
  labels <- unique(text[!is.na(text)])
  place <- match(text, labels)
  labels[usual_spelling(labels, tabulate(place, length(labels)))][place]
}
