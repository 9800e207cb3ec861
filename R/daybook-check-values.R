# Checks of values and lines: repeated lines, missing values, text among numbers,
# outliers, zeros, negative amounts.

rare <- 0.01

find_repeated <- function(book, today) {
  joined <- dimension_codes(book$columns[[1L]], names(book$columns)[1L])$codes
  for (name in names(book$columns)[-1L]) {
    x <- book$columns[[name]]
    joined <- kernel_encode_pair(
      as_codes(joined), as_codes(if (is.atomic(x)) dimension_codes(x, name)$codes else seq_along(x)),
      thread_count()
    )$codes
  }
  rows <- which(duplicated(joined))
  if (length(rows) == 0L) {
    return(NULL)
  }
  new_finding(
    "repeated lines", length(rows), rows_of(rows),
    "The same in every column as a line before: leave out what is no order of its own."
  )
}

as_codes <- function(x) if (is.factor(x)) as.integer(x) else x

find_missing <- function(book, today) {
  each_column(book, function(x, name) {
    missing <- which(is.na(x))
    in_lookup <- any(vapply(book$lookups, function(lookup) name %in% lookup$columns, NA))
    if (length(missing) == 0L || name == book$date || in_lookup) {
      return(NULL)
    }
    few <- length(missing) < rare * book$rows
    advice <- "Known for a part of the lines only."
    if (few)
      advice <- "Nearly all lines have one: fill these in. Amounts are left out, labels shown as (none)."
    new_finding("missing values", length(missing), rows_of(missing),
      advice, name, if (few) "problem" else "note")
  })
}

find_text_in_numbers <- function(book, today) {
  each_column(book, function(x, name) {
    if (!(is.character(x) || is.factor(x))) {
      return(NULL)
    }
    text <- as.character(x)
    known <- which(!is.na(text))
    number <- !is.na(suppressWarnings(as.numeric(text[known])))
    if (length(known) == 0L || mean(number) < 0.9 || all(number)) {
      return(NULL)
    }
    odd <- known[!number]
    new_finding(
      "text in numbers", length(odd), row_examples(odd, encodeString(text, quote = "\"")),
      "The whole column is text because of these: mend them to add it up.", name
    )
  })
}

find_outliers <- function(book, today) {
  lapply(amount_columns(book), function(name) {
    x <- abs(as.numeric(book$columns[[name]]))
    known <- x[is.finite(x) & x > 0]
    if (length(known) < 30L) {
      return(NULL)
    }
    limit <- if (length(known) >= 1000L) 5 * usual_top(known, 0.999) else 20 * usual_top(known, 0.9)
    odd <- which(x > limit)
    if (length(odd) == 0L) {
      return(NULL)
    }
    new_finding(
      "outliers", length(odd), row_examples(odd[order(-x[odd])], book$columns[[name]]),
      "Far above all others: see whether a digit or a unit is wrong.", name
    )
  })
}

usual_top <- function(x, p) stats::quantile(x, p, names = FALSE, type = 1L)

find_zeros <- function(book, today) {
  lapply(amount_columns(book), function(name) {
    zero <- which(book$columns[[name]] == 0)
    if (length(zero) == 0L || length(zero) > rare * book$rows) {
      return(NULL)
    }
    new_finding("zero amounts", length(zero), rows_of(zero),
      "Rare here: see whether the amount was left out.", name)
  })
}

find_negatives <- function(book, today) {
  lapply(amount_columns(book), function(name) {
    negative <- which(book$columns[[name]] < 0)
    if (length(negative) == 0L) {
      return(NULL)
    }
    new_finding(
      "negative amounts", length(negative), row_examples(negative, book$columns[[name]]),
      "Returns and credits lower the sums; only(x > 0) leaves them out.", name, "note"
    )
  })
}
