# The labels of periods as templates: text with {tokens}. Each unit of a calendar has four: the
# label shown in tables, the key (sorts as text in the order of time), a short form for axes, and
# a long form for sentences.

unit_labels <- function(label, key, short = label, long = label) {
  list(label = label, key = key, short = short, long = long)
}

day_labels <- function() unit_labels("{date}", "{date}", "{dd} {Mon}", "{d} {Month} {civil_year}")

# Labels of the units that are numbered within the year: "FY2027 Q1".
year_labels <- function(prefix, units) {
  year <- paste0(prefix, "{year}")
  all <- list(
    year = unit_labels(year, year, year),
    half = unit_labels(paste0(year, " H{half}"), paste0(year, "-H{half}"), "H{half}"),
    quarter = unit_labels(paste0(year, " Q{quarter}"), paste0(year, "-Q{quarter}"), "Q{quarter}")
  )
  all[units]
}

# Weeks that run through years: the ISO number where they begin on Monday, else the first day.
running_week_labels <- function(week_begins) {
  if (week_begins == 1L) {
    return(unit_labels("{iso_year}-W{iso_week}", "{iso_year}-W{iso_week}", "W{iso_week}"))
  }
  unit_labels("week of {date}", "{date}", "{dd} {Mon}")
}
