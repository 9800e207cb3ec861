# Dates as people write them: the day of a text, in each form it may have.

ordered_form <- "^[0-9]{1,4}[/.-][0-9]{1,2}[/.-][0-9]{1,4}($|[^0-9])"
# A time of day behind a date, with what may follow it.
time_form <- paste0(
  "([T ,]+[0-9]{1,2}[:.h][0-9]{2}([:.][0-9]{2}([.,][0-9]+)?)?",
  "[ \u00a0\u202f]?([AaPp][.]? ?[Mm][.]?)?( ?(Uhr|Z|[A-Z]{2,5}|[+-][0-9:]{2,6}))?)?$"
)

# A day without a year, as databases write an unknown one.
no_day_form <- "^(0000[-/.]00[-/.]00|00[-/.]00[-/.]0000)([T ][0:.]+Z?)?$"

# Days of texts: ISO, eight digits, months by name, and digits in a given order. NA for others.
days_in_form <- function(texts, order = NULL) {
  texts <- without_weekday(texts)
  if (!is.null(order) && order %in% c("period_start", "period_end")) {
    return(period_days(texts, order == "period_end"))
  }
  days <- iso_days(texts)
  for (read in list(digit_days, named_days, function(x) ordered_days(x, order))) {
    open <- which(is.na(days))
    if (length(open) == 0L) break
    days[open] <- read(texts[open])
  }
  days
}

without_weekday <- function(texts) {
  texts[!is_proper_text(texts)] <- ""
  sub(paste0("^(", paste(weekday_beginnings, collapse = "|"),
    ")[[:alpha:]]*[.,]* +(?=[0-9[:alpha:]])"), "", texts,
    ignore.case = TRUE, perl = TRUE)
}

# In English, German, French, Spanish, Italian and Dutch; none of them begins a month.
weekday_beginnings <- c("mon(?!at)", "tue", "wed", "thu", "fri", "sat", "sun", "montag",
  "mo[.,]", "di[.,]", "mi[.,]",
  "do[.,]", "fr[.,]", "sa[.,]", "so[.,]", "dienstag", "mittwoch", "donnerstag", "samstag",
  "sonntag", "lundi",
  "mardi", "mercredi", "jeudi", "vendredi", "samedi", "dimanche", "lunes", "martes",
  "mi\u00e9rcoles", "jueves",
  "viernes", "s\u00e1bado", "domingo", "luned", "marted", "mercoled", "gioved", "venerd", "sabato",
    "domenica",
  "maandag", "dinsdag", "woensdag", "donderdag", "vrijdag", "zaterdag", "zondag")

digit_days <- function(x) {
  fits <- grepl("^(19|20|21)[0-9]{6}$", x)
  days <- rep(NA_integer_, length(x))
  part <- function(from, to) as.integer(substr(x[fits], from, to))
  days[fits] <- checked_days(part(1L, 4L), part(5L, 6L), part(7L, 8L))
  days
}

# "31-Aug-26", "31 August 2026", "Aug 31, 2026", "31. M\u00e4rz 2026", "1er mars 2026",
# "31 de marzo de 2026".
named_days <- function(x) {
  x <- gsub(" de(l)? ", " ", x, perl = TRUE)
  day_first <- paste0("^([0-9]{1,2})(?:st|nd|rd|th|er|\u00ba|\u00b0)?[ ./-]*", month_word,
    "[ ./,-]*([0-9]{4}|'?[0-9]{2})", time_form)
  month_first <- paste0("^", month_word,
    "[ ./-]*([0-9]{1,2})(?:st|nd|rd|th)?[ ,./-]+([0-9]{4}|'?[0-9]{2})", time_form)
  days <- rep(NA_integer_, length(x))
  first <- grepl(day_first, x, perl = TRUE)
  second <- !first & grepl(month_first, x, perl = TRUE)
  part <- function(pattern, i, here) sub(pattern, paste0("\\", i), x[here], perl = TRUE)
  days[first] <- checked_days(full_year(part(day_first, 3L, first)),
    month_number(part(day_first, 2L, first)), as.integer(part(day_first, 1L, first)))
  days[second] <- checked_days(full_year(part(month_first, 3L, second)),
    month_number(part(month_first, 1L, second)), as.integer(part(month_first, 2L, second)))
  days
}

month_word <- "([[:alpha:]\u00c0-\u024f]{3,10})[.]?"

# The names of months and their short forms, in English, German, French, Spanish, Italian and Dutch.
# No form stands for two months.
month_names <- list(
  c("january", "jan", "januar", "j\u00e4nner", "janvier", "janv", "enero", "ene", "gennaio", "gen",
    "januari"),
  c("february", "feb", "februar", "febr", "f\u00e9vrier", "fevrier", "f\u00e9vr", "fevr",
    "f\u00e9v", "fev", "febrero", "febbraio", "februari"),
  c("march", "mar", "m\u00e4rz", "maerz", "m\u00e4r", "mrz", "mars", "marzo", "maart", "mrt"),
  c("april", "apr", "avril", "avr", "abril", "abr", "aprile"),
  c("may", "mai", "mayo", "maggio", "mag", "mei"),
  c("june", "jun", "juni", "juin", "junio", "giugno", "giu"),
  c("july", "jul", "juli", "juillet", "juil", "julio", "luglio", "lug"),
  c("august", "aug", "ao\u00fbt", "aout", "agosto", "ago", "augustus"),
  c("september", "sep", "sept", "septembre", "septiembre", "settembre", "set"),
  c("october", "oct", "oktober", "okt", "octobre", "octubre", "ottobre", "ott"),
  c("november", "nov", "novembre", "noviembre"),
  c("december", "dec", "dezember", "dez", "d\u00e9cembre", "decembre", "d\u00e9c",
    "diciembre", "dic", "dicembre")
)

month_number <- function(words) {
  lower <- chartr("ABCDEFGHIJKLMNOPQRSTUVWXYZ\u00c4\u00c9\u00db",
    "abcdefghijklmnopqrstuvwxyz\u00e4\u00e9\u00fb",
    enc2utf8(words))
  number <- rep(seq_along(month_names), lengths(month_names))[match(lower, unlist(month_names))]
  ifelse(is.na(number), 0L, number)
}

# Two digits are years from 1969 to 2068, as POSIX has them.
full_year <- function(text) {
  year <- as.integer(gsub("[^0-9]", "", text))
  ifelse(nchar(gsub("[^0-9]", "", text)) > 2L, year, year + ifelse(year < 69L, 2000L, 1900L))
}

# Dates of digits in a stated order, with any of / . - between the parts.
ordered_days <- function(x, date_order) {
  if (is.null(date_order) || !date_order %in% c("dmy", "mdy", "ymd")) {
    return(rep(NA_integer_, length(x)))
  }
  year <- "([0-9]{4}|[0-9]{2})"
  two <- "([0-9]{1,2})"
  parts <- list(dmy = c(two, two, year), mdy = c(two, two, year),
    ymd = c(year, two, two))[[date_order]]
  pattern <- paste0("^", paste(parts, collapse = "[/.-]"), time_form)
  days <- rep(NA_integer_, length(x))
  fits <- grepl(pattern, x, perl = TRUE)
  part <- function(letter) {
    sub(pattern, paste0("\\", regexpr(letter, date_order)), x[fits], perl = TRUE)
  }
  days[fits] <- checked_days(full_year(part("y")), as.integer(part("m")), as.integer(part("d")))
  days
}

order_words <- c(dmy = "day, month, year", mdy = "month, day, year", ymd = "year, month, day",
  named = "day and month by its name", period = "periods", period_start = "periods",
  period_end = "periods")
