# Checks of values and lines: repeated lines, missing values, text among numbers,
# outliers, zeros, negative amounts.

rare <- 0.01

find_repeated <- function(book, today) {
  joined <- rep(1L, book$rows)
  for (name in names(book$columns)) {
    pairs <- kernel_encode_pair(joined, codes_to_compare(book, name), thread_count())
    # Lines that differ already differ whatever follows.
    if (length(pairs$first) == book$rows) {
      return(NULL)
    }
    joined <- pairs$codes
  }
  rows <- which(duplicated(joined))
  if (length(rows) == 0L) {
    return(NULL)
  }
  new_finding(
    "repeated lines", length(rows), rows_of(rows),
    "The same in every column as an earlier line: leave out those that are not orders of their own."
  )
}

# Which value of a column each line has; of what cannot be compared each has its own.
codes_to_compare <- function(book, name) {
  x <- book$columns[[name]]
  codes <- if (is.character(x) || is.factor(x)) labels_of_column(book, name)$codes
    else if (is.atomic(x) && !is.complex(x) && !is.raw(x)) kernel_encode(x, thread_count())$codes
    else seq_along(x)
  ifelse(is.na(codes), 0L, codes)
}

find_missing <- function(book, today) {
  each_column(book, function(x, name) {
    missing <- which(is.na(x))
    in_lookup <- any(vapply(book$lookups, function(lookup) name %in% lookup$columns, NA))
    if (length(missing) == 0L || name == book$date || in_lookup) {
      return(NULL)
    }
    few <- length(missing) < rare * book$rows
    advice <- "Known for some of the lines only."
    if (few)
      advice <- paste0("Nearly all lines have one: fill these in. Amounts are left out, labels ",
        "shown as (none).")
    new_finding("missing values", length(missing), rows_of(missing),
      advice, name, if (few) "problem" else "note")
  })
}

find_text_in_numbers <- function(book, today) {
  each_column(book, function(x, name) {
    if (!(is.character(x) || is.factor(x))) {
      return(NULL)
    }
    coded <- labels_of_column(book, name)
    number <- !is.na(suppressWarnings(as.numeric(coded$labels)))
    share <- sum(coded$lines[number]) / sum(coded$lines)
    if (is.na(share) || share < 0.9 || share == 1) {
      return(NULL)
    }
    odd <- which(coded$codes %in% which(!number))
    new_finding(
      "text in numbers", length(odd), row_examples(odd,
        encodeString(as.character(x), quote = "\"")),
      "These make the whole column text: correct them to add it up.", name
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
      "Far above all others: check for a wrong digit or unit.", name
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
      "Rare here: check whether the amount was left out.", name)
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
      paste0("Returns and credits lower the sums; ",
        condition_to_say(paste(name_text(name), "> 0")), " leaves them out."), name, "note"
    )
  })
}
