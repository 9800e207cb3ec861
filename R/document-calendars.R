# Calendars as texts: "fiscal:July".

# "civil", "iso", "fiscal:July[:start]", "week:4-4-5:last Saturday of
# January[:start]" or "custom:FILE".
calendar_from <- function(word, week_begins = "Monday", language = "en") {
  parts <- trimws(strsplit(word, ":", fixed = TRUE)[[1L]])
  kind <- parts[1L]
  n <- length(parts)
  if (kind == "custom" && n >= 2L) {
    return(custom_calendar(sub("^custom:", "", word)))
  }
  makers <- list(
    civil = if (n == 1L) function() civil_calendar(week_begins, language),
    iso = if (n == 1L) function() iso_week_calendar(language),
    fiscal = if (n %in% 2:3) function() {
      fiscal_calendar(month_said(parts[2L]), c(parts, "end")[3L], week_begins, language)
    },
    week = if (n %in% 3:4) function() {
      week_calendar(parts[2L], parts[3L], named_by = c(parts, "end")[4L], language = language)
    }
  )
  make <- makers[[kind]]
  if (is.null(make)) {
    raise("calendar", c(
      paste0(option_prefix("calendar"), quoted(word), " is not a calendar."),
      ">" = "Say {.val civil}, {.val iso}, {.val fiscal:July} or {.val custom:FILE}.",
      ">" = "A year of weeks is {.val week:4-4-5:last Saturday of January}.",
      ">" = "{.val fiscal:July:start} names years by their start."
    ))
  }
  make()
}

month_said <- function(text) if (grepl("^[0-9]+$", text)) as.numeric(text) else text

# Calendars as a document says them: their words by their names, and what holds for all of them, the
# first day of weeks, the language of labels and the trading days.
said_calendars <- function(calendars) {
  settings <- calendar_settings(calendars)
  c(list(calendars = lapply(calendars, calendar_word_of, settings = settings)),
    if (settings$week_begins != "Monday") list(week_begins = settings$week_begins),
    if (settings$language != "en") list(language = settings$language),
    if (!is.null(settings$trading)) list(trading = said_trading(settings$trading)))
}

calendar_settings <- function(calendars) {
  free <- Filter(function(calendar) calendar$kind %in% c("civil", "fiscal"), calendars)
  list(week_begins = weekday_names[c(free, list(list(week_begins = 1L)))[[1L]]$week_begins],
    language = calendars[[1L]]$language, trading = calendars[[1L]]$trading)
}

said_trading <- function(trading) {
  Filter(function(value) length(value) > 0L, list(closed = as.list(weekday_names[trading$closed]),
    holidays = as.list(format(as_day_date(trading$holidays)))))
}

# A calendar in words, where they and the settings say all of it.
calendar_word_of <- function(calendar, settings) {
  spec <- calendar$spec
  start <- if (identical(spec$named_by, "start")) ":start" else ""
  word <- switch(calendar$kind,
    civil = "civil",
    iso = "iso",
    fiscal = paste0("fiscal:", month_words$en$name[spec$starts], start),
    week = paste0("week:", calendar$said$pattern, ":", calendar$said$ends, start)
  )
  same <- !is.null(word) && identical(calendar$trading, settings$trading) && rlang::try_fetch(
    identical(calendar_from(word, settings$week_begins, settings$language)$id, calendar$id),
    drystack_error = function(e) FALSE
  )
  if (!same) {
    raise(
      "standing",
      c(
        paste0("The ", calendar$words$long, " has settings that a standing report cannot hold."),
        ">" = paste("Name it civil, iso, fiscal or week, with the same weeks, language and trading",
          "days as the others.")
      )
    )
  }
  word
}
