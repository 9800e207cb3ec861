# From texts as a file has them to orders: what is no order line is left out, and columns become
# what their texts say. Each step tells what it did.

# raw: names; columns: for each list(texts, codes); records: their number; odd: records of another
# width (see kernel_read_delimited()); titles: what stands above the header; typed: of files whose
# cells have types, a function of column and rows that gives their values, NULL where types differ
refined_orders <- function(raw, path, reading, told = new_telling(path)) {
  if (length(raw$titles) > 0L) told$add(count_words(length(raw$titles),
    "line", "above the header passed over"))
  if (isTRUE(raw$two_headers)) told$add("a second header line: it names the columns")
  if (isTRUE(raw$ends_open)) told$add(open_end_words)
  tell_headers_above(raw$lines_below, told)
  raw$header <- raw$names
  raw <- without_apostrophes(raw, told)
  raw <- with_names(raw, reading, told)
  raw <- with_plain_cells(raw, told)
  raw$columns <- lapply(raw$columns, without_missing_words, words = reading$missing)
  raw <- without_furniture(raw, path, reading, told)
  raw <- without_totals(raw, reading, told)
  typed <- typed_orders(raw, reading, told)
  with_telling(structure(typed, class = "data.frame",
    row.names = seq_len(raw$records)), told, reading)
}

# Apostrophes round all texts of a column, or before them, as programs mark what is text.
without_apostrophes <- function(raw, told) {
  for (i in seq_along(raw$columns)) {
    texts <- raw$columns[[i]]$texts
    marked <- length(texts) > 0L && all(startsWith(texts, "'"))
    if (!marked || !is.null(raw$typed)) next
    raw$columns[[i]]$texts <- sub("^'(.*?)'?$", "\\1", texts, perl = TRUE)
    raw$names[i] <- sub("^'(.*?)'?$", "\\1", raw$names[i], perl = TRUE)
    told$add(paste0("apostrophes before the texts of ", quoted(raw$names[i]), " left out"))
  }
  raw
}

# Texts that were said to mean that nothing is known.
without_missing_words <- function(column, words) {
  if (length(words) == 0L) {
    return(column)
  }
  column$codes[column$codes %in% which(kernel_trimmed(column$texts) %in% words)] <- NA
  column
}
