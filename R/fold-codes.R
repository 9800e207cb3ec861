# The members of a dimension in their order, the code of each order line (NA for missing) and the place of each code
# among the members, and the value each code stands for. Factors keep the order of their levels, everything else is
# sorted (text by code point, in any
# locale).

dimension_codes <- function(x, name) {
  if (is.factor(x)) {
    return(list(codes = x, place = seq_len(nlevels(x)), members = levels(x), values = levels(x), factor = TRUE))
  }
  if (!is.atomic(x)) {
    raise("column", c(
      paste0("Column ", quoted(name), " cannot be a dimension."),
      "x" = "It is {.obj_type_friendly {x}}."
    ))
  }
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
  list(codes = coded$codes, place = place, members = member_text(distinct), values = values, factor = FALSE)
}

# 64-bit whole numbers count by their digits.
whole_number_codes <- function(coded, values) {
  texts <- kernel_int64_texts(values)
  order <- order(kernel_int64_doubles(values), texts, method = "radix")
  list(codes = coded$codes, place = order(order), members = texts[order], values = texts, factor = FALSE)
}

sort_values <- function(values) values[order(values, method = "radix")]

member_text <- function(values) {
  if (is.numeric(values)) {
    return(format_plain(values))
  }
  as.character(values)
}

# Numbers in full, without padding or an exponent.
format_plain <- function(x) format(x, digits = 15L, scientific = FALSE, trim = TRUE, drop0trailing = TRUE)

# All dimensions as codes small enough to be addressed directly, or else joined into the combinations that occur.
# `members` holds for each joint code the code in each dimension, one more than the last for missing.
joint_codes <- function(dimensions, spans) {
  sizes <- vapply(dimensions, function(d) length(d$members), 1L)
  if (length(sizes) <= 1L || prod(sizes + 1) * spans <= most_direct_cells) {
    return(list(codes = lapply(dimensions, `[[`, "codes"), levels = as.integer(sizes), members = all_members(sizes)))
  }
  joined <- list(codes = dimensions[[1L]]$codes)
  for (d in dimensions[-1L]) joined <- kernel_encode_pair(joined$codes, d$codes, thread_count())
  members <- lapply(seq_along(dimensions), function(i) {
    code <- as.integer(dimensions[[i]]$codes[joined$first])
    code[is.na(code)] <- sizes[i] + 1L
    code
  })
  list(codes = list(joined$codes), levels = length(joined$first), members = members)
}

most_direct_cells <- 2^22

# Members of every combination, the last dimension running fastest, as the kernel numbers its groups.
all_members <- function(sizes) {
  total <- prod(sizes + 1)
  each <- rev(cumprod(rev(c(sizes[-1L] + 1, 1))))
  lapply(seq_along(sizes), function(i) {
    as.integer(rep_len(rep(seq_len(sizes[i] + 1L), each = each[i]), total))
  })
}
