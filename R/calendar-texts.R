# Dates as people write them: the day of a text, in each form it may have.

ordered_form <- "^[0-9]{1,4}[/.-][0-9]{1,2}[/.-][0-9]{1,4}($|[^0-9])"
# A time of day behind a date, with what may follow it.
time_form <- paste0(
  "([T ,]+[0-9]{1,2}[:.][0-9]{2}([:.][0-9]{2}([.,][0-9]+)?)?",
  " ?([AaPp][Mm])?( ?(Z|[A-Z]{2,5}|[+-][0-9:]{2,6}))?)?$"
)

# Days of texts: ISO, eight digits, months by name, and digits in a given order. NA for others.
days_in_form <- function(texts, order = NULL) {
  texts <- without_weekday(texts)
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
  sub("^(mon|tue|wed|thu|fri|sat|sun)[a-z]*[.,]* +", "", texts, ignore.case = TRUE, perl = TRUE)
}

digit_days <- function(x) {
  fits <- grepl("^(19|20|21)[0-9]{6}$", x)
  days <- rep(NA_integer_, length(x))
  part <- function(from, to) as.integer(substr(x[fits], from, to))
  days[fits] <- checked_days(part(1L, 4L), part(5L, 6L), part(7L, 8L))
  days
}

# "31-Aug-26", "31 August 2026", "Aug 31, 2026", in English.
named_days <- function(x) {
  day_first <- paste0("^([0-9]{1,2})(?:st|nd|rd|th)?[ ./-]*([[:alpha:]]{3,9})[ ./,-]*([0-9]{4}|'?[0-9]{2})",
    time_form)
  month_first <- paste0(
    "^([[:alpha:]]{3,9})[ ./-]*([0-9]{1,2})(?:st|nd|rd|th)?[ ,./-]+([0-9]{4}|'?[0-9]{2})", time_form)
  days <- rep(NA_integer_, length(x))
  first <- grepl(day_first, x, perl = TRUE)
  second <- !first & grepl(month_first, x, perl = TRUE)
  part <- function(pattern, i, here) sub(pattern, paste0("\\", i), x[here], perl = TRUE)
  days[first] <- checked_days(full_year(part(day_first, 3L, first)), month_number(part(day_first, 2L, first)),
    as.integer(part(day_first, 1L, first)))
  days[second] <- checked_days(full_year(part(month_first, 3L, second)),
    month_number(part(month_first, 1L, second)), as.integer(part(month_first, 2L, second)))
  days
}

# The whole name or its beginning of three letters; "Sept" too.
month_number <- function(words) {
  lower <- chartr("ABCDEFGHIJKLMNOPQRSTUVWXYZ", "abcdefghijklmnopqrstuvwxyz", words)
  names <- chartr("JFMASOND", "jfmasond", month.name)
  number <- match(substr(lower, 1L, 3L), substr(names, 1L, 3L))
  whole <- lower == names[number] | nchar(lower) == 3L | lower == "sept"
  number[is.na(whole) | !whole] <- NA
  ifelse(is.na(number), 0L, number)
}

# Two digits are years from 1969 to 2068, as POSIX has them.
full_year <- function(text) {
  year <- as.integer(gsub("[^0-9]", "", text))
  ifelse(nchar(gsub("[^0-9]", "", text)) > 2L, year, year + ifelse(year < 69L, 2000L, 1900L))
}

# Dates of digits in a stated order, with any of / . - between the parts.
ordered_days <- function(x, date_order) {
  if (is.null(date_order) || !date_order %in% names(order_words)) {
    return(rep(NA_integer_, length(x)))
  }
  year <- "([0-9]{4}|[0-9]{2})"
  two <- "([0-9]{1,2})"
  parts <- list(dmy = c(two, two, year), mdy = c(two, two, year),
    ymd = c("([0-9]{4})", two, two))[[date_order]]
  pattern <- paste0("^", paste(parts, collapse = "[/.-]"), time_form)
  days <- rep(NA_integer_, length(x))
  fits <- grepl(pattern, x, perl = TRUE)
  part <- function(letter) sub(pattern, paste0("\\", regexpr(letter, date_order)), x[fits], perl = TRUE)
  days[fits] <- checked_days(full_year(part("y")), as.integer(part("m")), as.integer(part("d")))
  days
}

order_words <- c(dmy = "day, month, year", mdy = "month, day, year", ymd = "year, month, day",
  named = "day and month by its name")
