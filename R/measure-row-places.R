# Numbers by which lookups of several keys and of days are looked up (daybook-enrich-valid.R).

# The place of a value among those of a lookup, from 0; the last for one that it does not have.
places_among <- function(x, levels) {
  text <- member_text(plain_values(x))
  place <- match(text, levels, nomatch = length(levels) + 1L) - 1
  replace(place, is.na(x), NA)
}

# How many of some days have come by each day.
days_reached_by <- function(x, cuts) {
  days <- if (inherits(x, "POSIXct")) as.numeric(local_days(x)) else floor(as.numeric(x))
  replace(findInterval(days, cuts) + 0, is.na(days), NA)
}
