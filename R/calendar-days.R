# Days as whole numbers since 1970-01-01, and the limits within which calendars are kept.

first_known_day <- -25567L # 1900-01-01
last_known_day <- 84370L # 2200-12-31

# The day of a civil date; months may run outside 1 to 12. Howard Hinnant, "chrono-compatible
# low-level date algorithms" (days_from_civil), in whole numbers.
day_of <- function(year, month, day = 1L) {
  year <- year + (month - 1L) %/% 12L
  month <- (month - 1L) %% 12L + 1L
  y <- year - (month <= 2L)
  era <- y %/% 400L
  of_era <- y - era * 400L
  of_year <- (153L * (month + ifelse(month > 2L, -3L, 9L)) + 2L) %/% 5L + day - 1L
  as.integer(era * 146097L + of_era * 365L + of_era %/% 4L - of_era %/% 100L + of_year - 719468L)
}

# The civil year, month and day of month of days (civil_from_days of the same source).
civil_parts <- function(day) {
  z <- as.integer(day) + 719468L
  era <- z %/% 146097L
  doe <- z - era * 146097L
  yoe <- (doe - doe %/% 1460L + doe %/% 36524L - doe %/% 146096L) %/% 365L
  doy <- doe - (365L * yoe + yoe %/% 4L - yoe %/% 100L)
  mp <- (5L * doy + 2L) %/% 153L
  month <- ifelse(mp < 10L, mp + 3L, mp - 9L)
  list(
    year = as.integer(yoe + era * 400L + (month <= 2L)),
    month = as.integer(month),
    day = as.integer(doy - (153L * mp + 2L) %/% 5L + 1L)
  )
}

# Monday is 1, Sunday is 7.
weekday_of <- function(day) (as.integer(day) + 3L) %% 7L + 1L

# Days of ISO text ("2026-08-31", with or without a time after it); NA
# where the text is no ISO date.
iso_days <- function(x) {
  pattern <- "^\\s*([0-9]{4})-([0-9]{2})-([0-9]{2})([T ][0-9:.,]+ ?(Z|[+-][0-9:]+)?)?\\s*$"
  days <- rep(NA_integer_, length(x))
  fits <- which(grepl(pattern, x))
  if (length(fits) == 0L) {
    return(days)
  }
  part <- function(i) as.integer(sub(pattern, paste0("\\", i), x[fits]))
  days[fits] <- checked_days(part(1L), part(2L), part(3L))
  days
}

# As day_of(), but NA for dates that do not exist.
checked_days <- function(year, month, day) {
  days <- day_of(year, pmin(pmax(month, 1L), 12L), day)
  exists <- month >= 1L & month <= 12L & day >= 1L & day <= 31L
  exists[is.na(exists)] <- FALSE
  exists[exists] <- civil_parts(days[exists])$day == day[exists]
  days[!exists] <- NA_integer_
  days
}

# The local day of date-times in their own time zone. Offsets from UTC change only on quarters of an
# hour, so they are looked up once for each quarter of an hour that occurs.
local_days <- function(x) {
  as.integer(floor(local_seconds(x) / 86400))
}

local_seconds <- function(x) {
  seconds <- as.numeric(x)
  zone <- attr(x, "tzone")
  zone <- if (is.null(zone)) "" else zone[1L]
  if (zone %in% c("UTC", "GMT", "Etc/UTC")) {
    return(seconds)
  }
  slot <- floor(seconds / 900)
  slots <- unique(slot[is.finite(slot)])
  offset <- as.POSIXlt(.POSIXct(slots * 900, tz = zone))$gmtoff
  seconds + offset[match(slot, slots)]
}

as_day_date <- function(day) structure(as.double(day), class = "Date")

# "18 September 2026": a day as words, the same in every locale.
day_words <- function(day) {
  parts <- civil_parts(day)
  words <- paste(parts$day, month.name[parts$month], parts$year)
  words[is.na(day)] <- NA_character_
  words
}

check_years <- function(days, name) {
  outside <- !is.na(days) & (days < first_known_day | days > last_known_day)
  if (any(outside)) {
    rows <- which(outside)
    shown <- examples_of(format(as_day_date(days[rows])))
    raise("date", c(
      "Dates must lie between 1900-01-01 and 2200-12-31.",
      "x" = paste0(argument_said(name),
        " holds {shown}{if (length(days) > 1) paste0(' (', rows_of(rows), ')')}."),
      ">" = paste0("Mend these dates, or say that they mean none: ",
        braces_kept(option_said("missing", format(as_day_date(days[rows[1L]])))), ".")
    ))
  }
  invisible(days)
}

# One day, given as a Date, a date-time (its local day) or ISO text, as days since 1970-01-01.
check_day <- function(x, name) {
  day <- NA_real_
  if (length(x) == 1L) {
    if (inherits(x, "Date")) day <- floor(as.numeric(x))
    if (inherits(x, "POSIXct")) day <- as.numeric(local_days(x))
    if (is.character(x)) day <- as.numeric(iso_days(x))
  }
  if (is.na(day)) {
    said <- if (is.atomic(x) && length(x) == 1L) quoted(format(x)) else "something else"
    raise("date", c(
      paste0(argument_said(name), " must be one date."),
      "x" = paste0("It is ", said, "."),
      ">" = if (surface$name == "R") "Give a Date, or text as year-month-day: \"2026-08-31\"."
        else "Write year-month-day: 2026-08-31.",
      ">" = "Words are known too, such as {.val last month end} or {.val yesterday}."
    ))
  }
  check_years(day, name)
  as.integer(day)
}
