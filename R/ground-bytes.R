# The bytes of a file of orders, whole or not at all: a file that is cut, damaged or changed while
# it is read is an error, never a part of what it held.

check_file <- function(path) {
  kind <- kernel_file_kind(path.expand(path))
  if (kind == "other") {
    raise("file", c(paste0(quoted(path), " is neither a file nor a pipe."),
      ">" = "Name a file of orders."))
  }
  if (kind == "folder") {
    raise("file", c(paste0(quoted(path), " is a folder, not a file."),
      ">" = paste("Name a file in it. Orders in several files are",
        "{.code daybook(\"folder\", date = )} in R and {.code files: folder} in a report.")))
  }
  if (kind == "none") {
    near <- nearest_word(basename(path), setdiff(list.files(dirname(path)), basename(path)))
    raise("file", c(
      paste0("There is no file ", quoted(path), "."),
      if (!is.null(near)) c(">" = paste0("Did you mean ",
        quoted(file.path(dirname(path), near)), "?")),
      if (is.null(near)) c(">" = paste0("Paths are taken from ", quoted(getwd()), "."))
    ))
  }
}

read_bytes <- function(path) {
  check_file(path)
  if (kernel_file_kind(path.expand(path)) == "pipe") {
    return(read_or_told(kernel_read_pipe(path.expand(path), seconds_for_pipes, most_bytes()), path))
  }
  before <- file_state(path)
  check_size(path, before$size)
  bytes <- read_or_told(kernel_read_file(path.expand(path), before$size), path)
  if (!identical(file_state(path), before) || length(bytes) != before$size) raise_changed(path)
  bytes
}

raise_changed <- function(path) {
  raise("file", c(
    paste0("The file ", quoted(path), " changed while it was read."),
    ">" = "Read it again when it is finished."
  ))
}

# Size and time as they are now.
file_state <- function(path) {
  info <- file.info(path, extra_cols = FALSE)
  list(size = info$size, time = info$mtime)
}

check_unchanged <- function(path, state) {
  if (!identical(file_state(path), state)) raise_changed(path)
}

read_or_told <- function(code, path) {
  rlang::try_fetch(code, error = unless_ours(function(e) {
    raise_unreadable(path, conditionMessage(e))
  }))
}

# Memory that is not there is told as such.
raise_unreadable <- function(path, why) {
  if (grepl("bad_alloc|annot allocate", why)) {
    raise("memory", c(paste0("There is not enough memory to read ", quoted(path), "."),
      ">" = "Split it into parts."))
  }
  what <- if (path == "-") "Standard input" else paste0("The file ", quoted(path))
  raise("file", c(paste0(what, " cannot be read."), "x" = braces_kept(why)))
}

begins_with <- function(bytes, first) {
  length(bytes) >= length(first) && all(bytes[seq_along(first)] == as.raw(first))
}

# The text of a file as UTF-8 bytes, unpacked where it is compressed, without
# the mark of its byte order.
text_bytes <- function(bytes, path) {
  bytes <- unpacked_bytes(bytes, path)
  if (begins_with(bytes, c(0xff, 0xfe)) || begins_with(bytes, c(0xfe, 0xff)))
    raise_not_utf8(path, "UTF-16")
  flaws <- kernel_text_flaws(bytes)
  check_no_zero_bytes(flaws, path)
  if (flaws[["encoding"]] > 0L) raise_not_utf8(path, line = flaws[["encoding"]])
  without_order_mark(bytes)
}

unpacked_bytes <- function(bytes, path) {
  if (!begins_with(bytes, c(0x1f, 0x8b))) {
    return(bytes)
  }
  read_or_told(kernel_gunzip(bytes, most_bytes()), path)
}

without_order_mark <- function(bytes) {
  if (begins_with(bytes, c(0xef, 0xbb, 0xbf))) bytes[-(1:3)] else bytes
}

check_no_zero_bytes <- function(flaws, path) {
  if (flaws[["zero"]] > 0L) {
    raise("file", c(
      paste0("The file ", quoted(path), " holds zero bytes, which text never has."),
      "x" = "See line {flaws[['zero']]}.",
      ">" = "It is damaged, or it is not text: export it again."
    ))
  }
}

raise_not_utf8 <- function(path, is = NULL, line = NULL) {
  raise("file", c(
    paste0("The file ", quoted(path), " is ", if (is.null(is))
      "not UTF-8 text" else paste(is, "text, not UTF-8"), "."),
    "x" = if (!is.null(line)) "See line {line}.",
    ">" = "Save it as UTF-8, or convert it: {.code iconv -f latin1 -t utf-8 old.csv > new.csv}."
  ))
}
