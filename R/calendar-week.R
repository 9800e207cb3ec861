#' Calendars of whole weeks
#'
#' Retail and production years of 52 or 53 whole weeks. The weeks of a quarter go to its months by a
#' pattern; the year ends on a weekday at, or nearest, the end of a month. `iso_week_calendar()` is
#' the case of ISO 8601: weeks from Monday, each in the year of its Thursday.
#'
#' @param pattern How the thirteen weeks of a quarter make months: `"4-4-5"`, `"4-5-4"` or
#'   `"5-4-4"`; or `"13x4"` for thirteen months of four weeks, without quarters and halves.
#' @param ends When the year ends: `"last Saturday of January"`, or
#'   `"Saturday nearest the end of January"`, with any weekday and month.
#' @param extra_week The month of the year, by number, that takes the extra week of a
#'   53-week year. Default: the last.
#' @param named_by The civil year that numbers the year: of its `"end"` or of its `"start"`.
#' @param language The language of the names of weekdays, as for [civil_calendar()].
#' @return A `drystack_calendar` with the units day, week, month, quarter, half and year; `"13x4"`
#'   has no quarter and half, the ISO weeks have day, week and year.
#' @section Errors: `drystack_error_calendar` for a pattern that does not make 52 weeks and for
#'   an `ends` rule without weekday or month; `drystack_error_argument` for an extra week in
#'   a month that is not there.
#' @references ISO 8601-1:2019 for week dates.
#' @seealso [fiscal_calendar()] and [civil_calendar()] for calendars of months;
#'   [calendar_table()] lists its periods.
#' @examples
#' retail <- week_calendar("4-4-5", ends = "last Saturday of January")
#' retail
#' as_period(as.Date("2026-08-31"), month, retail)
#' as_period(as.Date("2021-01-03"), week, iso_week_calendar())
#' @export
week_calendar <- function(pattern = "4-4-5", ends = "last Saturday of January", extra_week = NULL,
  named_by = "end", language = "en") {
  own_setting()
  weeks <- pattern_weeks(pattern)
  rule <- ends_rule(ends)
  named_by <- check_choice(named_by, c("end", "start"), "named_by")
  extra_week <- check_whole(extra_week %||% length(weeks), "extra_week", 1L, length(weeks))
  units <- if (length(weeks) == 13L) setdiff(period_units, c("quarter", "half")) else period_units
  words <- list(
    short = paste(pattern, "calendar"),
    long = paste0(
      pattern, " week year, ", weekday_names[rule$weekday %% 7L + 1L], " to ",
      weekday_names[rule$weekday], ", to the ", ends, ", named by the year it ", named_by, "s"
    )
  )
  labels <- c(
    year_labels("FY", setdiff(units, c("day", "week", "month"))),
    list(
      month = unit_labels("FY{year} P{month}", "FY{year}-P{month}", "P{month}"),
      week = unit_labels("FY{year} W{week}", "FY{year}-W{week}", "W{week}"),
      day = day_labels()
    )
  )
  spec <- list(weeks = weeks, rule = rule, extra_week = extra_week, named_by = named_by)
  calendar <- new_calendar(
    "week", spec, units, anchor = "week", words = words, labels = labels,
    week_begins = rule$weekday %% 7L + 1L, language = check_language(language)
  )
  calendar$said <- list(pattern = pattern, ends = ends)
  calendar
}

#' @rdname week_calendar
#' @export
iso_week_calendar <- function(language = "en") {
  own_setting()
  words <- list(short = "ISO week calendar",
    long = "ISO week year, Monday to Sunday, of 52 or 53 weeks")
  labels <- c(
    year_labels("", "year"),
    list(week = unit_labels("{year}-W{week}", "{year}-W{week}", "W{week}"), day = day_labels())
  )
  spec <- list(rule = list(weekday = 7L, month = 12L, nearest = TRUE), named_by = "end")
  new_calendar(
    "iso", spec, c("day", "week", "year"), anchor = "week", words = words, labels = labels,
    language = check_language(language)
  )
}

#' @export
build_grid.drystack_calendar_week <- function(calendar) {
  grid <- week_year_grid(calendar$spec)
  weeks <- lapply(grid$lengths, function(length) month_lengths(length, calendar$spec))
  months <- unit_table(bounds_of(grid$year$starts[1L], 7L * unlist(weeks)))
  if ("quarter" %in% calendar$units) {
    grid$quarter <- unit_table(every_nth(months, 3L))
    grid$half <- unit_table(every_nth(months, 6L))
  }
  c(grid[names(grid) != "lengths"], list(month = months))
}

#' @export
build_grid.drystack_calendar_iso <- function(calendar) {
  grid <- week_year_grid(calendar$spec)
  grid[names(grid) != "lengths"]
}

# Years, weeks and days; `lengths` are the weeks of each year.
week_year_grid <- function(spec) {
  years <- 1898L:2202L
  ends <- year_ends(years, spec$rule)
  starts <- ends[-length(ends)] + 1L
  ends <- ends[-1L]
  years <- years[-1L]
  inside <- ends >= first_known_day & starts <= last_known_day
  starts <- starts[inside]
  ends <- ends[inside]
  # Three days off the edges, so that a year that ends on 2 February counts as
  # one that ends in January.
  numbers <- if (spec$named_by == "end") years[inside] else civil_parts(starts + 3L)$year
  list(
    year = unit_table(c(starts, ends[length(ends)] + 1L), numbers = numbers),
    week = unit_table(seq.int(starts[1L], ends[length(ends)] + 1L, by = 7L)),
    day = known_days(),
    lengths = (ends - starts + 1L) %/% 7L
  )
}

# The last day of the year for each civil year: the last such weekday of the month,
# or the one nearest its end.
year_ends <- function(years, rule) {
  month_end <- day_of(years, rule$month + 1L) - 1L
  latest <- if (rule$nearest) month_end + 3L else month_end
  latest - (weekday_of(latest) - rule$weekday) %% 7L
}

month_lengths <- function(year_weeks, spec) {
  lengths <- spec$weeks
  lengths[spec$extra_week] <- lengths[spec$extra_week] + (year_weeks - 52L)
  lengths
}

bounds_of <- function(start, lengths) as.integer(start + c(0, cumsum(lengths)))

every_nth <- function(table, n) {
  first <- seq.int(1L, length(table$starts), by = n)
  c(table$starts[first], table$ends[length(table$ends)] + 1L)
}

pattern_weeks <- function(pattern) {
  check_text(pattern, "pattern")
  if (pattern == "13x4") {
    return(rep(4L, 13L))
  }
  parts <- suppressWarnings(as.integer(strsplit(pattern, "-", fixed = TRUE)[[1L]]))
  if (length(parts) != 3L || anyNA(parts) || sum(parts) != 13L || any(parts < 1L)) {
    raise("calendar", c(
      paste0("The pattern ", quoted(pattern), " does not make 52 weeks."),
      "x" = "The months of a quarter must have 13 weeks together.",
      ">" = "Use {.val 4-4-5}, {.val 4-5-4}, {.val 5-4-4} or {.val 13x4}."
    ))
  }
  rep(parts, 4L)
}

# "last Saturday of January" or "Saturday nearest the end of January".
ends_rule <- function(ends) {
  check_text(ends, "ends")
  last <- regmatches(ends, regexec("^last ([[:alpha:]]+) (?:of|in) ([[:alpha:]]+)$", ends))[[1L]]
  nearest <- regmatches(ends, regexec("^([[:alpha:]]+) nearest (?:to )?the end of ([[:alpha:]]+)$",
    ends))[[1L]]
  found <- if (length(last) > 0L) last else nearest
  if (length(found) == 0L) {
    raise("calendar", c(
      paste0("The rule ", quoted(ends), " does not say when the year ends."),
      "x" = "It needs a weekday and a month.",
      ">" = "Write {.val last Saturday of January} or {.val Saturday nearest the end of January}."
    ))
  }
  list(
    weekday = match_name(found[2L], weekday_names, "ends"),
    month = match_name(found[3L], month.name, "ends"),
    nearest = length(last) == 0L
  )
}
