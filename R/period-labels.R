# Labels are made from templates: text with {tokens}. Each unit of a calendar has four: the label shown in tables, the
# key (sorts as text in the order of time), a short form for axes, and a long form for sentences.

unit_labels <- function(label, key, short = label, long = label) {
  list(label = label, key = key, short = short, long = long)
}

day_labels <- function() unit_labels("{date}", "{date}", "{dd} {Mon}", "{d} {Month} {civil_year}")

# Fills a template for the periods that begin on `starts`: literal text and tokens pasted piece by piece.
fill_template <- function(template, starts, unit, calendar) {
  pieces <- regmatches(template, gregexpr("\\{[A-Za-z_]+\\}|[^{]+", template))[[1L]]
  filled <- lapply(pieces, function(piece) {
    if (!startsWith(piece, "{")) {
      return(piece)
    }
    token_value(substr(piece, 2L, nchar(piece) - 1L), starts, unit, calendar)
  })
  text <- do.call(paste0, c(list(character(length(starts))), filled))
  text[is.na(starts)] <- NA_character_
  text
}

label_tokens <- c(
  "year", "half", "quarter", "month", "week", "civil_year", "civil_month", "Mon", "Month", "date", "d", "dd",
  "Day", "iso_year", "iso_week"
)

token_value <- function(token, starts, unit, calendar) {
  if (!token %in% label_tokens) {
    raise("argument", c(
      paste0("A period label has no part ", quoted(paste0("{", token, "}")), "."),
      advise_word(token, label_tokens, "parts")
    ))
  }
  if (token %in% c("half", "quarter", "month", "week")) {
    check_unit(token, calendar)
    number <- period_numbers(period_start(starts, token, calendar), token, calendar)$number
    return(sprintf(if (token %in% c("month", "week")) "%02d" else "%d", number))
  }
  civil <- civil_parts(starts)
  switch(token,
    year = sprintf("%d", period_numbers(starts, unit, calendar)$year),
    civil_year = sprintf("%04d", civil$year),
    civil_month = sprintf("%02d", civil$month),
    Mon = month.abb[civil$month],
    Month = month.name[civil$month],
    date = sprintf("%04d-%02d-%02d", civil$year, civil$month, civil$day),
    d = sprintf("%d", civil$day),
    dd = sprintf("%02d", civil$day),
    Day = weekday_names[weekday_of(starts)],
    iso_year = sprintf("%04d", iso_week_of(starts)$year),
    iso_week = sprintf("%02d", iso_week_of(starts)$week)
  )
}

# ISO 8601: a week belongs to the year of its Thursday.
iso_week_of <- function(days) {
  thursday <- days - weekday_of(days) + 4L
  year <- civil_parts(thursday)$year
  list(year = year, week = (thursday - day_of(year, 1L)) %/% 7L + 1L)
}

# Labels of periods; each distinct period is worked out once.
period_labels <- function(starts, unit, calendar, style = "label", template = calendar$labels[[unit]][[style]]) {
  distinct <- unique(starts)
  fill_template(template, distinct, unit, calendar)[match(starts, distinct)]
}
