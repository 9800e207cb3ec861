# Numbers by which lookups of several keys and of days are looked up (daybook-enrich-valid.R).

# The place of a value among those of a lookup, from 0; the last for one that it does not have.
places_among <- function(x, levels) {
  text <- member_text(plain_values(x))
  place <- match(text, levels, nomatch = length(levels) + 1L) - 1
  replace(place, is.na(x), NA)
}

# How many of some days have come.
days_reached_by <- function(x, cuts) findInterval(as.numeric(as_dates(x, "from")), cuts) + ifelse(is.na(x),
  NA, 0)
