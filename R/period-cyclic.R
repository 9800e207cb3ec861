#' The parts of dates that come round
#'
#' Months, quarters and weeks of the year, days of the week and of the month, and hours of the day
#' put several years together. They are factors in the order of the trade: months begin with the
#' first of the calendar's year, days of the week with the calendar's first weekday. In a table they
#' are written like periods: `rollup(book, by = day_of_week, ...)`; such a table says how many years
#' it puts together, and takes no lenses on time.
#'
#' @param x Dates, date-times or periods. Hours need date-times, taken in their own time zone.
#' @param part `month_of_year`, `quarter_of_year`, `week_of_year`, `day_of_week`, `day_of_month` or
#'   `hour_of_day`, bare or as text.
#' @param calendar A calendar, as for [as_period()].
#' @return A factor as long as `x`.
#' @section Errors: `drystack_error_argument` for another part, `drystack_error_calendar` for a part
#'   that the calendar does not have, `drystack_error_period` for hours of something that has none.
#' @seealso [as_period()] for periods that follow each other.
#' @examples
#' days <- as.Date(c("2026-08-31", "2026-09-01"))
#' cyclic_part(days, day_of_week)
#' cyclic_part(days, month_of_year, fiscal_calendar("July"))
#' cyclic_part(as.POSIXct("2026-08-31 14:05", tz = "Europe/London"), hour_of_day)
#' @export
cyclic_part <- function(x, part, calendar = civil_calendar()) {
  own_setting()
  said <- said_quo(rlang::enquo(part))
  word <- if (rlang::is_symbol(said$expr)) rlang::as_string(said$expr) else eval(
    said$expr, said$env)
  check_choice(word, cyclic_parts, "part")
  check_calendar(calendar)
  check_part(word, calendar)
  if (word == "hour_of_day") {
    return(hour_factor(x))
  }
  days <- if (is_period(x)) start_of(x) else if (inherits(x, "POSIXct")) as_day_date(
    local_days(x)) else x
  if (!inherits(days, "Date")) {
    raise(
      "period", c("Parts are read off dates, date-times or periods.",
        "x" = "{.arg x} is {type_words(x)}.")
    )
  }
  check_years(days, "x")
  part_factor(days, word, calendar)
}

# The unit whose place in the year a part is.
part_unit <- c(month_of_year = "month", quarter_of_year = "quarter", week_of_year = "week")

# The days or periods that a part comes round in.
part_unit_word <- function(part) if (part %in% names(part_unit)) part_unit[[part]] else "day"

check_part <- function(part, calendar) {
  if (part %in% names(part_unit)) check_unit(part_unit[[part]], calendar)
  if (part %in% names(part_unit) && has_edges(calendar)) {
    raise("calendar", c(
      paste0("The ", calendar$words$short, " has no ", part,
        ": its periods have names and no places in a year."),
      ">" = "Use a part of another calendar."
    ))
  }
  invisible(part)
}

# A factor without a copy of the days: each known day has its code in a table.
part_factor <- function(days, part, calendar) {
  codes <- kernel_look_up_days(days, part_table(part, calendar), first_known_day,
    thread_count())$values
  structure(codes, levels = part_levels(part, calendar), class = "factor")
}

part_table <- function(part, calendar) {
  remembered(paste(calendar$id, "part", part), function() {
    days <- first_known_day:last_known_day
    switch(part,
      day_of_week = (weekday_of(days) - calendar$week_begins) %% 7L + 1L,
      day_of_month = civil_parts(days)$day,
      week_of_year = weeks_of_year(days, calendar),
      period_numbers(period_start(days, part_unit[[part]], calendar), part_unit[[part]],
        calendar)$number
    )
  })
}

# Weeks that run through years are numbered as ISO weeks are; other weeks by their
# place in the calendar's year.
weeks_of_year <- function(days, calendar) {
  if (nests_in("week", "year", calendar)) {
    return(period_numbers(period_start(days, "week", calendar), "week", calendar)$number)
  }
  iso_week_of(period_start(days, "week", calendar))$week
}

part_levels <- function(part, calendar) {
  switch(part,
    month_of_year = month_part_levels(calendar),
    quarter_of_year = paste0("Q", 1:4),
    week_of_year = sprintf("W%02d", 1:53),
    day_of_week = weekday_words[[calendar$language]][(seq_len(7L) + calendar$week_begins -
      2L) %% 7L + 1L],
    day_of_month = as.character(1:31)
  )
}

month_part_levels <- function(calendar) {
  if (calendar$anchor != "month") {
    return(sprintf("P%02d", seq_along(calendar$spec$weeks)))
  }
  month_words[[calendar$language]]$short[(seq_len(12L) + calendar$spec$starts - 2L) %% 12L + 1L]
}

hour_factor <- function(x) {
  if (is.numeric(x) && !is.object(x)) {
    return(structure(as.integer(x) + 1L, levels = sprintf("%02d", 0:23), class = "factor"))
  }
  if (!inherits(x, "POSIXct")) {
    raise("period", c(
      "Only date-times have hours.",
      "x" = "This is {type_words(x)}.",
      ">" = "Read the column as a date-time, with its time zone."
    ))
  }
  hours <- as.integer(local_seconds(x) %/% 3600 %% 24)
  structure(hours + 1L, levels = sprintf("%02d", 0:23), class = "factor")
}
