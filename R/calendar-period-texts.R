# Periods where days are expected: weeks, months and quarters as texts (2025-W03, 2025-01, Jan 2025,
# Q1 2025) or digits (202501). They count on their first or their last day.

# Days of texts that name periods, NA for others.
period_days <- function(texts, end = TRUE) {
  first <- rep(NA_integer_, length(texts))
  last <- first
  for (form in period_forms()) {
    fits <- is.na(first) & grepl(form$pattern, texts, ignore.case = TRUE, perl = TRUE)
    if (!any(fits)) next
    part <- function(i) {
      sub(form$pattern, paste0("\\", i), texts[fits], ignore.case = TRUE, perl = TRUE)
    }
    span <- form$span(full_year(part(form$year)), part(3L - form$year))
    first[fits] <- span$first
    last[fits] <- span$last
  }
  if (end) last else first
}

# pattern: of a year and a part of it; year: which of both it names first; span: of a year and a
# part the first and the last day, NA where there is no such period.
period_forms <- function() {
  form <- function(pattern, year, span) list(pattern = pattern, year = year, span = span)
  week <- "(?:W|KW|S|Wk|Week)[ -]?([0-9]{1,2})"
  quarter <- "(?:Q|T|Qtr|Quarter|Quartal)[ -]?([1-4])"
  year <- "((?:19|20|21)[0-9]{2})"
  list(
    form(paste0("^", year, "[ -/]?", week, "$"), 1L, week_span),
    form(paste0("^", week, "[ -/,]*", year, "$"), 2L, week_span),
    form(paste0("^", year, "[ -/]?", quarter, "$"), 1L, quarter_span),
    form(paste0("^", quarter, "[ -/,]*", year, "$"), 2L, quarter_span),
    form(paste0("^", year, "[-/. ]?(0[1-9]|1[0-2])$"), 1L, month_span),
    form(paste0("^(0?[1-9]|1[0-2])[-/. ]", year, "$"), 2L, month_span),
    form(paste0("^", month_word, "[-/. ]*", year, "$"), 2L, named_month_span),
    form(paste0("^", month_word, "[-/. ]*'?([0-9]{2})$"), 2L, named_month_span),
    form(paste0("^", year, "[-/. ]*", month_word, "$"), 1L, named_month_span)
  )
}

month_span <- function(year, month) {
  month <- as.integer(month)
  known <- !is.na(month) & month >= 1L
  month[!known] <- 1L
  list(first = ifelse(known, day_of(year, month), NA),
    last = ifelse(known, day_of(year, month + 1L) - 1L, NA))
}

named_month_span <- function(year, word) {
  month <- month_number(word)
  month_span(year, ifelse(month == 0, NA, month))
}

quarter_span <- function(year, quarter) {
  month <- 3L * as.integer(quarter) - 2L
  list(first = day_of(year, month), last = day_of(year, month + 3L) - 1L)
}

# Weeks of ISO 8601: the first holds 4 January, and each begins on Monday.
week_span <- function(year, week) {
  fourth <- day_of(year, 1L, 4L)
  first <- fourth - weekday_of(fourth) + 1L + 7L * (as.integer(week) - 1L)
  first[as.integer(week) < 1L | as.integer(week) > 53L] <- NA
  list(first = first, last = first + 6L)
}
