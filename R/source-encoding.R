# The encoding of delimited text, found by itself where that is safe. Text that is UTF-8 all through
# is UTF-8. Other text is in the encoding in which its letters are those of a language of the trade,
# Windows-1252 before others, and only where nothing in it looks like UTF-8: a file of which a part
# is UTF-8 was damaged or put together.

known_encodings <- c("UTF-8", "UTF-16LE", "UTF-16BE", "windows-1252", "latin1",
  "windows-1250", "ISO-8859-2", "CP850", "macintosh")

# list(bytes: as UTF-8, encoding: what they were)
decoded_bytes <- function(bytes, path, encoding = NULL) {
  bytes <- unpacked_bytes(bytes, path)
  found <- encoding %||% marked_encoding(bytes)
  if (is.null(found)) {
    flaws <- kernel_text_flaws(bytes)
    check_no_zero_bytes(flaws, path)
    found <- if (flaws[["encoding"]] == 0L) "UTF-8" else other_encoding(bytes,
      flaws[["encoding"]], path)
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
  if (share[2L] > 0.9 && share[1L] == 0) "UTF-16LE" else if (share[1L] > 0.9 &&
    share[2L] == 0) "UTF-16BE"
}

other_encoding <- function(bytes, line, path) {
  if (holds_utf8(bytes)) {
    raise("file", c(
      paste0("The file ", quoted(path), " is UTF-8 in parts only."), "x" = "See line {line}.",
      ">" = paste0("Mend that line, or say ", braces_kept(
        option_said("encoding", "windows-1252")), ".")
    ))
  }
  found <- encoding_of_letters(bytes)
  if (is.null(found)) raise_not_utf8(path, line = line)
  found
}

# The letters that languages have beside those of ASCII, by the encodings that hold them.
letters_of_languages <- list(
  "windows-1252" = c("\u00e4\u00f6\u00fc\u00df\u00c4\u00d6\u00dc\u00e9",
    paste0("\u00e9\u00e8\u00ea\u00eb\u00e0\u00e2\u00e7\u00f4\u00ee\u00ef\u00fb\u00f9\u0153",
      "\u00c9\u00c8\u00c0\u00c7\u00ca"),
    "\u00f1\u00e1\u00e9\u00ed\u00f3\u00fa\u00fc\u00d1\u00c1\u00c9\u00cd\u00d3\u00da",
    "\u00e0\u00e8\u00e9\u00ec\u00f2\u00f9\u00c0\u00c8\u00c9",
    "\u00eb\u00ef\u00e9\u00e8\u00ea\u00f6\u00fc",
    "\u00e3\u00f5\u00e7\u00e2\u00ea\u00f4\u00e1\u00e9\u00ed\u00f3\u00fa\u00e0\u00c3\u00c7\u00c1\u00c9",
    "\u00e6\u00f8\u00e5\u00e4\u00f6\u00e9\u00c6\u00d8\u00c5\u00c4\u00d6"),
  "windows-1250" = c(paste0(
    "\u0105\u0107\u0119\u0142\u0144\u00f3\u015b\u017a\u017c\u0104\u0106\u0118\u0141",
    "\u0143\u00d3\u015a\u0179\u017b"),
    paste0("\u00e1\u010d\u010f\u00e9\u011b\u00ed\u0148\u00f3\u0159\u0161\u0165\u00fa\u016f",
      "\u00fd\u017e\u00e4\u013e\u013a\u0155\u00f4\u00c1\u010c\u010e\u00c9\u0160\u0158",
      "\u017d\u00da"),
    "\u00e1\u00e9\u00ed\u00f3\u00f6\u0151\u00fa\u00fc\u0171\u00c1\u00c9\u00d6\u0150\u00dc")
)
letters_of_languages[c("CP850", "macintosh")] <- letters_of_languages["windows-1252"]

# The encoding of which the letters fit best, the first of equals; NULL where none fits nine in ten.
encoding_of_letters <- function(bytes) {
  bytes <- utils::head(bytes, 1e6L)
  at <- which(bytes >= as.raw(0x80))
  within <- function(first, last) bytes >= as.raw(first) & bytes <= as.raw(last)
  letter <- within(0x41, 0x5a) | within(0x61, 0x7a) | within(0x80, 0xff)
  before_letter <- c(letter, FALSE)[at + 1L]
  fits <- vapply(names(letters_of_languages), function(encoding) {
    signs <- decoded_signs(encoding)[as.integer(bytes[at]) - 127L]
    known <- strsplit(letters_of_languages[[encoding]], "")
    if (anyNA(signs)) {
      return(0)
    }
    sign <- signs %in% opening_signs | (!before_letter & !grepl("[[:alpha:]]", signs))
    max(0.95 * mean(sign | signs %in% unlist(known)), vapply(known, function(own) {
      mean(sign | signs %in% own)
    }, 0))
  }, 0)
  if (max(fits) >= 0.9) names(fits)[which.max(fits)]
  else if (!anyNA(decoded_signs("windows-1252")[as.integer(bytes[at]) - 127L])) "windows-1252"
}

# Signs that stand before letters.
opening_signs <- c("\u2018", "\u201c", "\u201e", "\u201a", "\u00ab", "\u2039", "\u00bf",
  "\u00a1", "\u2019", "\u2013", "\u2014", "\u00a0", "\u2022")

# What each byte from 128 on stands for, NA where for nothing.
decoded_signs <- function(encoding) {
  vapply(128:255, function(byte) iconv(rawToChar(as.raw(byte)), encoding, "UTF-8"), "")
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
