# Words and numbers for messages and notes.

counted_lines <- function(n) paste(format_count(n), ifelse(n == 1, "line", "lines"))

# What something is, as people say it.
type_words <- function(x) {
  several <- length(x) != 1L
  if (is.null(x)) "nothing"
  else if (is.data.frame(x)) "a data frame"
  else if (is.function(x)) "a function"
  else if (inherits(x, "Date")) if (several) "dates" else "a date"
  else if (inherits(x, "POSIXct")) if (several) "dates with times" else "a date with a time"
  else if (is.factor(x) || is.character(x)) if (several) "several texts" else "text"
  else if (is.logical(x)) if (all(is.na(x))) "unknown" else "yes or no"
  else if (is.numeric(x)) if (several) "several numbers" else "a number"
  else if (is.list(x) && !is.object(x)) "a list"
  else if (is.language(x)) "an expression"
  else paste("of the kind", class(x)[1L])
}

format_count <- function(n) {
  text <- sprintf("%.0f", n)
  long <- nchar(text) > 3L
  if (any(long)) text[long] <- gsub("(?<=[0-9])(?=(?:[0-9]{3})+$)", ",", text[long], perl = TRUE)
  text
}

# An amount without a format of its own.
plain_amount <- function(x) prettyNum(format_plain(x), big.mark = ",")

joined_words <- function(x, last = "and") {
  n <- length(x)
  if (n > 1L) paste(paste(x[-n], collapse = ", "), last, x[n]) else x
}

sentence_case <- function(text) paste0(toupper(substr(text, 1L, 1L)), substr(text, 2L, nchar(text)))

# "3 footers left out"
count_words <- function(n, what, rest = NULL) {
  paste(c(paste0(format_count(n), " ", what, if (n != 1) "s"), rest), collapse = " ")
}

# A name as an expression has it.
name_text <- function(name) {
  if (make.names(name) == name) name else paste0("`", gsub("([`\\\\])", "\\\\\\1", name), "`")
}

# What comes before the example at the end of a line.
such_as <- ", such as "

# What is told of files, list(path, told) each: the same of several once, with the first example.
told_of_files <- function(files) {
  lines <- unlist(lapply(files, `[[`, "told"))
  paths <- rep(vapply(files, `[[`, "", "path"), lengths(lapply(files, `[[`, "told")))
  alike <- sub(paste0(such_as, "\"[^\"]*\"$"), "", lines)
  vapply(unique(alike), function(one) {
    here <- unique(paths[alike == one])
    paste0(lines[alike == one][1L], " (", if (length(here) == 1L) basename(here) else paste(
      length(here), "files"), ")")
  }, "", USE.NAMES = FALSE)
}
