#' Periods: typed, ordered values of time
#'
#' `as_period()` puts dates into the periods of a calendar. A period knows its calendar and unit,
#' so it orders, compares and counts as time does; its label is only its face. Periods work in data
#' frames and tibbles, in `sort()`, `match()`, `unique()`, `rbind()` and on a ggplot2 axis.
#'
#' Inside, a period is the whole day on which it begins.
#'
#' @param x For `as_period()`: Dates, date-times (taken by their local day), ISO text
#'   (`"2026-08-31"`), the labels or keys of periods as [format()][format.drystack_period] gives
#'   them, or periods of another unit or calendar. For the others: a period vector.
#' @param unit `day`, `week`, `month`, `quarter`, `half` or `year`, bare or as text.
#' @param calendar A calendar such as [civil_calendar()] or [fiscal_calendar()]. Periods keep their
#'   own calendar when none is given; everything else falls in the civil one.
#' @return `as_period()`: a `drystack_period` vector as long as `x`. `start_of()` and `end_of()`:
#'   Dates, the first and the last day of each period. Missing values stay missing.
#' @section Arithmetic: `p + 1L` is the next period of the same unit, `p - 12L` twelve periods
#'   earlier, and `p - q` the number of periods from `q` to `p`. Adding anything else is an error,
#'   and so is comparing periods of different units or calendars.
#' @section Errors: `drystack_error_period` for text that names no period, for units that do not
#'   nest (a week in a month) and for a result beyond the calendar; `drystack_error_date` for dates
#'   before 1900 or after 2200.
#' @seealso [calendar_table()] lists the periods of a calendar; [cyclic_part()] gives parts such as
#'   the month of the year.
#' @examples
#' p <- as_period(as.Date(c("2026-08-31", "2025-12-01")), month)
#' sort(p)
#' end_of(p)
#' p + 1L
#' as_period(p, quarter)
#' as_period("2026 Q3", "quarter")
#' @export
as_period <- function(x, unit, calendar = NULL) {
  own_setting()
  unit <- unit_word(rlang::enquo(unit))
  if (is.null(calendar)) calendar <- if (is_period(x)) period_calendar(x) else civil_calendar()
  check_calendar(calendar)
  check_unit(unit, calendar)
  new_period(starts_for(x, unit, calendar), unit, calendar)
}

#' @rdname as_period
#' @export
start_of <- function(x) as_day_date(vctrs::vec_data(check_period(x)))

#' @rdname as_period
#' @export
end_of <- function(x) {
  check_period(x)
  as_day_date(period_end(vctrs::vec_data(x), period_unit(x), period_calendar(x)))
}

#' @rdname as_period
#' @export
is_period <- function(x) inherits(x, "drystack_period")

new_period <- function(starts = integer(), unit = "day", calendar = civil_calendar()) {
  vctrs::new_vctr(
    as.integer(starts), unit = unit, calendar = calendar, class = "drystack_period",
    inherit_base_type = FALSE
  )
}

period_unit <- function(x) attr(x, "unit", exact = TRUE)

period_calendar <- function(x) attr(x, "calendar", exact = TRUE)

check_period <- function(x, name = "x") {
  if (!is_period(x)) {
    raise("period", c(
      "{.arg {name}} must be a period vector.",
      "x" = "It is {type_words(x)}.",
      ">" = "Make one with {.fn as_period}."
    ))
  }
  invisible(x)
}

# A unit said as a bare word, as text, or held in a variable.
unit_word <- function(quo) {
  if (rlang::quo_is_missing(quo)) raise("argument", c("{.arg unit} is missing.",
    ">" = "Give one of: {words_of(period_units)}."))
  said <- said_quo(quo)
  if (rlang::is_symbol(said$expr)) {
    word <- rlang::as_string(said$expr)
    if (word %in% period_units) {
      return(word)
    }
    if (!exists(word, envir = said$env)) {
      raise("calendar", c(paste0("There is no unit ", quoted(word), "."),
        advise_word(word, period_units, "units")))
    }
  }
  word <- rlang::eval_tidy(quo)
  check_choice(word, period_units, "unit")
}

# The first days of the periods that hold the given values.
starts_for <- function(x, unit, calendar) {
  if (is_period(x)) {
    return(starts_from_periods(x, unit, calendar))
  }
  if (is.character(x)) {
    return(starts_from_text(x, unit, calendar))
  }
  if (inherits(x, "POSIXct")) x <- as_day_date(local_days(x))
  if (!inherits(x, "Date")) {
    raise("period", c(
      "Periods are made from dates, date-times, text or other periods.",
      "x" = "{.arg x} is {type_words(x)}."
    ))
  }
  found <- kernel_look_up_days(x, day_table(unit, calendar), first_known_day, thread_count())
  if (found$outside > 0) check_years(as.numeric(x), "x")
  if (has_edges(calendar) && anyNA(found$values))
    report_outside(x[is.na(found$values) & !is.na(x)], calendar)
  found$values
}

# Only a calendar made from a table has edges within the known days.
has_edges <- function(calendar) calendar$kind == "custom"

# Dates outside a calendar have no period: counted and named, or an error
# where the calendar is strict.
report_outside <- function(outside, calendar) {
  if (length(outside) == 0L) {
    return()
  }
  examples <- examples_of(format(as_day_date(unclass(unique(outside)))))
  if (calendar$spec$strict) {
    raise("calendar", c(
      "{length(outside)} date{?s} {?lies/lie} outside the {calendar$words$long}.",
      "x" = "{examples}.",
      ">" = "Extend the calendar's table, or make it with {.code strict = FALSE}."
    ))
  }
  rlang::warn(
    as.character(cli::format_inline("{length(outside)} date{?s} {?lies/lie} outside the ",
      "{calendar$words$long} and {cli::qty(length(outside))}{?has/have} no period: {examples}.")),
    class = "drystack_warning_outside"
  )
}

starts_from_periods <- function(x, unit, calendar) {
  starts <- vctrs::vec_data(x)
  ends <- period_end(starts, period_unit(x), period_calendar(x))
  inside <- identical(period_position(starts, unit, calendar),
    period_position(ends, unit, calendar))
  if (!inside) {
    odd <- which(period_position(starts, unit, calendar) != period_position(ends, unit, calendar))
    raise("period", c(
      paste0("A ", period_unit(x), " does not always lie in one ",
        unit, " of the ", calendar$words$short, "."),
      "x" = "{examples_of(format(x[odd]))} {if (length(odd) == 1) 'lies' else 'lie'} in two.",
      ">" = paste0("Say which day counts: {.code as_period(start_of(x), ...)} or {.code ",
        "as_period(end_of(x), ...)}.")
    ))
  }
  period_start(starts, unit, calendar)
}

# Text is a label, key or long form of a period, or an ISO date within it.
starts_from_text <- function(x, unit, calendar) {
  distinct <- unique(x)
  starts <- iso_days(distinct)
  if (unit == "month" && calendar$anchor == "month")
    starts <- or_else(starts, iso_days(paste0(distinct, "-01")))
  check_years(starts, "x")
  if (has_edges(calendar)) report_outside(
    starts[is.na(period_position(starts, "day", calendar)) & !is.na(starts)], calendar
  )
  starts[!is.na(starts)] <- period_start(starts[!is.na(starts)], unit, calendar)
  all_starts <- calendar_grid(calendar)[[unit]]$starts
  for (style in if (unit == "day") character() else c("label", "key", "long")) {
    if (!anyNA(starts[!is.na(distinct)])) break
    found <- match(distinct, period_labels(all_starts, unit, calendar, style))
    starts <- ifelse(is.na(starts), all_starts[found], starts)
  }
  unknown <- distinct[is.na(starts) & !is.na(distinct)]
  if (length(unknown) > 0L) {
    example <- period_labels(period_start(20696L, unit, calendar), unit, calendar)
    raise("period", c(
      paste0("Some text is not the name of a ", unit, " of the ", calendar$words$short, "."),
      "x" = "{examples_of(unknown)} at {rows_of(which(x %in% unknown))}.",
      ">" = paste0("Write a ", unit, " as ", quoted(example),
        " or give a date in it (\"2026-08-31\").")
    ))
  }
  as.integer(starts)[match(x, distinct)]
}

#' Labels of periods
#'
#' @param x A period vector.
#' @param style `"label"`, the form shown in tables; `"key"`, which sorts as text in the order of
#'   time and is what CSV and JSON hold; `"short"`, for axes; `"long"`, for sentences.
#' @param template Instead of a style, text with the parts `{year}`, `{half}`, `{quarter}`,
#'   `{month}` and `{week}` (numbers in the calendar's own year), `{civil_year}`, `{civil_month}`,
#'   `{Mon}`, `{Month}`, `{d}`, `{dd}`, `{Day}` and `{date}` (of the period's first day),
#'   `{iso_year}` and `{iso_week}`.
#' @param language The language of the names of months and weekdays, as for [civil_calendar()];
#'   default that of the calendar.
#' @param ... Not used.
#' @return A character vector as long as `x`; missing periods give `NA`.
#' @section Errors: `drystack_error_argument` for an unknown style, part or language.
#' @seealso [as_period()] makes them.
#' @examples
#' p <- as_period("2026-08-31", month, fiscal_calendar("July"))
#' format(p)
#' format(p, "key")
#' format(p, template = "FY{year} P{month}")
#' format(p, "long", language = "de")
#' @export
format.drystack_period <- function(x, style = "label", template = NULL, language = NULL, ...) {
  own_setting()
  style <- check_choice(style, c("label", "key", "short", "long"), "style")
  check_text(template, "template", optional = TRUE)
  calendar <- period_calendar(x)
  if (!is.null(language)) calendar$language <- check_language(language)
  if (is.null(template)) template <- calendar$labels[[period_unit(x)]][[style]]
  period_labels(vctrs::vec_data(x), period_unit(x), calendar, template = template)
}

#' @export
as.character.drystack_period <- function(x, ...) format(x)

#' @export
as.Date.drystack_period <- function(x, ...) start_of(x)

#' @exportS3Method vctrs::vec_ptype_abbr
vec_ptype_abbr.drystack_period <- function(x, ...) period_unit(x)

#' @exportS3Method vctrs::vec_ptype_full
vec_ptype_full.drystack_period <- function(x, ...) {
  paste0("period<", period_unit(x), ", ", period_calendar(x)$words$long, ">")
}

same_periods <- function(x, y) {
  identical(period_unit(x), period_unit(y)) && identical(period_calendar(x)$id,
    period_calendar(y)$id)
}

#' @exportS3Method vctrs::vec_ptype2
vec_ptype2.drystack_period.drystack_period <- function(x, y, ...) {
  if (!same_periods(x, y)) vctrs::stop_incompatible_type(x, y, ...)
  new_period(integer(), period_unit(x), period_calendar(x))
}

#' @exportS3Method vctrs::vec_cast
vec_cast.drystack_period.drystack_period <- function(x, to, ...) {
  if (!same_periods(x, to)) vctrs::stop_incompatible_cast(x, to, ...)
  x
}

#' @exportS3Method vctrs::vec_cast
vec_cast.character.drystack_period <- function(x, to, ...) format(x)

#' @exportS3Method vctrs::vec_cast
vec_cast.Date.drystack_period <- function(x, to, ...) start_of(x)

# Labels of different units never match, whatever day they begin on (R >= 4.3
# asks for this in match()).
#' @rawNamespace if (getRversion() >= "4.3.0") S3method(base::mtfrm, drystack_period)
mtfrm.drystack_period <- function(x) {
  paste(period_calendar(x)$id, period_unit(x), vctrs::vec_data(x))
}
