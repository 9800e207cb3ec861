# The sheet: a finished table, independent of output. Every table becomes one
# and every writer takes one.
#
# title, facts, notes: text; about: what is told of the orders, as table_about() has it; told: all
# of it, as all_notes() has it
# columns: for each column name, label, heads (the labels above it, the outermost first), align
#   ("left" for what heads its rows, "right" for figures, "text"), raw values, text as shown, total:
#   TRUE where it is a total of others, format: how numbers look, or one for each row, again: TRUE
#   where it says what the row above says already (NULL: nowhere), marked: the word that marks each
#   figure ("": none), and its tone: "good", "bad" or "plain"; history: for each row the figures of
#   a small line
# role: one for each row: "line", "others", "subtotal", "total", "heading", "blank"
# mark: TRUE where the row's period is part-way
# data: a function that gives what files of data hold: a plain data frame, without
# headings and blanks
# level: how many groups deep each row lies; page_after, gap_after: TRUE where a page ends, or
# a gap follows
# restated: keys of periods whose figures were told otherwise
# layout: "rows", or "headlines", which have a history: for each the figures of its small line
new_sheet <- function(title, facts, notes, columns, role, mark, data, level = NULL,
  page_after = NULL,
  gap_after = NULL, layout = "rows", history = NULL, restated = NULL, about = about_rows(),
  told = character()) {
  about$text <- shown_text(about$text)
  columns <- lapply(columns, shown_column)
  structure(list(
    title = shown_text(title), facts = shown_text(facts), notes = shown_text(notes), about = about,
    told = told, columns = columns, role = role, mark = mark, data = function() data, level = level,
    page_after = page_after, gap_after = gap_after, restated = restated, layout = layout,
    history = history
  ), class = "drystack_sheet")
}

is_sheet <- function(x) inherits(x, "drystack_sheet")

# Texts of others become part of a sheet here, and are cleaned here.
shown_column <- function(column) {
  for (field in c("label", "heads", "text", "marked")) column[field] <- list(
    if (!is.null(column[[field]]))
      shown_text(column[[field]]))
  column
}

new_sheet_column <- function(name, label, align, raw, text, heads = character(), total = FALSE,
  format = NULL, again = NULL) {
  list(
    name = name, label = label, heads = heads, align = align, raw = raw, text = text, total = total,
    format = format,
    again = again
  )
}

# Some rows of a sheet.
sheet_rows <- function(sheet, here) {
  sheet$columns <- lapply(sheet$columns, function(column) {
    for (field in c("raw", "text", "again", "marked", "tone",
      "history")) column[field] <- list(column[[field]][here])
    if (length(column$again) > 0L) column$again[1L] <- FALSE
    if (is.list(column$format) && !inherits(column$format, "drystack_format")) column$format <-
      column$format[here]
    column
  })
  for (field in c("role", "mark", "level", "page_after", "gap_after")) sheet[field] <-
    list(sheet[[field]][here])
  sheet
}

# As people read it: what the row above says is not said again.
read_text <- function(column) {
  text <- if (is.null(column$again)) column$text else ifelse(column$again, "", column$text)
  if (is.null(column$marked)) text else ifelse(column$marked == "", text,
    paste(column$marked, text))
}

# The labels above some columns, level by level from the top: for each level the runs of columns
# under one label, as list(label, length).
head_spans <- function(columns) {
  depth <- max(0L, lengths(lapply(columns, `[[`, "heads")))
  heads <- lapply(columns, function(column) c(column$heads, rep("", depth - length(column$heads))))
  lapply(seq_len(depth), function(level) {
    above <- vapply(heads, function(h) paste(h[seq_len(level)], collapse = "\r"), "")
    runs <- rle(above)
    starts <- cumsum(c(1L, utils::head(runs$lengths, -1L)))
    list(label = vapply(heads[starts], `[`, "", level), length = runs$lengths)
  })
}

part_way_mark <- "*"

# Plain columns for files of data: periods as keys that sort in the order of time, factors as text.
plain_data <- function(data) {
  data <- as.data.frame(data)
  data[] <- lapply(data, function(values) {
    if (is_period(values)) format(values, "key") else if (is.factor(values)) as.character(
      values) else values
  })
  data
}
