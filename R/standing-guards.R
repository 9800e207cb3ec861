# What a standing report expects of its orders and figures: each that does not hold is said on the
# page, and under `strict` stops the build.

standing_guards <- function(document, built, tables, today) {
  expect <- document$said$expect
  found <- c(built$changed$expected, unmet_notes(built$book),
    unlist(lapply(tables, `[[`, "unmet")), tie_guard(tables))
  for (name in names(expect)) {
    found <- c(found, switch(name,
      fresh_within = fresh_guard(expect[[name]], built$book, today, document),
      closed = closed_guard(expect[[name]], built$book, today, document),
      bounds_guard(name, as.character(expect[[name]]), built, document)
    ))
  }
  as.character(found)
}

tie_guard <- function(tables) {
  unlist(lapply(tables, function(table) {
    rlang::try_fetch({
      tie_out(table)
      NULL
    }, drystack_error_tie_out = function(e) paste0("tie-out: ", rlang::cnd_header(e)))
  }))
}

# `fresh_within: 3 days`: the last order is no older on the day of building.
fresh_guard <- function(said, book, today, document) {
  days <- suppressWarnings(as.integer(sub(" *days?$", "", as.character(said))))
  if (is.na(days)) raise_key(document, list("expect", "fresh_within"),
    "\"fresh_within\" is a number of days, such as \"3 days\".")
  old <- as.integer(today) - book$last
  if (old > days) paste0(
    "orders are ", old, " days old: the last is of ", day_words(book$last),
    ", expected within ", days, " days"
  )
}

# `closed: month`: the period that holds the as-of date is closed on the day of building.
closed_guard <- function(said, book, today, document) {
  if (is.null(book$closing)) raise_key(
    document, list("expect", "closed"), "\"closed\" needs a closing rule.",
    "Add the key closing, such as closing: {{after: 14}}."
  )
  unit <- at_line(document, list("expect", "closed"),
    latest_unit(list(unit = as.character(said)), book))
  calendar <- book$calendars[[unit$calendar_name]]
  end <- period_end(book$as_of, unit$unit, calendar)
  closes <- closing_day(end, book$closing)
  if (closes > as.integer(today)) {
    label <- period_labels(period_start(book$as_of, unit$unit, calendar), unit$unit, calendar)
    paste0(label, " is not closed yet: it closes on ", day_words(closes))
  }
}

# `sales: "> 0"`: a measure of the report, over everything, against a bound.
bounds_guard <- function(name, bound, built, document) {
  path <- list("expect", name)
  if (!name %in% names(document$said$measures)) {
    near <- nearest_word(name, c(names(document$said$measures), "fresh_within", "closed"))
    raise_key(
      document, path, paste0(quoted(name), " is not a measure of the report."),
      if (!is.null(near)) paste0("Did you mean ", quoted(near), "?")
    )
  }
  measures <- block_measures(list(show = name), document, built$values, path)
  measures$.bound <- said(at_line(document, path,
    read_expression(paste(name, bound), "expect"))$expr)
  x <- at_line(document, path, asked_figures(
    new_request("rollup", measures = measures, show = c(name, ".bound")), built$book
  ))
  met <- x$figures$.bound
  if (!(met %in% 1)) {
    paste0(name, " is ", format_by(x$figures[[name]], x$measures[[name]]$format),
      ", expected ", bound)
  }
}
