# drystack calendar: a calendar as a table.

calendar_options <- function() {
  list(
    option("calendar", "CALENDAR", paste0("civil (default), fiscal:MONTH, week:PATTERN:ENDS, ",
      "iso, custom:FILE")),
    option("from", "DATE", "the first day (default: of this calendar's current year)"),
    option("to", "DATE", "the last day (default: of that year)"),
    option("unit", "UNIT", "a row for each day, week, month (default), quarter, half or year"),
    option("closed", "WEEKDAYS", "closing days, by commas: Saturday,Sunday"),
    option("holidays", "FILE", "a file whose first column holds the holidays"),
    flag("csv", "print as CSV"),
    option("out", "FILE", "write to .csv, or draw the year to .png or .svg", many = TRUE)
  )
}

command_calendar <- function(args) {
  values <- read_options(args, calendar_options(), "calendar")
  if (is.null(values)) {
    return(writeLines(calendar_help()))
  }
  calendar <- calendar_from(values$calendar %||% "civil")
  calendar <- trading(calendar, words_by_comma(values$closed), values$holidays %||% character())
  limits <- calendar_limits(values, calendar)
  unit <- values$unit %||% intersect(c("month", "week"), calendar$units)[1L]
  sheet <- calendar_sheet(calendar, limits, unit)
  if (!is.null(values$out)) {
    for (path in values$out) write_calendar(calendar, sheet, limits, path)
  } else if (!is.null(values$csv)) {
    writeLines(csv_lines(sheet$data()))
  } else {
    writeLines(styled_lines(bundle_lines(sheet_bundle(sheet), output_width())))
  }
}

# The days said, or the calendar's year that holds the first day said, or today.
calendar_limits <- function(values, calendar) {
  range <- calendar_range(calendar)
  from <- if (!is.null(values$from)) check_day(values$from, "from")
  year <- if ("year" %in% calendar$units) "year" else utils::tail(calendar$units, 1L)
  day <- min(max(from %||% as.integer(Sys.Date()), range[1L]), range[2L])
  to <- if (!is.null(values$to)) check_day(values$to, "to") else period_end(day, year, calendar)
  c(from %||% period_start(day, year, calendar), to)
}

calendar_sheet <- function(calendar, limits, unit) {
  rows <- calendar_table(calendar, as_day_date(limits[1L]), as_day_date(limits[2L]), unit)
  names <- setdiff(names(rows), "period")
  columns <- lapply(names, function(name) {
    values <- rows[[name]]
    text <- if (is.numeric(values)) format_figures(values) else as.character(values)
    raw <- if (is.numeric(values)) values else as.character(values)
    new_sheet_column(name, name, if (is.numeric(values)) "right" else "left", raw, text)
  })
  new_sheet(
    sentence_case(paste0(unit_plural(unit), " of the ", calendar$words$short)),
    paste0(calendar$words$long, "; ", day_words(limits[1L]), " to ", day_words(limits[2L])),
    trading_note(calendar), columns, rep("line", nrow(rows)), rep(FALSE, nrow(rows)),
    plain_data(rows[names])
  )
}

trading_note <- function(calendar) {
  trading <- calendar$trading
  if (length(trading$closed) + length(trading$holidays) == 0L) {
    return("Without closing days and holidays every day is a trading day.")
  }
  paste0(
    "Trading days leave out ", paste(c(
      if (length(trading$closed) > 0L) paste0(weekday_names[trading$closed], "s"),
      if (length(trading$holidays) > 0L) paste(length(trading$holidays), "holidays")
    ), collapse = " and "), "."
  )
}

write_calendar <- function(calendar, sheet, limits, path) {
  ending <- tolower(file_ending(path))
  if (ending %in% names(figure_writers())) {
    write_report(figure(calendar, as_day_date(limits[1L])), path)
  } else {
    write_bundle(sheet_bundle(sheet), path, "calendar", c(bundle_writers(), figure_writers()))
  }
  tell("wrote ", path)
}

calendar_help <- function() {
  c(
    "drystack calendar: the periods of a calendar as a table or a picture",
    "",
    option_lines(calendar_options()),
    "",
    "Examples:",
    paste0("  drystack calendar --calendar fiscal:July --from 2026-07-01 --to 2027-06-30 --unit ",
      "month --csv"),
    "  drystack calendar --calendar 'week:4-4-5:last Saturday of January' --out retail.png"
  )
}
