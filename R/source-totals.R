# Totals lines, left out only where the lines above prove them: each of their amounts is the sum of
# the lines above, of all of them or of those since the totals line before. What only looks like one
# stays, and is a finding.

totals_texts <- paste0(
  "^\\W*((grand|sub|page|report|group|overall)[- ]?)?(total|totals|sum|subtotal|gesamt|summe|",
  "gesamtsumme|zwischensumme)\\b"
)

without_totals <- function(raw, reading, told) {
  if (identical(reading$totals_lines, "keep")) {
    return(raw)
  }
  candidates <- total_candidates(raw)
  if (length(candidates) == 0L) {
    return(raw)
  }
  proven <- proven_totals(raw, candidates, reading)
  rows <- candidates[proven]
  if (length(rows) > 0L) told$add(paste0(
    count_words(length(rows), "totals line", "left out"), " (", rows_of(rows), " of the file's records)"
  ))
  doubtful <- setdiff(candidates[has_total_word(raw, candidates)], rows)
  if (length(doubtful) > 0L) told$find(list(
    kind = "totals lines", rows = doubtful - findInterval(doubtful, rows), name = ""
  ))
  if (length(rows) > 0L) rows_left(raw, !seq_len(raw$records) %in% rows) else raw
}

# Records that say total where they name no date or lack what others have, or lack most of it.
total_candidates <- function(raw) {
  n <- raw$records
  filled <- vapply(raw$columns, function(column) {
    if (anyNA(column$codes)) sum(!is.na(column$codes)) else length(column$codes)
  }, 1)
  always <- which(filled >= 0.5 * n & filled > 0)
  lacked <- always[filled[always] < n]
  saying <- lapply(raw$columns, function(column) {
    grep(totals_texts, column$texts, ignore.case = TRUE, perl = TRUE)
  })
  if (all(lengths(saying) == 0L) && length(lacked) < 2L) {
    return(integer())
  }
  lacking <- integer(n)
  for (i in lacked) lacking <- lacking + is.na(raw$columns[[i]]$codes)
  said <- logical(n)
  instead <- logical(n)
  for (i in which(lengths(saying) > 0L)) {
    column <- raw$columns[[i]]
    here <- column$codes %in% saying[[i]]
    said <- said | here
    others <- setdiff(used_texts(column)$texts, column$texts[saying[[i]]])
    digits <- mean(grepl("[0-9]", utils::head(others, 500L)))
    if (isTRUE(digits > 0.6)) instead <- instead | here
  }
  which((said & (lacking > 0L | instead)) | (lacking >= 2L & lacking >= 0.5 * length(always)))
}

has_total_word <- function(raw, rows) {
  said <- logical(length(rows))
  for (column in raw$columns) {
    at <- grep(totals_texts, column$texts, ignore.case = TRUE, perl = TRUE)
    said <- said | column$codes[rows] %in% at
  }
  said
}

proven_totals <- function(raw, candidates, reading) {
  amounts <- proving_amounts(raw, candidates, reading)
  proven <- logical(length(candidates))
  if (length(amounts) == 0L) {
    return(proven)
  }
  said <- has_total_word(raw, candidates)
  line <- !seq_len(raw$records) %in% candidates
  sums <- lapply(amounts, function(x) cumsum(ifelse(line & !is.na(x), x, 0)))
  lines <- cumsum(line)
  size <- lapply(amounts, function(x) cumsum(ifelse(line & !is.na(x), abs(x), 0)))
  begun <- 0L
  for (k in seq_along(candidates)) {
    row <- candidates[k]
    for (from in unique(c(begun, 0L))) {
      count <- lines[row] - (if (from == 0L) 0L else lines[from])
      if (count < (if (said[k]) 1L else 2L)) next
      fits <- vapply(seq_along(amounts), function(i) {
        given <- amounts[[i]][row]
        before <- if (from == 0L) 0 else sums[[i]][from]
        if (is.na(given)) NA else abs(sums[[i]][row] - before - given) <= 0.0051 + 1e-12 * size[[i]][row]
      }, NA)
      if (any(fits, na.rm = TRUE) && !any(!fits, na.rm = TRUE)) {
        proven[k] <- TRUE
        begun <- row
        break
      }
    }
  }
  proven
}

# The columns that are amounts but for these records, as numbers.
proving_amounts <- function(raw, candidates, reading) {
  columns <- lapply(raw$columns, function(column) {
    column$texts[is_unknown_word(column$texts)] <- NA
    elsewhere <- used_texts(list(texts = column$texts, codes = column$codes[-candidates]))
    elsewhere$texts <- elsewhere$texts[!is.na(elsewhere$texts)]
    texts <- unique(column$texts[column$codes[candidates]])
    texts <- texts[!is.na(texts)]
    amount <- vapply(texts, function(text) !is.null(column_amounts(text, reading)), NA)
    texts <- union(elsewhere$texts, texts[amount])
    plain <- typed_values(elsewhere$texts)
    if (is.logical(plain) || inherits(plain, "Date")) {
      return(NULL)
    }
    values <- if (length(texts) > 0L) column_amounts(texts, reading)$values
    if (is.null(values)) {
      return(NULL)
    }
    values[match(column$texts, texts)][column$codes]
  })
  Filter(Negate(is.null), columns)
}
