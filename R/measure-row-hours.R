# Hours read off times of day.

# The hour of a time of day, 0 to 23: of date-times; of texts such as "13:45", "1.45 pm" or "1345";
# of numbers, parts of a day below 1 as sheets have them, else hours and minutes such as 1345.
hour_of <- function(x) {
  if (inherits(x, "POSIXct")) {
    return(as.numeric(local_seconds(x) %/% 3600 %% 24))
  }
  x <- as_plain(x)
  if (inherits(x, "difftime")) {
    return(hour_in_day(as.numeric(x, units = "hours")))
  }
  if (is.numeric(x)) {
    return(if (all(x >= 0 & x < 1, na.rm = TRUE)) hour_in_day(24 * x +
      1e-9) else hour_and_minute(x))
  }
  text <- trimws(tolower(as.character(x)))
  found <- regmatches(text,
    regexec("^([0-9]{1,2})(?:[:.h]?([0-5][0-9]))?(?:[:.][0-5][0-9](?:[.,][0-9]+)?)? ?(am|pm)?$",
    text, perl = TRUE))
  vapply(found, function(parts) {
    if (length(parts) == 0L) {
      return(NA_real_)
    }
    hour <- as.numeric(parts[2L])
    if (parts[4L] == "") {
      return(hour_in_day(hour))
    }
    if (hour < 1 || hour > 12) NA_real_ else hour %% 12 + 12 * (parts[4L] == "pm")
  }, 0)
}

hour_in_day <- function(hours) {
  ifelse(!is.na(hours) & hours >= 0 & hours < 24, floor(hours), NA_real_)
}

hour_and_minute <- function(x) {
  ifelse(!is.na(x) & x == floor(x) & x %% 100 < 60, hour_in_day(x %/% 100), NA_real_)
}
