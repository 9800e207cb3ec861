# Totals lines, left out only where the lines above prove them: each of their amounts is the sum of
# the lines since some boundary above, which is the beginning or another totals line, as totals of
# totals are. What only looks like one stays, and is told.

without_totals <- function(raw, reading, told) {
  if (identical(reading$totals_lines, "keep")) {
    return(raw)
  }
  candidates <- total_candidates(raw)
  if (length(candidates$rows) == 0L) {
    return(raw)
  }
  amounts <- proving_amounts(raw,
    if (any(candidates$odd)) candidates$rows[candidates$odd] else candidates$rows, reading)
  proven <- proven_totals(raw, candidates, amounts)
  rows <- candidates$rows[proven]
  if (length(rows) > 0L) told$add(paste0(
    count_words(length(rows), "totals line", "left out"), " (", places_of(raw, rows), ")"
  ))
  has_amount <- Reduce(`|`, lapply(amounts, function(x) !is.na(x[candidates$rows])),
    logical(length(proven)))
  doubtful <- which(!proven & candidates$odd & has_amount)
  if (length(doubtful) > 0L) tell_doubtful(raw, candidates$rows[doubtful], rows, amounts, told)
  if (length(rows) > 0L) rows_left(raw, !seq_len(raw$records) %in% rows) else raw
}

# What is not proven is counted, and no table is silent about it.
tell_doubtful <- function(raw, doubtful, proven, amounts, told) {
  shown <- utils::head(doubtful, 5L)
  of <- vapply(shown, function(row) {
    known <- vapply(amounts, `[`, 0, row)
    paste(format_plain(known[!is.na(known)]), collapse = " and ")
  }, "")
  told$add(paste0(count_words(length(doubtful), "line", "counted that"),
    " may be totals and that the lines above do ",
    "not prove: ", places_of(raw, doubtful), " (", paste(of, collapse = "; "), ")"))
  told$find(list(kind = "totals lines", rows = doubtful -
    findInterval(doubtful, proven), name = ""))
}

# Where records stand, as the person sees them: lines of the file, rows of the worksheet.
places_of <- function(raw, rows) {
  at <- (raw$rows %||% seq_len(raw$records))[rows]
  if (!is.null(raw$lines)) at <- raw$lines[at]
  said <- rows_of(at)
  if (isTRUE(raw$in_sheet)) paste(said, "of the worksheet") else sub("^row", "line", said)
}

# Records that may be totals: list(rows; odd: whether their place or form is another than that of
# order lines too; least: how many lines above must add up). Words alone are suspected, and prove
# nothing: a customer may be called so.
total_candidates <- function(raw) {
  n <- raw$records
  filled <- vapply(raw$columns, function(column) {
    if (anyNA(column$codes)) sum(!is.na(column$codes)) else length(column$codes)
  }, 1)
  always <- which(filled >= 0.5 * n & filled > 0)
  lacked <- always[filled[always] < n]
  saying <- lapply(raw$columns, function(column) which(kernel_says_total(column$texts)))
  if (all(lengths(saying) == 0L) && length(lacked) < 2L) {
    return(list(rows = integer()))
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
  form <- lacking >= 2L & lacking >= 0.5 * length(always)
  rows <- which(said | form)
  # A cell that every order line has.
  no_key <- Reduce(`|`, lapply(lacked, function(i) {
    none <- is.na(raw$columns[[i]]$codes)
    if (any(none[-rows])) logical(n) else none
  }), logical(n))
  # What hardly any other line lacks.
  key_lacking <- logical(n)
  for (i in lacked) {
    none <- is.na(raw$columns[[i]]$codes)
    if (!all(said) && mean(none[!said]) < 0.05) key_lacking <- key_lacking | none
  }
  list(rows = rows, odd = (form | (said & (key_lacking | instead)))[rows],
    least = ifelse(said & (instead | no_key), 1L, 2L)[rows])
}

# Whether each candidate is the sum of the lines since some boundary: the beginning, or a candidate
# before it that is proven.
proven_totals <- function(raw, candidates, amounts) {
  rows <- candidates$rows
  proven <- logical(length(rows))
  if (length(amounts) == 0L) {
    return(proven)
  }
  # Words alone make no total of a line: it counts for those below until it is proven to be one.
  repeat {
    line <- !seq_len(raw$records) %in% rows[candidates$odd | proven]
    found <- proven | proven_once(rows, candidates$least, lapply(amounts, added_up, line = line),
      cumsum(line))
    if (identical(found, proven)) {
      return(proven)
    }
    proven <- found
  }
}

proven_once <- function(rows, least, added, lines) {
  proven <- logical(length(rows))
  bounds <- 0L
  for (k in seq_along(rows)) {
    from <- bounds[c(0L, lines)[rows[k]] - c(0L, lines)[bounds + 1L] >= least[k]]
    proven[k] <- length(from) > 0L && any(adds_up(added, from, rows[k]))
    if (proven[k]) bounds <- unique(c(0L, utils::tail(bounds, most_bounds), rows[k]))
  }
  proven
}

most_bounds <- 500L

# Sums of an amount over the lines before each record, and of their sizes.
added_up <- function(x, line) {
  counted <- ifelse(line & !is.na(x), x, 0)
  list(given = x, sums = c(0, cumsum(counted)), sizes = c(0, cumsum(abs(counted))))
}

# For each of some boundaries, whether all amounts that a record has are the sums of the lines after
# it, to half a hundredth.
adds_up <- function(added, from, row) {
  fits <- vapply(added, function(amount) {
    sum <- amount$sums[row] - amount$sums[from + 1L]
    abs(sum - amount$given[row]) <= 0.0051 + 1e-12 * amount$sizes[row]
  }, logical(length(from)))
  fits <- matrix(fits, length(from))
  known <- !is.na(fits[1L, ])
  any(known) & rowSums(fits[, known, drop = FALSE]) == sum(known)
}

# The columns that are amounts but for these records, as numbers.
proving_amounts <- function(raw, candidates, reading) {
  columns <- lapply(raw$columns, function(column) {
    column$texts[is_unknown_word(column$texts)] <- NA
    elsewhere <- used_texts(list(texts = column$texts, codes = column$codes[-candidates]))
    elsewhere$texts <- elsewhere$texts[!is.na(elsewhere$texts)]
    texts <- unique(column$texts[column$codes[candidates]])
    texts <- texts[!is.na(texts)]
    # What is read one way together is so alone.
    amount <- if (!is.null(column_amounts(texts, reading))) rep(TRUE, length(texts))
      else vapply(texts, function(text) !is.null(column_amounts(text, reading)), NA)
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
