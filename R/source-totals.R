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

# Whether each candidate is the sum of the lines before it: of those since the totals line before,
# or of all. One that does not say total must add up two lines or more.
proven_totals <- function(raw, candidates, reading) {
  amounts <- proving_amounts(raw, candidates, reading)
  proven <- logical(length(candidates))
  if (length(amounts) == 0L) {
    return(proven)
  }
  least <- ifelse(has_total_word(raw, candidates), 1L, 2L)
  line <- !seq_len(raw$records) %in% candidates
  lines <- cumsum(line)
  added <- lapply(amounts, added_up, line = line)
  begun <- 0L
  for (k in seq_along(candidates)) {
    from <- Filter(function(from) {
      lines[candidates[k]] - c(0L, lines)[from + 1L] >= least[k] && adds_up(added, from, candidates[k])
    }, unique(c(begun, 0L)))
    proven[k] <- length(from) > 0L
    if (proven[k]) begun <- candidates[k]
  }
  proven
}

# Sums of an amount over the lines up to each record, and of their sizes.
added_up <- function(x, line) {
  counted <- ifelse(line & !is.na(x), x, 0)
  list(given = x, sums = c(0, cumsum(counted)), sizes = c(0, cumsum(abs(counted))))
}

# Whether all amounts that a record has are the sums of the lines after `from`, to half a hundredth.
adds_up <- function(added, from, row) {
  fits <- vapply(added, function(amount) {
    sum <- amount$sums[row + 1L] - amount$sums[from + 1L]
    abs(sum - amount$given[row]) <= 0.0051 + 1e-12 * amount$sizes[row + 1L]
  }, NA)
  any(fits, na.rm = TRUE) && all(fits, na.rm = TRUE)
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
