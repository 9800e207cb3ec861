# An export that stands in its file twice, wholly or in part: lines that repeat others in the same order.

# Lines alone may be the same by right; this many one after the other are not.
fewest_repeats <- 3L

most_compared <- 2^22

# list(count, from: the first line that repeats another, of: that one) of the records of a text that begin
# at a byte on a line; NULL where none do.
repeated_lines <- function(bytes, header) {
  if (length(bytes) > most_compared) {
    return(NULL)
  }
  records <- bytes[seq_len(length(bytes)) > header$next_byte]
  lines <- strsplit(rawToChar(records), "\r\n|\n|\r", perl = TRUE, useBytes = TRUE)[[1L]]
  first <- match(lines, lines)
  again <- first < seq_along(lines) & nzchar(lines)
  if (sum(again) < fewest_repeats) {
    return(NULL)
  }
  runs <- rle(ifelse(again, seq_along(lines) - first, -seq_along(lines)))
  ends <- cumsum(runs$lengths)
  long <- which(runs$lengths >= fewest_repeats & runs$values > 0L)
  if (length(long) == 0L) {
    return(NULL)
  }
  at <- ends[long[1L]] - runs$lengths[long[1L]] + 1L
  above <- header$next_line - 1L
  list(count = sum(runs$lengths[long]), from = at + above, of = first[at] + above)
}

tell_repeats <- function(repeats, told) {
  if (!is.null(repeats)) told$add(paste0(format_count(repeats$count), " lines stand",
    " in the file twice (from line ", format_count(repeats$from), " on they repeat those from line ",
    format_count(repeats$of), " on): their amounts are counted twice"))
}

# Of larger files it is known how often their first record comes again.
repeat_words <- function(count) {
  paste0("the first record stands in the file ", count_words(count + 1, "time"),
    ": are its orders in it twice?")
}
