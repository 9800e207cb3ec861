# What a reading tells of itself, in the order it was done: lines for people, findings for check().

new_telling <- function(path) {
  lines <- character()
  findings <- list()
  list(
    add = function(line) lines <<- c(lines, line),
    find = function(finding) findings <<- c(findings, list(finding)),
    all = function(reading) list(said = reading, told = lines, findings = findings)
  )
}

# A file without anything to tell of is read as it is.
with_telling <- function(orders, told, reading) {
  all <- told$all(reading)
  if (length(all$told) + length(all$findings) > 0L || !identical(reading, new_reading())) {
    attr(orders, "reading") <- all
  }
  orders
}

# What with_telling() keeps with orders.
told_of <- function(told, reading) attr(with_telling(list(), told, reading), "reading")

# Whether text ends without the line end that its other lines have: it may have been cut off there.
ends_within_line <- function(bytes) {
  last <- utils::tail(bytes, 1L)
  length(last) > 0L && !as.integer(last) %in% c(0L, 10L, 13L, 26L)
}

file_ends_within_line <- function(path, size) {
  connection <- file(path.expand(path), "rb")
  on.exit(close(connection))
  seek(connection, size - 1)
  ends_within_line(readBin(connection, "raw", 1L))
}

open_end_words <- "the last line has no line end as the others have: the file may have been cut off"
