# Text as people are shown it. Names, labels and values come from files of others: what would
# steer a terminal (control characters), turn the direction of writing, or break a file of marked
# text is shown as an escape.

shown_text <- function(x) {
  odd <- which(grepl(steering, x, perl = TRUE) | !validUTF8(x))
  x[odd] <- vapply(x[odd], escaped_text, "", USE.NAMES = FALSE)
  x
}

# Control characters; marks of direction, embeddings, overrides and isolates; the byte order
# mark; what is no character.
steering_points <- c(0:31, 127:159, 0x61c, 0x200e, 0x200f, 0x2028:0x202e,
  0x2066:0x2069, 0xfeff, 0xfffe, 0xffff)

steering <- "[\\x01-\\x1f\\x7f-\\x9f\u061c\u200e\u200f\u2028-\u202e\u2066-\u2069\ufeff\ufffe\uffff]"

escaped_text <- function(text) {
  points <- if (validUTF8(text)) utf8ToInt(enc2utf8(text)) else NA
  if (anyNA(points)) {
    return(encodeString(iconv(text, "UTF-8", "UTF-8", sub = "byte")))
  }
  odd <- points %in% steering_points
  pieces <- vapply(points, intToUtf8, "")
  pieces[odd] <- vapply(points[odd], escape_of, "")
  paste(pieces, collapse = "")
}

escape_of <- function(point) {
  known <- c("9" = "\\t", "10" = "\\n", "13" = "\\r")[as.character(point)]
  if (is.na(known)) sprintf("\\u%04x", point) else unname(known)
}

# Text that every function of R takes: UTF-8 without the code points that are no characters.
is_proper_text <- function(texts) {
  validUTF8(texts) & !grepl("\xef\xbf[\xbe\xbf]", texts, useBytes = TRUE, perl = TRUE)
}

# Blanks that look like the common one, and signs without width.
unseen_points <- c(0xa0, 0xad, 0x2000:0x200d, 0x202f, 0x205f, 0x2060, 0x3000, 0xfeff)

unseen <- "[\u00a0\u00ad\u2000-\u200d\u202f\u205f\u2060\u3000\ufeff]"

# Blanks other than the common one, and signs without width, as their code points.
with_signs_shown <- function(labels) {
  odd <- which(grepl(unseen, labels, perl = TRUE))
  labels[odd] <- vapply(labels[odd], function(label) {
    points <- utf8ToInt(label)
    odd <- points %in% unseen_points
    pieces <- vapply(points, intToUtf8, "")
    pieces[odd] <- sprintf("<U+%04X>", points[odd])
    paste(pieces, collapse = "")
  }, "", USE.NAMES = FALSE)
  labels
}
