#' A calendar of your own
#'
#' For sales years that follow no rule: a table says where every period begins and ends, what it is
#' called and which coarser periods it belongs to.
#'
#' @param table A data frame, or the path of a CSV file, with one row for each period of the finest
#'   unit, in the order of time: the columns `start` and `end` (first and last day, Dates or ISO
#'   text), and a column of labels for each unit, named `week`, `month`, `quarter`, `half` or
#'   `year`. Neighbouring rows with the same label in a coarser unit make one period of it.
#' @param name What the calendar is called in tables and messages.
#' @param strict `TRUE`: dates outside the table are an error. `FALSE`: they have no period;
#'   they are counted and named.
#' @return A `drystack_calendar` with these units and `day`.
#' @section Errors: `drystack_error_calendar`, each naming the rows: a missing column, dates that
#'   are none, a period that ends before it begins, gaps and overlaps, empty or repeated labels,
#'   a label that comes back after another (its rows lie apart), and a period that lies in two
#'   of the next coarser unit.
#' @seealso [fiscal_calendar()] and [week_calendar()] for calendars by rule.
#' @examples
#' seasons <- custom_calendar(data.frame(
#'   start = c("2025-03-01", "2025-11-01", "2026-03-01"),
#'   end   = c("2025-10-31", "2026-02-28", "2026-10-31"),
#'   half  = c("Summer 2025", "Winter 2025/26", "Summer 2026"),
#'   year  = c("Season 2025", "Season 2025", "Season 2026")
#' ), name = "season")
#' seasons
#' as_period(as.Date("2026-01-15"), half, seasons)
#' @export
custom_calendar <- function(table, name = "custom", strict = FALSE) {
  own_setting()
  check_text(name, "name")
  check_flag(strict, "strict")
  if (is.character(table)) table <- read_calendar_csv(table)
  if (!is.data.frame(table) || nrow(table) == 0L) {
    raise("calendar", c("{.arg table} must be a data frame with rows, or the path of a CSV file."))
  }
  units <- custom_units(table)
  rows <- list(start = custom_days(table, "start"), end = custom_days(table, "end"))
  check_custom_days(rows)
  labels <- lapply(table[units], function(x) kernel_trimmed(as.character(x)))
  check_custom_labels(labels, rows)
  spec <- list(rows = rows, labels = labels, strict = strict)
  words <- list(
    short = paste(name, "calendar"),
    long = paste0(name, " calendar, ", day_words(rows$start[1L]),
      " to ", day_words(rows$end[length(rows$end)]))
  )
  templates <- c(lapply(labels, function(x) unit_labels("{label}", "{label_key}")),
    list(day = day_labels()))
  new_calendar("custom", spec, c("day", units), anchor = units[1L], words = words,
    labels = templates)
}

# What the file holds is checked as a data frame would be.
read_calendar_csv <- function(path) {
  check_text(path, "table")
  read <- delimited_texts(text_bytes(read_bytes(path), path), path)
  columns <- lapply(read$columns, function(column) column$texts[column$codes])
  structure(columns, names = read$names, class = "data.frame", row.names = seq_len(read$records))
}

custom_units <- function(table) {
  missing <- setdiff(c("start", "end"), names(table))
  units <- intersect(setdiff(period_units, "day"), names(table))
  if (length(missing) > 0L || length(units) == 0L) {
    raise("calendar", c(
      paste0("The table of a calendar needs the columns {.val start} and {.val end}, and one ",
        "named by a unit."),
      "x" = "Its columns: {names(table)}.",
      ">" = "Units are {.val {setdiff(period_units, 'day')}}."
    ))
  }
  units
}

custom_days <- function(table, column) {
  x <- table[[column]]
  days <- if (inherits(x, "Date")) as.integer(floor(as.numeric(x))) else iso_days(as.character(x))
  if (anyNA(days)) {
    raise("calendar", c(
      "Column {.val {column}} of the calendar's table holds values that are not dates.",
      "x" = "{examples_of(x[is.na(days)])} at {rows_of(which(is.na(days)))}.",
      ">" = "Write dates as year-month-day: \"2026-02-01\"."
    ))
  }
  check_years(days, column)
  days
}

check_custom_days <- function(rows) {
  n <- length(rows$start)
  raise_rows <- function(bad, what) {
    raise("calendar", c(paste("Periods of the calendar's table", what),
      "x" = "See {rows_of(bad)}."))
  }
  backward <- which(rows$end < rows$start)
  if (length(backward) > 0L) raise_rows(backward, "end before they begin.")
  step <- rows$start[-1L] - rows$end[-n]
  overlaps <- which(step < 1L) + 1L
  if (length(overlaps) > 0L) raise_rows(overlaps, "overlap the one before, or are out of order.")
  gaps <- which(step > 1L) + 1L
  if (length(gaps) > 0L) raise_rows(gaps, "leave a gap after the one before.")
}

check_custom_labels <- function(labels, rows) {
  for (unit in names(labels)) {
    empty <- which(is.na(labels[[unit]]) | labels[[unit]] == "")
    if (length(empty) > 0L) {
      raise("calendar", c("Every {unit} of the calendar's table needs a label.",
        "x" = "See {rows_of(empty)}."))
    }
    runs <- rle(labels[[unit]])
    firsts <- cumsum(c(1L, runs$lengths))[seq_along(runs$lengths)]
    again <- which(duplicated(runs$values))
    if (length(again) > 0L) {
      raise("calendar", c(
        "A {unit} of the calendar's table appears again after another: its rows are not together.",
        "x" = "{examples_of(runs$values[again])} at {rows_of(firsts[again])}."
      ))
    }
  }
  for (i in seq_along(labels)[-1L]) check_custom_parents(labels[[i - 1L]],
    labels[[i]], names(labels)[i - 1:0])
}

check_custom_parents <- function(child, parent, units) {
  split <- which(child[-1L] == child[-length(child)] & parent[-1L] != parent[-length(parent)]) + 1L
  if (length(split) > 0L) {
    raise("calendar", c(
      "A {units[1]} of the calendar's table lies in two periods of the unit {units[2]}.",
      "x" = "{examples_of(child[split])} at {rows_of(split)}."
    ))
  }
}

#' @export
build_grid.drystack_calendar_custom <- function(calendar) {
  spec <- calendar$spec
  after <- spec$rows$end[length(spec$rows$end)] + 1L
  tables <- lapply(spec$labels, function(labels) {
    first <- c(TRUE, labels[-1L] != labels[-length(labels)])
    unit_table(c(spec$rows$start[first], after), labels = labels[first])
  })
  c(tables, list(day = unit_table(seq.int(spec$rows$start[1L], after))))
}
