# What changed as parts of a page: what moved the figures, cell by cell, and the order lines.

#' @export
as_bundle.drystack_changes <- function(x) {
  if (!is.null(x$told_first)) {
    return(new_bundle("What changed", character(), character(), character(), changes_blocks(x)))
  }
  about <- about_once(list(table_about(x$table)))$text
  new_bundle(changes_title(x), character(), table_facts(x$table), character(),
    changes_blocks(x, "What moved the figures"), about = about)
}

changes_title <- function(x) paste("What changed since figures were told", x$since)

# The blocks of a page: reasons beside their figure, then cells and order lines.
changes_blocks <- function(x, label = "", across = 1L) {
  if (length(x$told_first) > 0L) {
    return(list(list(kind = "text", label = label, text = x$told_first)))
  }
  block <- function(label, sheet) list(kind = "table", label = label, sheet = sheet, named = TRUE)
  label <- if (nzchar(label)) label else changes_title(x)
  if (nrow(x$reasons) == 0L || !any_moved(x)) {
    return(list(list(kind = "text", label = label, text = paste0("Nothing that was told ", x$since,
      " has changed."))))
  }
  first <- names(x$figures)[1L]
  why <- block(label, reasons_sheet(x))
  figure <- x$drawing()
  top <- if (is.null(figure)) list(why) else list(
    list(kind = "beside", label = "", blocks = list(why,
    list(kind = "figure", label = "", drawing = figure, across = 2L))))
  cells <- lapply(names(x$figures), function(measure) {
    if (any(moved_cells(x, measure))) block(paste(head_label(x$measures[[measure]]),
      "told and now"), cells_sheet(x, measure))
  })
  which <- if (is.null(x$by)) "Which order lines" else "Which days"
  lines <- if (NROW(x$lines) > 0L) list(block(which, lines_sheet(x, first)))
  c(top, Filter(Negate(is.null), cells), lines)
}

# The cell of everything together.
whole_cell <- function(x) {
  open <- lapply(x$cells$axes, is.na)
  utils::tail(which(Reduce(`&`, open, rep(TRUE, length(x$cells$role)))), 1L)
}

any_moved <- function(x) any(vapply(names(x$figures), function(m) any(moved_cells(x, m)), NA))

moved_cells <- function(x, measure) {
  figures <- x$figures[[measure]]
  last <- figures[, ncol(figures)]
  moved <- clean_difference(last, figures[, 1L])
  is.na(moved) | moved != 0
}

bare_sheet <- function(title, columns, role, data, notes = character()) {
  new_sheet(title, character(), as.character(notes), columns, role, rep(FALSE, length(role)), data)
}

amount_column <- function(name, label, values, measure, signed = FALSE) {
  format <- measure$format %||% default_format()
  if (signed) format$sign <- TRUE
  new_sheet_column(name, label, "right", values,
    ifelse(is.na(values), unknown_face, format_by(values, format)),
    format = format)
}

# For everything together: what was told, what moved it, what it is now.
reasons_sheet <- function(x) {
  total <- whole_cell(x)
  words <- sentence_case(c("told before", x$reasons$reason, "now"))
  count <- c(NA, x$reasons$lines, NA)
  role <- c("line", rep("line", nrow(x$reasons)), "total")
  columns <- c(
    list(new_sheet_column("reason", "", "left", words, words),
      new_sheet_column("lines", "Order lines", "right", count, ifelse(is.na(count), "",
        format_count(count)))),
    lapply(names(x$figures), function(measure) {
      figures <- x$figures[[measure]][total, ]
      moved <- x$moved[[measure]][total, ]
      one <- x$measures[[measure]]
      column <- amount_column(measure, head_label(one),
        c(figures[1L], moved, figures[length(figures)]), one)
      signed <- amount_column(measure, "", c(NA, moved, NA), one, signed = TRUE)
      column$text[1L + seq_along(moved)] <- signed$text[1L + seq_along(moved)]
      column
    })
  )
  notes <- c(
    x$told,
    if (length(x$missing) > 0L) paste0(sentence_case(joined_words(plain_words(x$missing))),
      " cannot be compared: it is not a measure of both."),
    if (x$apart > 0L) paste0(format_count(x$apart),
      if (x$apart == 1L) " figure of a period that is none"
      else " figures of periods that are none", " in the calendar now cannot be compared."),
    "Each line is the figure after that step, less the figure before it.",
    if (!is.null(x$by)) paste0("Without a key order lines are told apart by ",
      joined_words(c("day", plain_words(x$by))), ": lines removed and added alike are one sum.")
  )
  data <- stats::setNames(lapply(columns, `[[`, "raw"), vapply(columns, `[[`, "", "name"))
  bare_sheet(changes_title(x), columns, role, as.data.frame(data, optional = TRUE), notes)
}

# The cells that moved, and their totals.
cells_sheet <- function(x, measure, words = c("Told before", "Now")) {
  one <- x$measures[[measure]]
  figures <- x$figures[[measure]]
  here <- which(moved_cells(x, measure))
  last <- figures[here, ncol(figures)]
  moved <- x$moved[[measure]][here, , drop = FALSE]
  axes <- lapply(names(x$axes), function(axis) {
    text <- x$cells$axes[[axis]][here]
    shown <- ifelse(is.na(text), "", text)
    if (axis == names(x$axes)[1L]) shown[is.na(text)] <- "Total"
    new_sheet_column(axis, head_label(x$axes[[axis]]), "left", text, shown)
  })
  role <- x$cells$role[here]
  axes <- said_once(axes, role, x$axes)
  columns <- c(axes, list(
    amount_column("before", words[1L], figures[here, 1L], one),
    amount_column("now", words[2L], last, one),
    amount_column("difference", "Difference", clean_difference(last, figures[here, 1L]),
      one, signed = TRUE)
  ), lapply(seq_len(ncol(moved)), function(i) {
    amount_column(x$reasons$reason[i], sentence_case(x$reasons$reason[i]), moved[, i],
      one, signed = TRUE)
  }))
  data <- as.data.frame(x)
  bare_sheet(head_label(one), columns, role, data[data$.measure == measure, ][here, ])
}

most_lines_shown <- 25L

# The order lines that moved the first figure most.
lines_sheet <- function(x, measure) {
  lines <- utils::head(x$lines, most_lines_shown)
  own <- c(".what", "before", "now", ".differs", "lines_before", "lines_now")
  dates <- names(lines)[vapply(lines, inherits, NA, what = "Date")]
  shown <- unique(c(x$key, utils::head(dates, 1L), setdiff(names(lines), c(own, x$key))))
  shown <- utils::head(shown, length(x$key) + 5L)
  what <- ifelse(lines$.differs == "", lines$.what, paste0("changed: ", lines$.differs))
  counted <- list(lines_before = "Order lines before", lines_now = "Order lines now")
  columns <- c(
    list(new_sheet_column("what", "", "text", what, what)),
    lapply(shown, function(name) {
      line_column(lines[[name]], name, sentence_case(plain_words(name)),
        seq_len(nrow(lines)))
    }),
    lapply(if (!is.null(x$by)) names(counted), function(name) {
      new_sheet_column(name, counted[[name]], "right", lines[[name]], format_count(lines[[name]]))
    }),
    list(amount_column("before", "Before", lines$before, x$measures[[measure]]),
      amount_column("now", "Now", lines$now, x$measures[[measure]]))
  )
  notes <- if (nrow(x$lines) > nrow(lines)) paste0("The ", nrow(lines), " that moved ",
    x$measures[[measure]]$label,
    " most, of ", format_count(nrow(x$lines)), ".")
  bare_sheet(if (is.null(x$by)) "Order lines" else "Days", columns, rep("line", nrow(lines)), lines,
    as.character(notes))
}
