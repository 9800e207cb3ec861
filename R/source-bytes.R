# The bytes of a file of orders, whole or not at all: a file that is cut, damaged or changed while it is read is an error,
# never a part of what it held.

check_file <- function(path) {
  if (!file.exists(path) || dir.exists(path)) {
    near <- nearest_word(basename(path), list.files(dirname(path)))
    raise("file", c(
      paste0("There is no file ", quoted(path), "."),
      if (!is.null(near)) c(">" = paste0("Did you mean ", quoted(file.path(dirname(path), near)), "?")),
      if (is.null(near)) c(">" = paste0("Paths are taken from ", quoted(getwd()), "."))
    ))
  }
}

read_bytes <- function(path) {
  check_file(path)
  before <- file_state(path)
  bytes <- rlang::try_fetch(bytes_of_file(path, before$size), error = function(e) raise_unreadable(path, e))
  if (!identical(file_state(path), before) || (before$size > 0 && length(bytes) != before$size)) {
    raise("file", c(
      paste0("The file ", quoted(path), " changed while it was read."), ">" = "Read it again when it is finished."
    ))
  }
  bytes
}

# Size and time as they are now; a pipe has a size of 0.
file_state <- function(path) {
  info <- file.info(path, extra_cols = FALSE)
  list(size = info$size, time = info$mtime)
}

bytes_of_file <- function(path, size) {
  connection <- file(path, open = "rb", raw = TRUE)
  on.exit(close(connection))
  if (size > 0) readBin(connection, "raw", size + 1) else bytes_of_stream(connection)
}

bytes_of_stream <- function(connection) {
  parts <- list()
  repeat {
    part <- readBin(connection, "raw", 2^20)
    if (length(part) == 0L) break
    parts[[length(parts) + 1L]] <- part
  }
  as.raw(unlist(parts))
}

raise_unreadable <- function(path, e) {
  raise("file", c(paste0("The file ", quoted(path), " cannot be read."), "x" = braces_kept(conditionMessage(e))))
}

begins_with <- function(bytes, first) length(bytes) >= length(first) && all(bytes[seq_along(first)] == as.raw(first))

# The text of a file as UTF-8 bytes, unpacked where it is compressed, without the mark of its byte order.
text_bytes <- function(bytes, path) {
  if (begins_with(bytes, c(0x1f, 0x8b))) {
    bytes <- rlang::try_fetch(kernel_gunzip(bytes), error = function(e) raise_unreadable(path, e))
  }
  if (begins_with(bytes, c(0xff, 0xfe)) || begins_with(bytes, c(0xfe, 0xff))) raise_not_utf8(path, "UTF-16")
  flaws <- kernel_text_flaws(bytes)
  if (flaws[["zero"]] > 0L) {
    raise("file", c(
      paste0("The file ", quoted(path), " holds zero bytes, which no text has."), "x" = "See line {flaws[['zero']]}.",
      ">" = "It is damaged, or no text: export it again."
    ))
  }
  if (flaws[["encoding"]] > 0L) raise_not_utf8(path, line = flaws[["encoding"]])
  if (begins_with(bytes, c(0xef, 0xbb, 0xbf))) bytes[-(1:3)] else bytes
}

raise_not_utf8 <- function(path, is = NULL, line = NULL) {
  raise("file", c(
    paste0("The file ", quoted(path), " is ", if (is.null(is)) "not UTF-8 text" else paste(is, "text, not UTF-8"), "."),
    "x" = if (!is.null(line)) "See line {line}.",
    ">" = "Save it as UTF-8, or convert it: {.code iconv -f latin1 -t utf-8 old.csv > new.csv}."
  ))
}
