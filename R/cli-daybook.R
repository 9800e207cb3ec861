# The options by which every command makes its daybook.
orders_option <- function() {
  option("orders", "FILE", "order lines: .csv(.gz) .tsv .jsonl .parquet .xlsx, '*.csv', - or a database",
    required = TRUE)
}

reading_options <- function() {
  list(
    option("encoding", "NAME", "of text, such as windows-1252 (default: found)"),
    option("separator", "C", ""),
    option("quote", "C", "one character each (default: found, and the double quote)"),
    option("skip", "N", "how many lines stand above the header (default: found)"),
    option("decimal", "MARK", ""),
    option("thousands", "MARK", "in amounts (default: as a column settles it)"),
    option("missing", "TEXT", "a text that means nothing is known", many = TRUE),
    option("totals-lines", "WORD", "proven (left out where the lines above prove them, the default) or keep"),
    option("rename", "NEW=OLD", "call a column otherwise", many = TRUE),
    option("types", "COLUMN=TYPE", "what a column is: text, amount or date", many = TRUE),
    option("zone", "ZONE", "the time zone of date-times in text"),
    option("date-order", "ORDER", "dmy, mdy, ymd, serial, serial1904 (default: as the column settles it)")
  )
}

# The reading that options say.
reading_from <- function(values) {
  checked_reading(
    encoding = values$encoding, separator = values$separator, quote = values$quote,
    skip = if (!is.null(values$skip)) number_of_option(values$skip, "skip"), decimal = values$decimal,
    thousands = values$thousands, missing = values$missing,
    totals_lines = values[["totals-lines"]] %||% "proven", rename = pairs_said(values$rename, "rename"),
    types = pairs_said(values$types, "types"), date_order = values[["date-order"]], zone = values$zone
  )
}

number_of_option <- function(text, name) {
  number <- suppressWarnings(as.numeric(text))
  if (is.na(number)) {
    raise("argument", c(paste0("--", name, " takes a number."), "x" = paste0("It is ", quoted(text), ".")))
  }
  number
}

# "net=Net sales" as c(net = "Net sales").
pairs_said <- function(texts, name) {
  if (is.null(texts)) {
    return(NULL)
  }
  if (!all(grepl("^[^=]+=.+$", texts))) {
    raise("argument", c(paste0("--", name, " takes two names with = between them."),
      "x" = "It is {examples_of(texts[!grepl('^[^=]+=.+$', texts)])}."))
  }
  stats::setNames(trimws(sub("^[^=]+=", "", texts)), trimws(sub("=.*$", "", texts)))
}

daybook_options <- function() {
  c(list(
    orders_option(),
    option("date", "COLUMN", "the column that holds the date", required = TRUE)
  ), database_options(), reading_options(), list(
    option("calendar", "CALENDAR", "civil, fiscal:MONTH, week:PATTERN:ENDS, iso, custom:FILE", many = TRUE),
    option("lookup", "FILE:KEY", "add the columns of a lookup; FILE:COLUMN=KEY:PREFIX_", many = TRUE),
    option("work-out", "'X = EXPR'", "a new column worked out from others", many = TRUE),
    option("label", "COLUMN=TEXT", "what tables call a column", many = TRUE),
    option("only", "'CONDITION'", "limit the orders; '\"in words\" = CONDITION' names it", many = TRUE),
    option("as-of", "DATE", "see orders up to this day (default: the last order)"),
    option("covered-to", "DATE", "the orders are known to be whole to this day"),
    option("from", "DATE", ""),
    option("to", "DATE", "the first and the last day shown"),
    option("latest", "'N UNIT'", "show the latest periods: '6 month'"),
    flag("complete", "show finished periods only")
  ))
}

daybook_from <- function(values) {
  book <- daybook(
    orders_from(values), values$date,
    calendars = calendars_from(values$calendar)
  )
  for (lookup in values$lookup) book <- lookup_from(book, lookup)
  book <- add_columns(book, read_expressions(values[["work-out"]], "work-out"))
  book <- with_column_labels(book, pairs_said(values$label, "label"))
  book <- add_conditions(book, read_expressions(values$only, "only"))
  if (!is.null(values[["covered-to"]])) book <- covered_to(book, values[["covered-to"]])
  if (!is.null(values[["as-of"]])) book <- as_of(book, values[["as-of"]])
  shown_from(book, values)
}

# "customers.csv:customer_id" or "customers.csv:bill_to=customer_id:bill_"
lookup_from <- function(book, text) {
  parts <- strsplit(text, ":", fixed = TRUE)[[1L]]
  if (!length(parts) %in% 2:3) {
    raise(
      "argument", c(paste0("--lookup ", quoted(text), " names no file and key."),
        ">" = "Write {.val customers.csv:customer_id}.")
    )
  }
  key <- trimws(strsplit(parts[2L], "=", fixed = TRUE)[[1L]])
  by <- if (length(key) == 2L) stats::setNames(key[2L], key[1L]) else parts[2L]
  enrich(
    book, read_orders(parts[1L]), by, prefix = if (length(parts) == 3L) parts[3L] else "",
    name = tools::file_path_sans_ext(basename(parts[1L]))
  )
}

shown_from <- function(book, values) {
  complete <- !is.null(values$complete)
  if (is.null(values$latest)) {
    if (is.null(c(values$from, values$to)) && !complete) {
      return(book)
    }
    return(within_dates(book, values$from, values$to, complete))
  }
  if (!is.null(c(values$from, values$to))) raise("usage", "--latest cannot be used with --from or --to.")
  words <- strsplit(trimws(values$latest), "[ ,]+")[[1L]]
  n <- suppressWarnings(as.numeric(words[1L]))
  if (length(words) != 2L || is.na(n)) {
    raise("argument", c(
      paste0("--latest ", quoted(values$latest), " says no number of periods."),
      ">" = "Write {.val 6 month}."
    ))
  }
  within_dates(book, latest(n, !!words[2L], complete))
}

# The calendars said on the command line; the kind of each is its name.
calendars_from <- function(words) {
  if (is.null(words)) {
    return(civil_calendar())
  }
  calendars <- lapply(words, calendar_from)
  named_calendars(stats::setNames(calendars, vapply(calendars, `[[`, "", "kind")))
}

# "civil", "iso", "fiscal:July[:start]", "week:4-4-5:last Saturday of
# January[:start]" or "custom:FILE".
calendar_from <- function(word) {
  parts <- trimws(strsplit(word, ":", fixed = TRUE)[[1L]])
  kind <- parts[1L]
  n <- length(parts)
  if (kind == "custom" && n >= 2L) {
    return(custom_calendar(sub("^custom:", "", word)))
  }
  makers <- list(
    civil = if (n == 1L) civil_calendar, iso = if (n == 1L) iso_week_calendar,
    fiscal = if (n %in% 2:3) function() {
      fiscal_calendar(month_said(parts[2L]), named_by = c(parts, "end")[3L])
    },
    week = if (n %in% 3:4) function() week_calendar(parts[2L], parts[3L], named_by = c(parts, "end")[4L])
  )
  make <- makers[[kind]]
  if (is.null(make)) {
    raise("calendar", c(
      paste0("--calendar ", quoted(word), " names no calendar."),
      ">" = "Say {.val civil}, {.val iso}, {.val fiscal:July} or {.val custom:FILE}.",
      ">" = "A year of weeks is {.val week:4-4-5:last Saturday of January}.",
      ">" = "{.val fiscal:July:start} names years by their start."
    ))
  }
  make()
}

month_said <- function(text) if (grepl("^[0-9]+$", text)) as.numeric(text) else text
