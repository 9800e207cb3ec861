# A calendar is a small description (`spec`) from which the table of its periods, the grid, is
# made when it is first needed. Two calendars are the same when their ids are: trading days do not
# change what the periods are.
#
# kind:    "civil", "fiscal", "week", "iso" or "custom"
# units:   the units it has; anchor: the unit by whose days matching days are found
# words:   short ("fiscal calendar") and long ("fiscal year, July to June, ...")
# labels:  templates for each unit, see period-labels.R
# week_begins: the first weekday, Monday is 1
new_calendar <- function(kind, spec, units, anchor, words, labels, week_begins = 1L,
  language = "en") {
  structure(
    list(
      kind = kind, spec = spec, units = units, anchor = anchor, words = words, labels = labels,
      week_begins = week_begins, language = language, trading = NULL,
      id = paste0(kind, "-", rlang::hash(list(spec, labels, week_begins, language)))
    ),
    class = c(paste0("drystack_calendar_", kind), "drystack_calendar")
  )
}

is_calendar <- function(x) inherits(x, "drystack_calendar")

check_calendar <- function(x, name = "calendar") {
  if (!is_calendar(x)) {
    raise("calendar", c(
      "{.arg {name}} must be a calendar.",
      "x" = "It is {type_words(x)}.",
      ">" = "Make one with {.fn civil_calendar}, {.fn fiscal_calendar} or {.fn week_calendar}."
    ))
  }
  invisible(x)
}

check_unit <- function(unit, calendar) {
  if (!unit %in% calendar$units) {
    raise("calendar", c(
      paste0("The ", calendar$words$short, " has no unit ", quoted(unit), "."),
      advise_word(unit, calendar$units, "units")
    ))
  }
  invisible(unit)
}
