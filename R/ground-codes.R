# The members of a dimension in their order, the code of each order line (NA for missing) and the
# place of each code among the members, and the value each code stands for. Factors keep the order
# of their levels, everything else is sorted (text by code point, in any locale).

dimension_codes <- function(x, name) {
  check_dimension(x, name)
  if (is.factor(x)) {
    if (nlevels(x) > max(1000L, length(x))) x <- used_levels(x)
    return(list(codes = x, place = seq_len(nlevels(x)), members = levels(x),
      values = levels(x), factor = TRUE))
  }
  coded <- coded_values(x)
  list(codes = coded$codes, place = coded$place, members = member_text(coded$distinct),
    values = coded$values,
    factor = FALSE)
}

# Codes in order of first appearance: list(codes, values: at their codes, distinct: in their order,
# place: of each code in that order).
coded_values <- function(x) {
  coded <- kernel_encode(x, thread_count())
  values <- vctrs::vec_slice(x, coded$first)
  if (inherits(values, "integer64")) {
    return(whole_number_codes(coded, values))
  }
  if (is.character(values)) values <- enc2utf8(values)
  distinct <- sort_values(unique(values))
  place <- match(values, distinct)
  if (anyDuplicated(place) > 0L) { # one text in two encodings
    coded$codes <- place[coded$codes]
    place <- seq_along(distinct)
    values <- distinct
  }
  list(codes = coded$codes, place = place, distinct = distinct, values = values)
}

# The same of texts that are codes already.
codes_of_texts <- function(coded, name) {
  distinct <- sort_values(coded$texts)
  list(codes = coded$codes, place = match(coded$texts, distinct), members = member_text(distinct),
    values = coded$texts, factor = FALSE)
}

# Levels without a line are members too, but where there are more levels than lines.
used_levels <- function(x) {
  codes <- as.integer(x)
  used <- which(tabulate(codes, nlevels(x)) > 0L)
  structure(match(codes, used), levels = levels(x)[used], class = "factor")
}

check_dimension <- function(x, name) {
  if (!is.atomic(x) || is.complex(x) || is.raw(x)) {
    raise("column", c(paste0("Column ", quoted(name), " cannot be a dimension."),
      "x" = "It is {type_words(x)}."))
  }
}

# 64-bit whole numbers count by their digits.
whole_number_codes <- function(coded, values) {
  texts <- kernel_int64_texts(values)
  order <- order(kernel_int64_doubles(values), texts, method = "radix")
  list(codes = coded$codes, place = order(order), distinct = texts[order], values = texts)
}

sort_values <- function(values) values[order(values, method = "radix")]

member_text <- function(values) {
  if (is.numeric(values)) {
    return(format_plain(values))
  }
  as.character(values)
}

# Numbers in full, without padding or an exponent.
format_plain <- function(x) {
  format(x, digits = 15L, scientific = FALSE, trim = TRUE, drop0trailing = TRUE)
}

plain_values <- function(values) {
  if (is.factor(values)) as.character(values) else if (inherits(values, "integer64"))
    kernel_int64_texts(values) else values
}

# Numbers for the combinations of several columns of whole numbers, from 1 without gaps:
# equal rows have equal ids, and no two others. They are found by encoding what occurs, a
# pair of columns at a time.
row_ids <- function(columns, rows) encoded_rows(columns, rows)$codes

encoded_rows <- function(columns, rows) {
  if (length(columns) == 0L) {
    return(list(codes = rep(1L, rows), first = min(rows, 1L)))
  }
  encoded <- kernel_encode(as.integer(columns[[1L]]), thread_count())
  for (column in columns[-1L]) encoded <- kernel_encode_pair(encoded$codes,
    as.integer(column), thread_count())
  encoded
}

# Where each row of some columns stands in a table of the same columns, NA where it does not.
match_rows <- function(columns, table, rows, table_rows) {
  if (rows == table_rows && identical(unname(columns), unname(table))) {
    same <- encoded_rows(columns, rows)
    return(if (length(same$first) == rows) seq_len(rows) else match(same$codes, same$codes))
  }
  both <- encoded_rows(Map(c, unname(table), unname(columns)), table_rows + rows)
  # An id that the table has was first met there.
  place <- rep(NA_integer_, length(both$first))
  of_table <- both$codes[seq_len(table_rows)]
  place[rev(of_table)] <- rev(seq_len(table_rows))
  place[both$codes[table_rows + seq_len(rows)]]
}

# The first of each of the different rows.
first_of_rows <- function(columns, rows) {
  if (rows == 0L) integer() else sort(as.integer(encoded_rows(columns, rows)$first))
}

# Whole numbers under a name that codes have, or different on nearly every line with one length.
looks_like_code <- function(values, name) {
  if (!is.numeric(values) || is.object(values)) {
    return(FALSE)
  }
  known <- utils::head(values, 10000L)
  known <- known[!is.na(known)]
  if (length(known) == 0L || any(known != round(known)) || any(known < 0)) {
    return(FALSE)
  }
  named <- grepl("(^|[_. ])(id|ids|no|nr|num|code|codes|key|ref|sku|ean|postcode|zip)$",
    name, ignore.case = TRUE)
  different <- length(known) >= 100L && length(unique(known)) > 0.95 * length(known) &&
    min(known) >= 1000
  named || (different && length(unique(nchar(format_plain(known)))) == 1L)
}

# Lines are numbered by date, then input order; those of one value of a column have one number.
line_numbers <- function(days, per) {
  order <- order(as.integer(days), seq_along(days), method = "radix")
  line <- integer(length(days))
  line[order] <- if (is.null(per)) seq_along(days) else per_codes(per[order])
  line
}

# Numbers in order of first appearance; each missing value is a line of its own.
per_codes <- function(values) {
  key <- as.character(values)
  key[is.na(key)] <- paste0("\r", seq_len(sum(is.na(key))))
  match(key, unique(key))
}

# Codes of values of any kind, 0 for what is missing.
codes_of_any <- function(x) {
  codes <- kernel_encode(if (is.factor(x)) as.character(x) else x, thread_count())$codes
  replace(codes, is.na(codes), 0L)
}
