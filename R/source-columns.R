# Columns of texts as a file has them: for each its different texts, and the codes of these
# in each record.

# The different texts of a column that stand in some record, with codes into these.
used_texts <- function(column) {
  used <- tabulate(column$codes, length(column$texts)) > 0L
  if (all(used)) column else list(texts = column$texts[used], codes = cumsum(used)[column$codes])
}

rows_left <- function(raw, keep) {
  raw$columns <- lapply(raw$columns, function(column) {
    list(texts = column$texts, codes = column$codes[keep])
  })
  raw$rows <- (raw$rows %||% seq_len(raw$records))[keep]
  raw$records <- sum(keep)
  raw
}

# How many cells of each record are empty; one 0 where none is.
empty_cells <- function(raw) {
  empty <- 0L
  for (column in raw$columns) if (anyNA(column$codes)) empty <- empty + is.na(column$codes)
  empty
}

# Columns as the texts of a file; those that are no text keep their values.
texts_of_frame <- function(orders) {
  columns <- lapply(unname(as.list(orders)), function(x) {
    texts <- if (is.character(x)) x else if (is.numeric(x)) number_in_full(x) else as.character(x)
    texts[is.na(x)] <- NA
    coded <- kernel_encode(texts)
    list(texts = texts[coded$first], codes = coded$codes)
  })
  list(names = names(orders), columns = columns, records = nrow(orders), odd = list(),
    titles = character(),
    typed = function(place, rows) if (!is.character(orders[[place]])) orders[[place]][rows])
}
