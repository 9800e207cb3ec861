# The first table of orders that nobody has described: which column is most likely the date, the
# amount and the dimension, and why.

# Beginnings of words in the trade's languages (English, German, French, Spanish, Italian, Dutch,
# Polish, Portuguese).
amount_words_likely <- paste0("(^|[^[:alpha:]])(net|netto|neto|nett|sales|revenue|turnover|umsatz|",
  "betrag|erl(\u00f6|oe)s|",
  "amount|amt|montant|importe?|importo|bedrag|omzet|kwota|warto(\u015b|s)(\u0107|c)|valor|vendas|",
  "ventas|ventes|vendite|",
  "fatturato|chiffre|ca|total|totals?|totaal|totale|sum|summe|suma|value|gross|brutto|line ?total|",
  "line ?value)")
amount_words_unlikely <- paste0("(^|[^[:alpha:]])(price|unit|rate|vat|tax|mwst|ust|iva|tva|btw|",
  "discount|rabatt|cost|",
  "costs|weight|gewicht|qty|quant|menge|anzahl|st(\u00fc|ue)ck|pieces|pcs|percent|pct|margin|preis|",
  "prix|precio|",
  "prezzo|prijs|cena|balance|saldo|freight|shipping|year|month|jahr|monat)")
date_words_likely <- paste0("(^|[^[:alpha:]])(date|datum|data|fecha|day|tag|jour|ordered|order ",
  "?date|sold|",
  "invoiced?|belegdatum|bestelldatum|rechnungsdatum|besteldatum|factuurdatum|posted)")
date_words_unlikely <- paste0("(^|[^[:alpha:]])(entered|created|updated|modified|changed|exported|",
  "printed|imported|due|",
  "paid|shipped|delivered|delivery|dispatch|birth|erfasst|erstellt|ge(\u00e4|ae)ndert|f(\u00e4|",
  "ae)llig|geliefert|",
  "cr(\u00e9|e)(\u00e9|e)|saisi|valid|expir|last|first)")
counter_words <- paste0("^(#|no|nr|nr[.]|line|line ?no|pos|position|lfd([.]? ",
  "?nr)?|row|zeile|ligne|",
  "linea|riga|regel|lp|",
  "index|seq|sequence|id)[.]?$")

# list(date, amount, dimension: names of columns, NA where there is none; why: a line for each)
likely_first_ask <- function(look) {
  date <- best_column(look, "date", date_score)
  amount <- best_column(look, "amount", amount_score)
  dimension <- several_currencies(look) %||% best_column(look, "dimension", dimension_score)
  list(date = date, amount = amount, dimension = dimension, why = c(
    if (!is.na(date)) why_words("date", date, look, "date", date_words_likely),
    if (!is.na(amount)) why_words("amount", amount, look, "amount", amount_words_likely)
    else if (!is.na(date)) "No column is an amount by its values: order lines are counted.",
    if (!is.na(dimension)) paste0("Dimension: ", quoted(dimension), ", with ",
      count_words(look$different[look$column == dimension], "member", "on"), " ",
      count_words(look$known[look$column == dimension], "line", "(fewest members, most lines)."))
  ))
}

# Amounts of several currencies are told apart first.
several_currencies <- function(look) {
  here <- which(grepl(currency_names, look$column, ignore.case = TRUE) &
    look$could_be == "dimension" & look$different > 1L & look$different <= most_currencies)
  if (length(here) > 0L) look$column[here[1L]]
}

why_words <- function(what, name, look, kind, likely) {
  of_kind <- look$column[look$could_be == kind]
  why <- if (length(of_kind) == 1L) paste0("the only column that could be ",
    if (kind == "amount") "an amount"
    else "one")
  else if (grepl(likely, name, ignore.case = TRUE)) "by its name"
  else "by its values"
  others <- setdiff(of_kind, name)
  paste0(if (what == "date") "Date: " else "Amount: ", quoted(name), ", ", why,
    if (length(others) > 0L) paste0(" (not ", words_of(quoted(utils::head(others, 3L))),
      if (length(others) > 3L) ", ...", ")"), ".")
}

# The column of a kind with the highest score, the first of equals.
best_column <- function(look, kind, score) {
  here <- which(look$could_be == kind)
  if (length(here) == 0L) {
    return(NA_character_)
  }
  counts <- lapply(as.list(look)[c("known", "different")], function(n) ifelse(is.na(n), 0L, n))
  scores <- vapply(here, function(i) score(look$column[i], counts, i), 0)
  look$column[here[which.max(scores)]]
}

date_score <- function(name, counts, i) {
  2 * grepl(date_words_likely, name, ignore.case = TRUE) - 3 * grepl(date_words_unlikely, name,
    ignore.case = TRUE) +
    (counts$different[i] > 1L) + counts$known[i] / max(counts$known, 1L)
}

amount_score <- function(name, counts, i) {
  4 * grepl(amount_words_likely, name, ignore.case = TRUE) - 3 * grepl(amount_words_unlikely, name,
    ignore.case = TRUE) +
    counts$different[i] / max(counts$different, 1L) + i / length(counts$known)
}

# The amount by its name alone, the first of equals; NA of none.
likely_amount <- function(names) {
  scores <- 4 * grepl(amount_words_likely, names, ignore.case = TRUE) - 3 *
    grepl(amount_words_unlikely, names, ignore.case = TRUE)
  c(names[which.max(scores)], NA_character_)[1L]
}

# Few members and many lines; a column of one member tells nothing apart.
dimension_score <- function(name, counts, i) {
  members <- counts$different[i]
  if (members < 2L) -1 else counts$known[i] / max(counts$known, 1L) - members / 1000
}

# A first command that runs on the file: NULL where there is no date.
first_command <- function(look) {
  ask <- likely_first_ask(look)
  if (is.na(ask$date)) {
    return(NULL)
  }
  path <- attr(look, "path") %||% "orders.csv"
  shown <- if (is.na(ask$amount)) "lines = count()" else paste0("sales = sum(",
    name_text(ask$amount), ")")
  by <- c(if (!is.na(ask$dimension)) name_text(ask$dimension), "month")
  c(
    paste0("drystack rollup --orders ", shQuote(path, "sh"), " --date ",
      shQuote(ask$date, "sh"), " \\"),
    reading_option_lines(attr(look, "reading")$said),
    paste0("  --by ", shQuote(paste(by, collapse = ","), "sh"), " --show ", shQuote(shown, "sh"))
  )
}

# The options by which it was read, to be said again.
reading_option_lines <- function(said) {
  said <- said[!vapply(said, is.null, NA)]
  if (identical(said$totals_lines, "proven")) said$totals_lines <- NULL
  words <- options_of_reading(said)
  if (length(words) > 0L) paste0("  ", paste(words, collapse = " "), " \\")
}
