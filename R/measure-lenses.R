# Lenses on time: each turns the cells it is given into others, and its measure is worked out there.
#
# A lens has `parse`, which reads its own arguments (after the measure) into options, and `move`, which turns
# cells into cells. See plan-cells.R for what cells are.

lenses <- function() {
  list(
    ytd = lens_so_far("year"),
    htd = lens_so_far("half"),
    qtd = lens_so_far("quarter"),
    mtd = lens_so_far("month"),
    wtd = lens_so_far("week"),
    so_far = lens_so_far(NULL),
    prior = lens_prior()
  )
}

# From the start of the period of a unit that holds the cell's last day. `fixed` is the unit of the short words.
lens_so_far <- function(fixed) {
  list(
    takes = if (is.null(fixed)) c("unit", "calendar") else "calendar",
    options = function(args, words) {
      list(unit = period_option(if (is.null(fixed)) args$unit else as.name(fixed), args$calendar, words, "so_far"))
    },
    move = function(cells, options, frame) {
      unit <- options$unit %||% raise_no_unit("so_far")
      so_far_cells(cells, unit$unit, unit$calendar)
    }
  )
}

# n periods of a unit earlier; the unit is the grain of the table when none is said.
lens_prior <- function() {
  list(
    takes = c("unit", "n", "match", "calendar"),
    options = function(args, words) {
      list(
        unit = period_option(args$unit, args$calendar, words, "prior"), n = whole_option(args$n, 1L, "prior"),
        match = match_option(args$match)
      )
    },
    move = function(cells, options, frame) {
      unit <- options$unit %||% frame$grain %||% raise_no_unit("prior")
      if (options$match == "weekday") {
        return(shift_weekdays(cells, unit$unit, options$n))
      }
      shift_cells(cells, unit$unit, options$n, unit$calendar)
    }
  )
}

raise_no_unit <- function(lens) {
  raise("expression", c(
    "{.fn {lens}} needs a unit: the table has no period to take it from.",
    ">" = "Say it, for example {.code {lens}(sales, year)}."
  ))
}

# A unit said as `year`, `"year"` or `civil$year`, with the calendar apart where that is said too.
period_option <- function(said, calendar, words, lens) {
  if (is.null(said)) {
    return(NULL)
  }
  found <- period_of_words(said, words$calendars)
  if (is.null(found)) {
    raise("expression", c(
      paste0("{.fn {lens}} takes a unit of time, not ", quoted(rlang::as_label(said)), "."),
      advise_word(rlang::as_label(said), period_units, "units")
    ))
  }
  if (!is.null(calendar)) found$calendar_name <- calendar_word(calendar, words$calendars)
  found$calendar <- words$calendars[[found$calendar_name]]
  check_unit(found$unit, found$calendar)
  found
}

# What a word says of time: list(unit, calendar_name), or NULL when it is no unit.
period_of_words <- function(said, calendars, known = period_units) {
  if (rlang::is_call(said, "$")) {
    calendar <- calendar_word(said[[2L]], calendars)
    unit <- as.character(said[[3L]])
  } else {
    calendar <- names(calendars)[1L]
    unit <- if (is.character(said) || rlang::is_symbol(said)) as.character(said) else ""
    parts <- strsplit(unit, "$", fixed = TRUE)[[1L]]
    if (length(parts) == 2L) {
      calendar <- calendar_word(parts[1L], calendars)
      unit <- parts[2L]
    }
  }
  if (!unit %in% known) {
    return(NULL)
  }
  list(unit = unit, calendar_name = calendar)
}

calendar_word <- function(said, calendars) {
  name <- if (rlang::is_symbol(said) || is.character(said)) as.character(said) else rlang::as_label(said)
  if (!name %in% names(calendars)) {
    raise("calendar", c(
      paste0("The daybook has no calendar ", quoted(name), "."),
      advise_word(name, names(calendars), "calendars")
    ))
  }
  name
}

whole_option <- function(said, default, lens) {
  if (is.null(said)) {
    return(default)
  }
  value <- if (rlang::is_call(said, "-", 1L)) -1 * unsigned(said[[2L]]) else unsigned(said)
  if (is.na(value) || value != round(value)) {
    raise("expression", c(
      paste0("The number of periods of {.fn {lens}} must be a whole number."),
      "x" = paste0("It is ", quoted(rlang::as_label(said)), ".")
    ))
  }
  as.integer(value)
}

match_option <- function(said) {
  if (is.null(said)) {
    return("position")
  }
  word <- if (is.character(said) || rlang::is_symbol(said)) as.character(said) else ""
  if (!word %in% c("position", "weekday")) {
    raise("expression", c(
      "{.arg match} of {.fn prior} is {.val position} or {.val weekday}.",
      "x" = paste0("It is ", quoted(rlang::as_label(said)), ".")
    ))
  }
  word
}

unsigned <- function(said) if (is.numeric(said) && length(said) == 1L) said else NA_real_
