# What lenses on time do, in words: of each step of an explanation, and as the head of a column.

lens_words <- function(tree) {
  words <- lenses()[[tree$fn]]$words
  unit <- tree$options$unit$unit %||% "period of the table"
  if (is.null(words)) paste0("moved by ", tree$fn, "()") else words(tree$options, unit)
}

# NULL where there are none that are short: then a measure goes by its name.
lens_in_words <- function(tree, faces) {
  label <- lenses()[[tree$fn]]$label
  if (!is.null(label)) label(measure_in_words(tree$child, faces), tree$options)
}

so_far_label <- function(of, options) {
  if (!is.null(options$unit)) paste0(of, ", ", options$unit$unit, " to date")
}

current_label <- function(of, options) {
  if (!is.null(options$unit)) paste0(of, " of the whole ", options$unit$unit)
}

prior_words <- function(options, unit) {
  if (goes_by_some_days(options)) {
    return(shift_words(options$n, day_kind(options)))
  }
  match <- if (options$match == "weekday") "on the same weekdays" else "by place in the calendar"
  paste0(shift_words(options$n, unit), ", ", match)
}

prior_label <- function(of, options) {
  paste0(of, if (grepl(",", of, fixed = TRUE)) ",", " ", before_in_words(options))
}

running_words <- function(options, unit) {
  ends <- if (options$from == "record") "from the first day of the record to the cell's last"
    else if (options$from == "start") "from the first day shown to the cell's last"
    else "from the cell's first day to the last shown"
  paste0(ends, if (!is.null(options$unit)) paste0(", starting again each ", unit))
}

running_label <- function(of, options) {
  unit <- options$unit$unit
  if (is.null(unit)) paste("running", of) else paste0("running ", of, " from each ", unit)
}

moving_words <- function(options, unit) {
  many <- options$n != 1L
  of <- if (goes_by_some_days(options)) if (many) units_of(day_kind(options)) else day_kind(options)
    else if (is.null(options$unit)) paste0("period", if (many) "s", " of the table")
    else if (many) unit_plural(unit) else unit
  how <- if (is.null(options$using)) " together" else paste0(", the ", options$using,
    " of their figures")
  paste0("the last ", options$n, " ", of, how)
}

moving_label <- function(of, options) {
  unit <- options$unit$unit
  paste(of, "over", options$n, if (goes_by_some_days(options)) units_of(day_kind(options))
    else if (is.null(unit)) "periods" else unit_plural(unit))
}

shift_words <- function(n, unit) {
  paste(abs(n), if (abs(n) != 1L) units_of(unit) else unit, if (n >= 0L) "earlier" else "later")
}
