# Labels of periods, made from the templates of their calendar.

# Fills a template for the periods that begin on `starts`: literal text and
# tokens pasted piece by piece.
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
  "year", "half", "quarter", "month", "week", "civil_year", "civil_month", "Mon", "Month",
  "month_name", "date", "d", "dd", "Day", "day_name", "iso_year", "iso_week"
)

token_value <- function(token, starts, unit, calendar) {
  if (!token %in% c(label_tokens, "label", "label_key")) {
    raise("argument", c(
      paste0("A period label has no part ", quoted(paste0("{", token, "}")), "."),
      advise_word(token, label_tokens, "parts")
    ))
  }
  if (token %in% c("label", "label_key")) {
    return(own_label(token, starts, unit, calendar))
  }
  if (token %in% c("year", "half", "quarter", "month", "week")) {
    return(number_token(token, starts, unit, calendar))
  }
  civil <- civil_parts(starts)
  months <- month_words[[calendar$language]]
  switch(token,
    civil_year = sprintf("%04d", civil$year),
    civil_month = sprintf("%02d", civil$month),
    Mon = months$short[civil$month],
    Month = ,
    month_name = months$name[civil$month],
    date = sprintf("%04d-%02d-%02d", civil$year, civil$month, civil$day),
    d = sprintf("%d", civil$day),
    dd = sprintf("%02d", civil$day),
    Day = ,
    day_name = weekday_words[[calendar$language]][weekday_of(starts)],
    iso_year = sprintf("%04d", iso_week_of(starts)$year),
    iso_week = sprintf("%02d", iso_week_of(starts)$week)
  )
}

# Numbers in the calendar's own year. A calendar whose years have names of their own gives the name.
number_token <- function(token, starts, unit, calendar) {
  check_unit(token, calendar)
  named <- calendar_grid(calendar)[[token]]$labels
  if (!is.null(named)) {
    return(named[period_position(starts, token, calendar)])
  }
  if (token == "year") {
    return(sprintf("%d", period_numbers(starts, unit, calendar)$year))
  }
  number <- period_numbers(period_start(starts, token, calendar), token, calendar)$number
  sprintf(if (token %in% c("month", "week")) "%02d" else "%d", number)
}

# Labels of periods that have names of their own. They are keys too where they sort as text in the
# order of time; else the first day is the key.
own_label <- function(token, starts, unit, calendar) {
  labels <- calendar_grid(calendar)[[unit]]$labels
  if (is.null(labels) || (token == "label_key" && is.unsorted(order(labels, method = "radix")))) {
    return(token_value("date", starts, unit, calendar))
  }
  labels[period_position(starts, unit, calendar)]
}

# ISO 8601: a week belongs to the year of its Thursday.
iso_week_of <- function(days) {
  thursday <- days - weekday_of(days) + 4L
  year <- civil_parts(thursday)$year
  list(year = year, week = (thursday - day_of(year, 1L)) %/% 7L + 1L)
}

# Labels of periods; each is worked out once a session, as long as there are not too many.
period_labels <- function(starts, unit, calendar, style = "label",
  template = calendar$labels[[unit]][[style]]) {
  # Labels may be in another language than their calendar's own.
  known <- remembered(paste(calendar$id, "labels", unit, calendar$language, template),
    function() new.env(parent = emptyenv()))
  new <- setdiff(starts, known$starts)
  if (length(new) > 0L) {
    if (length(known$starts) > most_labels_known) known$starts <- known$text <- NULL
    new <- setdiff(starts, known$starts)
    text <- fill_template(template, new, unit, calendar)
    known$starts <- c(known$starts, new)
    known$text <- c(known$text, text)
  }
  known$text[match(starts, known$starts)]
}

most_labels_known <- 20000L

# A calendar whose periods of a unit are called by another template.
with_period_label <- function(calendar, unit, template) {
  fill_template(template, calendar_grid(calendar)[[unit]]$starts[1L], unit, calendar)
  calendar$labels[[unit]]$label <- template
  calendar$labels[[unit]]$said <- TRUE
  calendar
}
