# What whoever made the table wants to know of the orders it was made from, a row each: key (what it
# is about, so that a page tells it once), n (how many lines: of several the most), text.
table_about <- function(table) {
  missing <- table$missing[table$missing > 0]
  about_rows(
    list("unmet", NA, table$unmet),
    list(paste("undecided", undecided_notes(table)), NA, undecided_notes(table)),
    list(paste("missing", names(missing)), missing, missing_notes(table)),
    list(paste("lookup", lookup_notes(table)), NA, lookup_notes(table)),
    list(paste("lines", paste(table$scope_said, collapse = " and ")), table$facts$used,
      used_lines_note(table)),
    list("hidden", NA, hidden_mend(table)), list("added", NA, added_there_note(table)),
    list("reading", NA, reading_note(table))
  )
}

# Each is list(key, n, text) of any number of rows, of which the texts say how many there are.
about_rows <- function(...) {
  rows <- list(...)
  texts <- lapply(rows, function(row) unname(row[[3L]]))
  all <- function(i) unlist(Map(function(row, text) rep_len(row[[i]], length(text)), rows, texts))
  vctrs::new_data_frame(list(key = as.character(all(1L)), n = as.numeric(all(2L)),
    text = as.character(unlist(texts))))
}

all_notes <- function(table) c(table_notes(table), table_about(table)$text)

# Of several tables each thing is told once.
about_once <- function(about) {
  about <- do.call(rbind, about)
  if (is.null(about)) {
    return(about_rows())
  }
  about <- about[order(match(about$key, about$key), -about$n), ]
  about[!duplicated(about$key), ]
}

# Doubles are added in the order a database chooses.
added_there_note <- function(table) {
  amounts <- table$added_there
  if (length(amounts) == 0L) {
    return(character())
  }
  paste0(
    sentence_case(joined_words(amounts)), if (length(amounts) == 1L) " is" else " are",
    " added up by the database: the last digits of figures may differ from those of orders in ",
      "memory."
  )
}

hidden_mend <- function(table) {
  if (table$hidden > 0L) paste0("With members = \"seen\" lines stand for what has orders only ",
    "outside the dates shown", if (disregards_conditions(table)) " or the conditions", ".")
}

missing_notes <- function(table) {
  missing <- table$missing[table$missing > 0]
  if (length(missing) == 0L) {
    return(character())
  }
  paste0(sentence_case(plain_words(names(missing))), " is unknown on ", counted_lines(missing),
    ", left out of its figures.")
}

# A comparison with an unknown value is not met, nor is its contrary.
undecided_notes <- function(table) {
  vapply(table$undecided, function(one) {
    known <- joined_words(plain_words(one$columns), "or")
    paste0(sentence_case(counted_lines(one$lines)), " whose ", known, " is unknown ",
      if (one$lines == 1) "meets" else "meet", " neither ", dQuote(one$words, FALSE),
      " nor its contrary.")
  }, "")
}

# Keys without a row in a lookup whose columns the table reads, and how its file was read.
lookup_notes <- function(table) {
  as.character(unlist(lapply(table$lookups, function(lookup) {
    c(if (length(lookup$keys) > 0L) lookup_words(lookup),
      if (length(lookup$told) > 0L) paste0("Reading the lookup ", quoted(lookup$name), ": ",
        paste(lookup$told, collapse = "; "), "."))
  })))
}

lookup_words <- function(lookup) {
  n <- length(lookup$keys)
  paste0(
    sentence_case(plain_words(lookup$name)), " by ", joined_words(plain_words(lookup$by)), ": ",
      if (n == 0L) "every key has its row." else paste0(
      format_count(n), if (n == 1L) " key has" else " keys have",
      " no match", if (!isFALSE(lookup$named)) paste0(" (", examples_of(lookup$keys), ")"), ", on ",
      counted_lines(lookup$lines), ".",
      if (!isFALSE(lookup$named) && !is.null(lookup$alike))
        paste0(" Of these ", alike_words(lookup$alike, lookup$by))
    )
  )
}

# What was found in the file beside order lines, and how it was taken.
reading_note <- function(table) {
  told <- table$facts$told
  if (length(told) == 0L) character() else paste0("Reading the orders: ",
    paste(told, collapse = "; "), ".")
}

used_lines_note <- function(table) {
  left <- table$facts$left_out
  reason <- ifelse(left$lines == 1, sub("^that do not", "that does not", left$reason), left$reason)
  out <- if (nrow(left) > 0L) paste0("; left out: ",
    paste(counted_lines(left$lines), reason, collapse = "; "))
  conditions <- if (length(table$scope_said) > 0L) paste0(" Conditions: ", paste(table$scope_said,
    collapse = " and "), ".")
  paste0(listed_words(table), "From ", format_count(table$facts$used), " of ",
    format_count(table$facts$read), " order lines", out, ".", conditions)
}

# How many order lines a listing shows, where it does not show all it could.
listed_words <- function(table) {
  shown <- table$listed$shown
  if (is.null(shown) || shown == table$facts$used) {
    return("")
  }
  others <- table$facts$used - shown
  paste0(counted_lines(shown), " shown; ", format_count(others), if (table$listed$compared)
    " more seen by comparisons only. " else " more outside the dates shown. ")
}
