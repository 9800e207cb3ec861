# The encoding of delimited text, found by itself where that is safe. Text that is UTF-8 all through
# is UTF-8. Other text is Windows-1252 (of which Latin-1 is the printable part) only where nothing
# in it looks like UTF-8: a file of which a part is UTF-8 was damaged or put together.

known_encodings <- c("UTF-8", "UTF-16LE", "UTF-16BE", "windows-1252", "latin1")

# list(bytes: as UTF-8, encoding: what they were)
decoded_bytes <- function(bytes, path, encoding = NULL) {
  bytes <- unpacked_bytes(bytes, path)
  found <- encoding %||% marked_encoding(bytes)
  if (is.null(found)) {
    flaws <- kernel_text_flaws(bytes)
    check_no_zero_bytes(flaws, path)
    found <- if (flaws[["encoding"]] == 0L) "UTF-8" else other_encoding(bytes, flaws[["encoding"]], path)
  }
  if (found != "UTF-8") bytes <- converted(bytes, found, path)
  if (!is.null(encoding) || found != "UTF-8") {
    flaws <- kernel_text_flaws(bytes)
    check_no_zero_bytes(flaws, path)
    if (flaws[["encoding"]] > 0L) raise_not_utf8(path, line = flaws[["encoding"]])
  }
  list(bytes = without_order_mark(bytes), encoding = found)
}

# By the mark of the byte order, or the zero bytes of UTF-16 without one.
marked_encoding <- function(bytes) {
  if (begins_with(bytes, c(0xff, 0xfe))) {
    return("UTF-16LE")
  }
  if (begins_with(bytes, c(0xfe, 0xff))) {
    return("UTF-16BE")
  }
  first <- utils::head(bytes, 400L)
  first <- first[seq_len(length(first) - length(first) %% 2L)]
  if (length(first) < 8L || length(bytes) %% 2L != 0L) {
    return(NULL)
  }
  zero <- matrix(first == 0, 2L)
  share <- rowMeans(zero)
  if (share[2L] > 0.9 && share[1L] == 0) "UTF-16LE" else if (share[1L] > 0.9 && share[2L] == 0) "UTF-16BE"
}

# Bytes that Windows-1252 gives no character.
no_character <- as.raw(c(0x81, 0x8d, 0x8f, 0x90, 0x9d))

other_encoding <- function(bytes, line, path) {
  if (any(bytes %in% no_character)) raise_not_utf8(path, line = line)
  if (holds_utf8(bytes)) {
    raise("file", c(
      paste0("The file ", quoted(path), " is UTF-8 in parts only."), "x" = "See line {line}.",
      ">" = paste0("Mend that line, or say ", braces_kept(option_said("encoding", "windows-1252")), ".")
    ))
  }
  "windows-1252"
}

# Whether a character of several bytes is there, as UTF-8 has them.
holds_utf8 <- function(bytes) {
  lead <- which(bytes >= as.raw(0xc3) & bytes <= as.raw(0xf4))
  lead <- lead[lead < length(bytes)]
  tail <- bytes[lead + 1L]
  any(tail >= as.raw(0x80) & tail <= as.raw(0xbf))
}

converted <- function(bytes, from, path) {
  if (startsWith(from, "UTF-16") &&
    (begins_with(bytes, c(0xff, 0xfe)) || begins_with(bytes, c(0xfe, 0xff)))) bytes <- bytes[-(1:2)]
  text <- iconv(list(bytes), from, "UTF-8", toRaw = TRUE)[[1L]]
  if (is.null(text)) {
    raise("file", c(paste0("The file ", quoted(path), " is not text in ", from, "."),
      ">" = "Say another encoding, or none to have it found."))
  }
  text
}
