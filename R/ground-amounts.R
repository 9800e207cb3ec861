# Amounts as people write them: currency signs, thousands marks (of Indian groups too), a decimal
# comma, minus signs of all kinds, parentheses, CR and DR, percent signs, a unit behind the number,
# thousands and millions in short (4.5k), an apostrophe before it, as spreadsheets mark text. A
# column is one of amounts only where every text
# reads one way.

spaces <- "[\\s\u00a0\u2000-\u200a\u202f\u205f\u3000]"
minus_signs <- "[-\u2010-\u2015\u2212\ufe63\uff0d]"
currency_signs <- c("\u00a3" = "GBP", "\u20ac" = "EUR", "$" = "USD", "\u00a5" = "JPY",
  "z\u0142" = "PLN")
currency_codes <- c("GBP", "EUR", "USD", "CHF", "SEK", "NOK", "DKK", "PLN", "CZK",
  "HUF", "JPY", "CAD",
  "AUD", "NZD", "CNY", "INR", "ZAR", "TRY", "RON", "ISK", "SGD", "HKD", "MXN", "BRL")

# The amounts of texts: list(values, currency: of each or NULL, as: how it was read, for people), or
# NULL where some text is none, or list(unsettled: the texts that two ways of reading would take).
amounts_of <- function(texts, reading) {
  if (!all(grepl("[0-9]", utils::head(texts, 50L), useBytes = TRUE)) ||
    !all(grepl("[0-9]", texts, useBytes = TRUE)) || !all(is_proper_text(texts))) {
    return(NULL)
  }
  # Columns of labels show it in their first texts.
  parts <- if (!is.null(amount_parts(utils::head(texts, 50L)))) amount_parts(texts)
  if (is.null(parts)) {
    return(NULL)
  }
  ways <- Filter(function(way) all(fits_way(parts$body, way)), amount_ways(reading))
  if (length(ways) == 0L || any_beyond_double(gsub("[^0-9]", "",
    sub("[.,][0-9]{0,2}$", "", parts$body)))) {
    return(NULL)
  }
  values <- lapply(ways, function(way) {
    parts$sign * body_values(parts$body, way) * parts$times / parts$per
  })
  first <- values[[1L]]
  differ <- Reduce(`|`, lapply(values[-1L], function(other) other != first),
    rep(FALSE, length(texts)))
  if (any(differ)) {
    return(list(unsettled = texts[differ]))
  }
  known <- unique(parts$currency[nzchar(parts$currency)])
  list(values = first, currency = if (length(known) > 1L)
    parts$currency, as = amount_words(texts, parts))
}

# What each mark would make of a text, and how to say which it is.
unsettled_words <- function(text) {
  made <- vapply(c(".", ","), function(mark) {
    paste(format_plain(amounts_of(text, list(decimal = mark))$values), "by",
      option_said("decimal", mark))
  }, "")
  paste0(quoted(text), " is ", paste(made, collapse = " and "))
}

# Sign, currency, what it is per, and the digits with their marks.
amount_parts <- function(texts) {
  x <- gsub(minus_signs, "-", gsub(paste0("^", spaces, "+|", spaces, "+$"), "", texts, perl = TRUE),
    perl = TRUE)
  x <- sub("^['\u2019](?=[-+0-9(])", "", x, perl = TRUE)
  sided <- which(grepl("(CR|DR)\\.?$", x, ignore.case = TRUE, perl = TRUE))
  side <- rep("", length(x))
  side[sided] <- toupper(sub("^.*?(CR|DR)\\.?$", "\\1", x[sided], ignore.case = TRUE, perl = TRUE))
  side[!side %in% c("CR", "DR")] <- ""
  x[sided] <- sub(paste0(spaces, "*(CR|DR)\\.?$"), "", x[sided], ignore.case = TRUE, perl = TRUE)
  bracketed <- grepl("^\\(.*\\)$", x)
  x <- sub("^\\((.*)\\)$", "\\1", x)
  taken <- taken_currency(x)
  x <- taken$rest
  behind <- taken_unit(x)
  if (is.null(behind)) {
    return(NULL)
  }
  x <- behind$rest
  percent <- grepl("%$", x)
  x <- sub(paste0(spaces, "*%$"), "", x, perl = TRUE)
  signed <- grepl("^[-+]|-$", x)
  minus <- grepl("^-|-$", x)
  x <- sub(paste0("^[-+]", spaces, "*|", spaces, "*-$"), "", x, perl = TRUE)
  again <- taken_currency(x)
  currency <- ifelse(nzchar(taken$currency), taken$currency, again$currency)
  x <- again$rest
  twice <- (bracketed & signed) | (nzchar(taken$currency) & nzchar(again$currency)) |
    (bracketed & side != "")
  coded <- grepl("^0[0-9]", x)
  if (any(twice | coded | !grepl(
    "^[0-9.,'\u2019]([0-9.,'\u2019]|[\\s\u00a0\u2009\u202f](?=[0-9]))*$", x, perl = TRUE))) {
    return(NULL)
  }
  list(
    body = x, sign = ifelse(bracketed | minus | side == "CR", -1, 1), per = ifelse(percent, 100, 1),
    currency = currency, side = side, percent = percent, bracketed = bracketed,
    times = behind$times,
    unit = behind$unit
  )
}

# What stands behind numbers: the same unit in the whole column, or how many times each counts. NULL
# where units differ.
taken_unit <- function(x) {
  none <- list(rest = x, times = 1, unit = "")
  if (!any(grepl("[[:alpha:]\u00b2\u00b3]", x))) {
    return(none)
  }
  pattern <- paste0("^([-+]?[0-9].*?)", spaces, "*([[:alpha:]]+[\u00b2\u00b323]?)[.]?$")
  word <- ifelse(grepl(pattern, x, perl = TRUE), sub(pattern, "\\2", x, perl = TRUE), "")
  rest <- ifelse(word == "", x, sub(pattern, "\\1", x, perl = TRUE))
  times <- unname(short_multiples[word])
  if (all(word == "" | !is.na(times))) {
    return(list(rest = rest, times = ifelse(is.na(times), 1, times), unit = ""))
  }
  unit <- unique(tolower(word))
  if (length(unit) != 1L || !unit %in% amount_units) {
    return(if (all(word == "" | tolower(word) %in% amount_units)) NULL else none)
  }
  list(rest = rest, times = 1, unit = word[1L])
}

short_multiples <- c(k = 1e3, K = 1e3, Tsd = 1e3, tsd = 1e3, mn = 1e6, Mn = 1e6,
  Mio = 1e6, mio = 1e6,
  bn = 1e9)

amount_units <- c("kg", "g", "t", "tonne", "tonnes", "m", "cm", "mm", "m2", "m\u00b2", "m3",
  "m\u00b3", "l", "pc",
  "pcs", "piece", "pieces", "ea", "each", "unit", "units", "st", "stk", "st\u00fcck", "qm",
  "lfm", "pz", "u", "szt", "stuks", "h", "hrs", "hours", "days", "pallets")

taken_currency <- function(x) {
  if (!any(grepl("[^-+0-9.,' ]", x))) {
    return(list(currency = rep("", length(x)), rest = x))
  }
  # Where a currency stands does not hang on the digits: few forms are looked at for many amounts.
  form <- gsub("[0-9]+", "0", x)
  forms <- unique(form)
  found <- currency_places(forms)
  place <- match(form, forms)
  currency <- found$currency[place]
  for (word in setdiff(unique(currency), "")) {
    own <- paste0("\\Q", word, "\\E")
    before <- found$before[place] & currency == word
    after <- !before & currency == word
    x[before] <- sub(paste0("^([-+]?)", own, spaces, "*"), "\\1", x[before], perl = TRUE)
    x[after] <- sub(paste0(spaces, "*", own, "$"), "", x[after], perl = TRUE)
  }
  sign <- currency %in% names(currency_signs)
  currency[sign] <- currency_signs[currency[sign]]
  list(currency = currency, rest = x)
}

# The sign or code of a currency in each text, "" for none, and whether it stands before the number.
currency_places <- function(x) {
  any_of <- paste0("(", paste(c(currency_codes, "[\u00a3\u20ac$\u00a5]", "z\u0142"),
    collapse = "|"), ")")
  before <- paste0("^[-+]?", any_of, spaces, "*.*$")
  after <- paste0("^.*?", spaces, "*", any_of, "$")
  is_before <- grepl(before, x, perl = TRUE)
  is_after <- !is_before & grepl(after, x, perl = TRUE)
  currency <- rep("", length(x))
  currency[is_before] <- sub(before, "\\1", x[is_before], perl = TRUE)
  currency[is_after] <- sub(after, "\\1", x[is_after], perl = TRUE)
  list(currency = currency, before = is_before)
}

# Which mark parts the decimals and which the thousands.
amount_ways <- function(reading) {
  ways <- list(
    list(decimal = ".", thousands = ","), list(decimal = ".", thousands = " "),
    list(decimal = ".", thousands = "'"), list(decimal = ",", thousands = "."),
    list(decimal = ",", thousands = " "), list(decimal = ",", thousands = "'")
  )
  Filter(function(way) {
    (is.null(reading$decimal) || way$decimal == reading$decimal) &&
      (is.null(reading$thousands) || way$thousands == reading$thousands)
  }, ways)
}

thousands_marks <- c("," = ",", "." = "\\.", " " = "[\\s\u00a0\u2009\u202f]", "'" = "['\u2019]")

fits_way <- function(body, way) {
  decimal <- if (way$decimal == ".") "\\." else ","
  mark <- thousands_marks[[way$thousands]]
  grouped <- paste0("[0-9]{1,3}(", mark, "[0-9]{3})+")
  # Two digits between the marks, and three at the end: 12,34,567.
  if (way$thousands == ",") grouped <- paste0(grouped, "|[0-9]{1,2}(,[0-9]{2})+,[0-9]{3}")
  whole <- paste0("([0-9]+|", grouped, ")")
  grepl(paste0("^(", whole, "(", decimal, "[0-9]*)?|", decimal, "[0-9]+)$"), body, perl = TRUE)
}

body_values <- function(body, way) {
  digits <- gsub(thousands_marks[[way$thousands]], "", body, perl = TRUE)
  as.numeric(sub(",", ".", digits, fixed = TRUE))
}

# An example of what is not plain, and what CR was taken for.
amount_words <- function(texts, parts) {
  plain <- !nzchar(parts$currency) & !parts$percent & !parts$bracketed & !nzchar(parts$side) &
    grepl("^[-+]?[0-9.]+$", texts)
  paste0("\"", c(texts[!plain], texts)[1L], "\"", if (any(parts$side == "CR")) ", CR negative",
    if (any(parts$times != 1)) ", in full", if (nzchar(parts$unit)) paste0(", without the unit"))
}

# Whether the points of plain numbers may mark thousands as well as decimals: 1.500, where no other
# has one that can only be a decimal point.
are_points_open <- function(texts) {
  pointed <- grepl(".", texts, fixed = TRUE)
  any(pointed) && all(grepl("^[-+]?[1-9][0-9]{0,2}[.][0-9]{3}$", texts[pointed]))
}

# From 2^53 on not every whole number is a double.
any_beyond_double <- function(texts) {
  whole <- grepl("^\\s*[+-]?[0-9]{16,}\\s*$", texts)
  any(whole) && any(abs(as.numeric(texts[whole])) >= 2^53)
}

# The shortest decimal that reads back as the same double.
number_in_full <- function(x) {
  text <- sprintf("%.15g", x)
  longer <- which(!is.na(x))
  longer <- longer[as.numeric(text[longer]) != x[longer]]
  text[longer] <- sprintf("%.17g", x[longer])
  text
}

# Whole but for the noise of binary arithmetic.
is_nearly_whole <- function(x) abs(x - round(x)) <= 1e-6 + 1e-14 * abs(x)
