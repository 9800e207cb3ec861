# Exchange rates: amounts in another currency, by the day of each order line. The rates of each
# currency are looked up by the day; in_currency() (measure-row-currency.R) chooses among them by
# the currency of the line.

# The columns of a table of rates, by the names they may have.
rate_columns <- list(currency = c("currency", "ccy", "code"),
  date = c("date", "from", "valid_from", "day"),
  rate = c("rate", "value"))

# How far beyond the last order rates go on: orders come in while a daybook is open.
days_of_rates_ahead <- 400L

# A daybook with rates: what in_currency() reads (see new_rates()).
with_rates <- function(book, rates) {
  if (is.null(book$currency)) {
    raise("rates", c("Rates need to know the currency of each order line.",
      ">" = paste0("Say which column tells it: ",
        braces_kept(option_said("currency", "currency")), ".")))
  }
  path <- if (is.character(rates)) rates else attr(rates, "path")
  if (is.character(rates)) rates <- as.data.frame(as_orders(check_text(rates, "rates")))
  table <- checked_rates(rates)
  engine <- engine_of(book)
  days <- seq.int(min(table$days), max(book$last, table$days) + days_of_rates_ahead)
  months <- unique(start_of_month(days))
  by_day <- rate_lookup(book, "day", days, table, days)
  by_month <- rate_lookup(book, "month", months, table, end_of_month(months))
  book$rates <- new_rates(book$currency, unique(table$currency), by_day, by_month, path, table,
    unlisted_currencies(book, table$currency))
  book
}

# column: that tells the currency; listed: the currencies that have rates; by_day, by_month_end:
# each list(lookup, columns: the ids of their rates by currency); path: of their file; table: as
# given; unlisted: currencies of the orders without rates
new_rates <- function(column, listed, by_day, by_month_end, path, table, unlisted) {
  list(column = column, listed = listed, by_day = by_day, by_month_end = by_month_end, path = path,
    table = table,
    unlisted = unlisted)
}

start_of_month <- function(days) {
  parts <- civil_parts(days)
  day_of(parts$year, parts$month)
}

end_of_month <- function(days) {
  parts <- civil_parts(days)
  day_of(parts$year, parts$month + 1L) - 1L
}

unlisted_currencies <- function(book, listed) {
  column <- column_node(book$currency, book$columns[[book$currency]])
  values <- plain_values(distinct_labels(book, column))
  setdiff(sort_values(unique(kernel_trimmed(as.character(values[!is.na(values)])))), listed)
}

distinct_labels <- function(book, column) {
  axis <- dimension_axis(book$currency, column$id)
  members(engine_of(book), axis)$members
}

# list(days, currency, rate; told) of a table of rates, in order; each from its day on.
checked_rates <- function(rates) {
  if (!is.data.frame(rates)) {
    raise("rates", c("Rates are a table.", "x" = "This is {type_words(rates)}.",
      ">" = "It has the columns currency, date (from which on) and rate."))
  }
  names <- tolower(names(rates))
  places <- vapply(rate_columns, function(known) {
    c(match(known, names)[match(known, names, nomatch = 0L) > 0L], NA)[1L]
  }, 1L)
  if (anyNA(places)) {
    raise("rates", c(paste0("The table of rates has no column ",
      quoted(names(rate_columns)[is.na(places)][1L]), "."),
      "i" = paste0("It has ", words_of(names(rates)), "."),
      ">" = paste0("It needs currency, date (from which on) and rate: one unit in the currency ",
        "that has none.")))
  }
  if (nrow(rates) == 0L) raise("rates", c("The table of rates has no rows.",
    ">" = "Check its file."))
  rate <- rates[[places[["rate"]]]]
  if (!is.numeric(rate) || anyNA(rate) || any(rate <= 0)) {
    bad <- if (is.numeric(rate)) which(is.na(rate) | rate <= 0) else seq_along(rate)
    raise("rates", c("Rates must be amounts above zero.", "x" = "See {rows_of(bad)}."))
  }
  dates <- read_dates(rates[[places[["date"]]]], names(rates)[places[["date"]]])
  table <- list(currency = kernel_trimmed(as.character(rates[[places[["currency"]]]])),
    days = as.integer(dates$days), rate = as.numeric(rate))
  if (anyNA(table$days) || anyNA(table$currency))
    raise("rates", "Each rate needs a currency and a day.")
  order <- order(table$currency, table$days)
  table <- lapply(table, `[`, order)
  twice <- which(duplicated(paste(table$currency, table$days)))
  if (length(twice) > 0L) {
    raise("rates", c("A currency has two rates from the same day on.",
      "x" = paste0(table$currency[twice[1L]], " has two from ",
        format(as_day_date(table$days[twice[1L]])), " on."),
      ">" = "Keep one of them."))
  }
  c(table, list(told = c(attr(rates, "reading")$told, dates$told),
    reading = attr(rates, "reading")$said))
}

# Rates by the day or the month of order lines: list(lookup, columns).
rate_lookup <- function(book, unit, keys, table, days) {
  engine <- engine_of(book)
  date <- column_node(book$date, book$columns[[book$date]])
  tree <- node("call", fn = "start_of", args = list(date),
    constants = list(unit = unit, calendar = civil_calendar()), text = paste0("start_of(",
      name_text(book$date), ", ", unit, ")"))
  key <- new_meaning(engine, list(kind = "worked_out", tree = tree))
  lookup <- new_meaning(engine, list(kind = "lookup", by = key,
    keys = as_day_date(keys), key = unit,
    there = NULL))
  columns <- lapply(unique(table$currency), function(currency) {
    own <- table$currency == currency
    place <- findInterval(days, table$days[own])
    values <- c(NA, table$rate[own])[place + 1L]
    new_meaning(engine, list(kind = "looked_up", lookup = lookup, values = values,
      column = paste("rate of", currency)))
  })
  list(lookup = lookup, columns = stats::setNames(columns, unique(table$currency)), by = paste(unit,
    "of the order"))
}
