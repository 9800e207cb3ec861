# What single cells look like: numbers, dates, names, words for what is not known.

unknown_words <- c("-", "--", "\u2013", "\u2014", "n/a", "n.a.", "na", "#n/a", "nil",
  "null", "none", "tbc", "tba", "?", "unknown", "#value!", "#ref!", "#div/0!", "nan")

# Only the letters of ASCII are made small, in any locale and of any text.
is_unknown_word <- function(texts) {
  short <- which(nchar(texts, "bytes") <= 12L)
  plain <- kernel_trimmed(texts[short])
  ascii <- !grepl("[^ -~]", plain, useBytes = TRUE)
  plain[ascii] <- tolower(plain[ascii])
  seq_along(texts) %in% short[plain %in% unknown_words]
}

is_number_cell <- function(texts) {
  grepl(paste0("^[-+(]?([[:punct:]\u00a3\u20ac$ ]|[A-Z]{3})*[0-9][0-9.,'\u00a0 -]*",
    "([%)\u00a3\u20ac$k]| ?[A-Z]{2,3})*$"), texts)
}

is_date_cell <- function(texts) {
  grepl(ordered_form, texts) | grepl("^[0-9]{1,2}[. -]+[[:alpha:]]{3,}", texts)
}

# No number, no date, no sentence.
like_names <- function(cells) {
  number <- grepl("^[-+(]?[[:punct:]\u00a3\u20ac$ ]*[0-9][0-9.,/: -]*[%)]?$", cells)
  nchar(cells) <= 60L & !number & grepl("[^[:punct:][:space:]]", cells)
}

sampled_records <- 60L
