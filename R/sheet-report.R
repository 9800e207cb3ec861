#' Several tables, figures and paragraphs in one report
#'
#' @param ... What stands on the page, in order: tables of this package, ggplot2 figures, and texts
#'   (a paragraph each). A name becomes the label over a part: `"Sales by depot" = rollup(...)`.
#' @param title,subtitle The head of the report.
#' @param footnotes Texts at its foot.
#' @param contents `TRUE`: the labels are listed first.
#' @param made The day it was made, told with the standing facts (as-of date, calendar, scope, order
#'   lines used and left out).
#' @return A `drystack_report` that prints as text, is written by [write_report()], and shows itself
#'   in R Markdown and Quarto.
#' @section Errors: `drystack_error_argument` for a part that is none of these, and
#'   for a report without parts.
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on, calendars = fiscal_calendar("July")) |>
#'   only(status != "cancelled") |> within_dates(latest(4, quarter))
#' sales <- rollup(book, by = quarter, sales = sum(amount), ytd = ytd(sales))
#' report(title = "Sales of Harrowgill Stone Yard",
#'   "By quarter" = sales, figure(sales),
#'   "By depot" = crosstab(book, depot, quarter, sales = sum(amount), totals = "grand"),
#'   footnotes = "Returns are counted as negative sales."
#' )
#' @export
report <- function(..., title = "Report", subtitle = character(), footnotes = character(),
  contents = FALSE, made = Sys.Date()) {
  own_setting()
  parts <- rlang::list2(...)
  check_text(title, "title")
  check_flag(contents, "contents")
  new_report(parts, title, as.character(subtitle), as.character(footnotes), contents, check_day(made, "made"))
}

new_report <- function(parts, title, subtitle, footnotes, contents, made) {
  if (length(parts) == 0L) raise("argument", c("A report needs at least one part.",
    ">" = "Give it tables, figures or texts."))
  ok <- vapply(
    parts, function(part) {
      inherits(part, c("drystack_table", "ggplot", "drystack_drawing")) || is.character(part)
    }, NA
  )
  if (!all(ok)) {
    raise("argument", c(
      "A report takes tables, figures and texts.",
      "x" = "Part {which(!ok)[1]} is {.obj_type_friendly {parts[[which(!ok)[1]]]}}."
    ))
  }
  structure(
    list(
      parts = parts, labels = rlang::names2(parts), title = title, subtitle = subtitle, footnotes = footnotes,
      contents = contents, made = made
    ),
    class = "drystack_report"
  )
}

#' @export
as_document.drystack_report <- function(x) {
  tables <- Filter(function(part) inherits(part, "drystack_table"), x$parts)
  sheets <- lapply(tables, as_sheet)
  shared <- if (length(sheets) > 0L) sheets[[1L]]$facts else character()
  notes <- shared_notes(sheets)
  blocks <- Map(page_block, unname(x$parts), x$labels, MoreArgs = list(facts = shared, notes = notes))
  new_document(
    x$title, x$subtitle, c(shared, paste("made on", day_words(x$made))),
    c(x$footnotes, notes), blocks, x$contents
  )
}

# Notes that all tables have are told once, at the foot.
shared_notes <- function(sheets) {
  if (length(sheets) == 0L) character() else Reduce(intersect, lapply(sheets, `[[`, "notes"))
}

page_block <- function(part, label, facts, notes) {
  if (is.character(part)) {
    return(list(kind = "text", label = label, text = part))
  }
  if (inherits(part, "ggplot")) part <- drawing_of(part)
  if (inherits(part, "drystack_drawing")) {
    return(list(kind = "figure", label = label, drawing = part))
  }
  sheet <- as_sheet(part)
  sheet$facts <- sheet$facts[!known_fact(sheet$facts, facts)]
  sheet$notes <- setdiff(sheet$notes, notes)
  list(kind = "table", label = if (label == "") sheet$title else label, sheet = sheet)
}

# A fact that the page tells already: the same, or the same as-of date and order
# lines without a calendar.
known_fact <- function(facts, known) {
  facts %in% known | vapply(facts, function(fact) {
    startsWith(fact, "as of ") && any(endsWith(known, fact))
  }, NA)
}
