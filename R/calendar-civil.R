#' Civil and fiscal calendars
#'
#' A calendar says how a sales year is cut into days, weeks, months, quarters, halves and years. The
#' civil calendar begins its year in January; a fiscal calendar in any month, and is named by the
#' civil year it ends in or starts in. Calendars reach from 1900 to 2200.
#'
#' Weeks run through the year ends of these calendars; they nest in no month or year. Where years
#' made of whole weeks are wanted, use a [week_calendar()].
#'
#' @param starts The first month of the fiscal year: a number from 1 to 12 or an English
#'   name (`"July"`, `"Jul"`).
#' @param named_by The civil year that gives the fiscal year its number: the one it ends in
#'   (`"end"`: July 2026 to June 2027 is FY2027) or the one it starts in (`"start"`: FY2026).
#' @param week_begins The first day of the week, by name or number (Monday is 1). Weeks that begin
#'   on Monday carry their ISO number (`2026-W31`), others the date they begin on.
#' @param language The language of the names of months and weekdays: `"en"`, `"de"`, `"fr"`, `"es"`,
#'   `"it"`, `"nl"`, `"pt"` or `"sv"`. It does not depend on the machine's locale.
#' @return A `drystack_calendar`.
#' @section Errors: `drystack_error_calendar` for a month or weekday that is none (the nearest
#'   name is offered), `drystack_error_argument` for a number outside 1 to 12 or another word for
#'   `named_by` or `language`.
#' @seealso [week_calendar()] and [custom_calendar()] for other calendars, [as_period()] to put
#'   dates into periods, [trading()] for trading days, [calendar_table()] for the calendar as a
#'   table, [daybook()] to attach calendars to orders.
#' @examples
#' fiscal_calendar("July")
#' as_period(as.Date("2026-08-31"), quarter, fiscal_calendar("July"))
#' as_period(as.Date("2026-08-31"), quarter, civil_calendar())
#' as_period(as.Date("2026-08-31"), month, civil_calendar(language = "fr"))
#' @export
fiscal_calendar <- function(starts, named_by = "end", week_begins = "Monday", language = "en") {
  own_setting()
  starts <- match_name(starts, month.name, "starts")
  named_by <- check_choice(named_by, c("end", "start"), "named_by")
  span <- paste(month.name[starts], "to", month.name[(starts + 10L) %% 12L + 1L])
  words <- list(
    short = "fiscal calendar",
    long = paste0("fiscal year, ", span, ", named by the year it ", named_by, "s")
  )
  monthly_calendar("fiscal", starts, named_by, words, prefix = "FY", week_begins, language)
}

#' @rdname fiscal_calendar
#' @export
civil_calendar <- function(week_begins = "Monday", language = "en") {
  own_setting()
  words <- list(short = "civil calendar", long = "civil year, January to December")
  monthly_calendar("civil", 1L, "start", words, prefix = "", week_begins, language)
}

monthly_calendar <- function(kind, starts, named_by, words, prefix, week_begins, language) {
  week_begins <- match_name(week_begins, weekday_names, "week_begins")
  month_key <- if (kind == "civil") "{civil_year}-{civil_month}" else paste0(prefix,
    "{year}-P{month}")
  labels <- c(
    year_labels(prefix, c("year", "half", "quarter")),
    list(
      month = unit_labels("{civil_year}-{civil_month} {Mon}", month_key, "{Mon}",
        "{Month} {civil_year}"),
      week = running_week_labels(week_begins),
      day = day_labels()
    )
  )
  new_calendar(
    kind, list(starts = starts, named_by = named_by), period_units,
    anchor = "month", words = words, labels = labels,
    week_begins = week_begins, language = check_language(language)
  )
}

#' @export
build_grid.drystack_calendar_civil <- function(calendar) monthly_grid(calendar)

#' @export
build_grid.drystack_calendar_fiscal <- function(calendar) monthly_grid(calendar)

# Years of twelve civil months from the given first month, wide enough to hold every known day.
monthly_grid <- function(calendar) {
  spec <- calendar$spec
  years <- 1898L:2201L
  starts <- day_of(years, spec$starts)
  ends <- day_of(years + 1L, spec$starts) - 1L
  inside <- ends >= first_known_day & starts <= last_known_day
  first <- years[inside][1L]
  last <- years[inside][sum(inside)]
  month_starts <- function(step) {
    day_of(first, spec$starts + seq.int(0L, 12L * (last - first + 1L), by = step))
  }
  shift <- if (spec$named_by == "end" && spec$starts > 1L) 1L else 0L
  list(
    year = unit_table(month_starts(12L), numbers = (first:last) + shift),
    half = unit_table(month_starts(6L)),
    quarter = unit_table(month_starts(3L)),
    month = unit_table(month_starts(1L)),
    week = unit_table(week_starts(calendar$week_begins)),
    day = known_days()
  )
}

known_days <- function() unit_table(seq.int(first_known_day, last_known_day + 1L))

# The first days of all weeks that begin on a weekday (Monday is 1), the day
# after the last week included.
week_starts <- function(weekday) {
  first <- first_known_day - (weekday_of(first_known_day) - weekday) %% 7L
  seq.int(first, last_known_day + 7L, by = 7L)
}
