# Words and numbers for messages and notes.

counted_lines <- function(n) paste(format_count(n), ifelse(n == 1, "line", "lines"))

format_count <- function(n) {
  text <- sprintf("%.0f", n)
  long <- nchar(text) > 3L
  if (any(long)) text[long] <- gsub("(?<=[0-9])(?=(?:[0-9]{3})+$)", ",", text[long], perl = TRUE)
  text
}

joined_words <- function(x, last = "and") {
  n <- length(x)
  if (n > 1L) paste(paste(x[-n], collapse = ", "), last, x[n]) else x
}

sentence_case <- function(text) paste0(toupper(substr(text, 1L, 1L)), substr(text, 2L, nchar(text)))

# "3 footers left out"
count_words <- function(n, what, rest) {
  paste0(format_count(n), " ", what, if (n != 1) "s", " ", rest)
}

# A name as an expression has it.
name_text <- function(name) {
  if (make.names(name) == name) name else paste0("`", gsub("([`\\\\])", "\\\\\\1", name), "`")
}
