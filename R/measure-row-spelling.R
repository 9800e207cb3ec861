# Labels that differ in case, blanks and signs that one does not see are one label spelt in
# several ways.

plain_spelling <- function(labels) {
  # One word of plain signs differs by case alone.
  plain <- grepl("^[!-~]*$", labels, useBytes = TRUE)
  seen <- gsub(zero_width, "", labels[!plain], perl = TRUE)
  labels[!plain] <- kernel_trimmed(gsub(paste0("(\\s|", spaces, ")+"), " ",
    tolower(shown_text(seen)),
    perl = TRUE))
  labels[plain] <- tolower(labels[plain])
  labels
}

zero_width <- "[\u00ad\u200b-\u200d\u2060\ufeff]"

# Which of the labels stands for each: of those spelt alike the one with most
# lines, the earlier of two.
usual_spelling <- function(labels, lines) {
  plain <- plain_spelling(labels)
  usual <- seq_along(labels)
  alike <- which(plain %in% plain[duplicated(plain)])
  for (same in split(alike, plain[alike])) usual[same] <- same[which.max(lines[same])]
  usual
}

# Labels whose usual spelling is settled already.
spelt_values <- function(x, labels, usual) usual[match(as.character(as_plain(x)), labels)]

one_spelling <- function(x) {
  text <- as.character(as_plain(x))
  labels <- unique(text[!is.na(text)])
  place <- match(text, labels)
  labels[usual_spelling(labels, tabulate(place, length(labels)))][place]
}
