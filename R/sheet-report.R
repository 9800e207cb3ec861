#' Several tables, figures and paragraphs in one report
#'
#' @param ... The parts of the page, in order: tables of this package, ggplot2 figures, texts
#'   (a paragraph each), [changes()], and [beside()]. A name becomes the label over a part:
#'   `"Sales by depot" = rollup(...)`.
#' @param title,subtitle The head of the report; by default the title of its first table.
#' @param footnotes Texts at its foot.
#' @param contents `TRUE`: the labels are listed first.
#' @param made The day it was made, shown at the end.
#' @param notes How many notes to show: `"full"`, all; `"brief"`, those needed to read the figures
#'   correctly, but nothing about the orders and how the report was made; `"none"`.
#' @param paper,orientation Of the printed page: `"A4"` or `"letter"`,
#'   `"portrait"` or `"landscape"`.
#' @return A `drystack_report` that prints as text, is written by [write_report()], and shows itself
#'   in R Markdown and Quarto.
#' @section Errors: `drystack_error_argument` for a part that is none of these, and
#'   for a report without parts.
#' @seealso [write_report()] writes it; [build_report()] builds it again from a file.
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on, calendars = fiscal_calendar("July")) |>
#'   only(status != "cancelled") |> within_dates(latest(4, quarter))
#' sales <- rollup(book, by = quarter, sales = sum(amount), ytd = ytd(sales))
#' report(title = "Sales of Harrowgill Stone Yard",
#'   "By quarter" = beside(sales, figure(sales)),
#'   "By depot" = crosstab(book, depot, quarter, sales = sum(amount), totals = "grand"),
#'   footnotes = "Returns are counted as negative sales."
#' )
#' @export
report <- function(..., title = NULL, subtitle = character(), footnotes = character(),
  contents = FALSE, made = Sys.Date(), notes = "full", paper = "A4", orientation = "portrait") {
  own_setting()
  parts <- rlang::list2(...)
  check_text(title, "title", optional = TRUE)
  check_flag(contents, "contents")
  new_report(parts, title, as.character(subtitle), as.character(footnotes), contents,
    check_day(made, "made"), page_look(notes, paper, orientation))
}

#' Parts of a report side by side
#'
#' On narrow paper and screens they are placed one below the other.
#'
#' @param ... Two to four tables, figures and texts; a name becomes the label over a part.
#' @return A part of a [report()].
#' @section Errors: `drystack_error_argument` for a part that is none of these.
#' @seealso [report()] puts parts one below the other.
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on) |> within_dates(latest(6, month))
#' sales <- rollup(book, by = month, sales = sum(amount))
#' report("The last months" = beside(sales, figure(sales)))
#' @export
beside <- function(...) {
  own_setting()
  parts <- rlang::list2(...)
  if (!length(parts) %in% 2:4) {
    raise("argument", c("{.fn beside} takes two to four parts.",
      "x" = "There {?is/are} {length(parts)}."))
  }
  check_parts(parts, allowed = function(part) {
    !inherits(part, c("drystack_beside",
      "drystack_changes"))
  })
  structure(list(parts = unname(parts), labels = rlang::names2(parts)), class = "drystack_beside")
}

# private: TRUE where it is for one member of a dimension, and must name no other.
page_look <- function(notes = "full", paper = "A4", orientation = "portrait", private = FALSE) {
  list(
    private = private,
    notes = check_choice(notes, notes_words, "notes"), paper = check_choice(paper, paper_words,
      "paper"),
    orientation = check_choice(orientation, orientation_words, "orientation")
  )
}

# look: see page_look(); told: lines on how it was made, beside what its tables tell.
new_report <- function(parts, title, subtitle, footnotes, contents, made, look = page_look(),
  told = character()) {
  if (length(parts) == 0L) raise("argument", c("A report needs at least one part.",
    ">" = "Give it tables, figures or texts."))
  check_parts(parts)
  structure(
    list(
      parts = parts, labels = rlang::names2(parts), title = title, subtitle = subtitle,
      footnotes = footnotes,
      contents = contents, made = made, look = look, told = told
    ),
    class = "drystack_report"
  )
}

check_parts <- function(parts, allowed = function(part) TRUE) {
  ok <- vapply(parts, function(part) {
    allowed(part) && (is.character(part) ||
      inherits(part, c("drystack_table", "ggplot", "drystack_drawing", "drystack_beside",
        "drystack_changes")))
  }, NA)
  if (!all(ok)) {
    raise("argument", c(
      "A report takes tables, figures and texts.",
      "x" = "Part {which(!ok)[1]} is {type_words(parts[[which(!ok)[1]]])}."
    ))
  }
}

# The parts of a report, those side by side each for itself.
flat_parts <- function(parts) {
  unlist(lapply(unname(parts), function(part) {
    if (inherits(part, "drystack_beside")) part$parts else list(part)
  }), recursive = FALSE)
}

#' @export
as_bundle.drystack_report <- function(x) {
  laid_out <- parts_laid_out(x$parts)
  parts <- flat_parts(laid_out)
  sheets <- Filter(is_sheet, parts)
  # What figures were drawn from is told as what tables were made from is.
  drawn <- Filter(function(part) inherits(part, "drystack_drawing") && !is.null(part$table), parts)
  from <- lapply(drawn, function(part) {
    list(facts = table_facts(part$table), about = table_about(part$table))
  })
  told <- list(facts = page_facts(c(sheets, from)), notes = shared_notes(sheets))
  blocks <- unlist(Map(page_blocks, unname(laid_out), x$labels, MoreArgs = list(told = told)),
    recursive = FALSE)
  about <- about_once(lapply(c(sheets, from), `[[`, "about"))
  if (x$look$private) about <- about[!grepl("^(unmet|lookup)", about$key), ]
  bundle <- new_bundle(
    x$title %||% page_title(sheets), x$subtitle, told$facts, c(x$footnotes, told$notes),
    blocks, x$contents,
    about = c(about$text, x$told, made_on(x$made)),
    paper = x$look$paper, orientation = x$look$orientation
  )
  bundle$told <- unique(unlist(lapply(sheets, `[[`, "told")))
  with_notes(bundle, x$look$notes)
}

made_on <- function(day) paste0("Made on ", day_words(day), ".")

# The parts of a page, tables as their sheets and figures as what draws them.
parts_laid_out <- function(parts) {
  lapply(parts, function(part) {
    if (inherits(part, "drystack_beside")) part$parts <- parts_laid_out(part$parts)
    else if (inherits(part, "drystack_table")) part <- as_sheet(part)
    else if (inherits(part, "ggplot")) part <- drawing_of(part)
    part
  })
}

page_title <- function(sheets) if (length(sheets) > 0L) sheets[[1L]]$title else "Report"

# What heads the page: what is so of all its tables, and every calendar one of them goes by.
page_facts <- function(sheets) {
  if (length(sheets) == 0L) {
    return(character())
  }
  facts <- lapply(Filter(function(sheet) length(sheet$facts) > 0L, sheets), `[[`, "facts")
  all <- unlist(facts)
  all <- all[!duplicated(all)]
  shared <- Reduce(intersect, facts)
  all[all %in% shared | names(all) == "calendar"]
}

# Notes that all tables have are told once, at the foot.
shared_notes <- function(sheets) {
  if (length(sheets) < 2L) character() else Reduce(intersect, lapply(sheets, `[[`, "notes"))
}

# The blocks of a part of the page: what changed has several.
page_blocks <- function(part, label, told) {
  if (inherits(part, "drystack_changes")) changes_blocks(part,
    label) else list(page_block(part, label, told))
}

page_block <- function(part, label, told, across = 1L) {
  if (inherits(part, "drystack_beside")) {
    blocks <- Map(page_block, part$parts, part$labels, MoreArgs = list(told = told,
      across = length(part$parts)))
    if (nzchar(label)) blocks <- lapply(blocks, under_one_label)
    return(list(kind = "beside", label = label, blocks = blocks))
  }
  if (is.character(part)) {
    return(list(kind = "text", label = label, text = part))
  }
  if (inherits(part, "drystack_drawing")) {
    return(list(kind = "figure", label = if (label == "") part$title else label, drawing = part,
      across = across))
  }
  part$facts <- part$facts[!part$facts %in% told$facts]
  part$notes <- setdiff(part$notes, told$notes)
  list(kind = "table", label = if (label == "") part$title else label, sheet = part,
    named = label != "")
}

# Under a label for all of them, parts that have none of their own need none.
under_one_label <- function(block) {
  if (block$kind == "table" && !block$named || block$kind == "figure" &&
    block$label == block$drawing$title)
      block$label <- ""
  block
}
