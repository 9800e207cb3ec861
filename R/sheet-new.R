# The sheet: a finished table, independent of output. Every table becomes one and every writer takes one.
#
# title, facts, notes: text
# columns: for each column name, label, heads (the labels above it, the outermost first), align ("left", "right", "text"),
#          raw values, text as shown, total: TRUE where it is a total of others, hidden: TRUE where only
#          files of data hold it
# role:    one for each row; mark: TRUE where the row's period is part-way

# with_role: FALSE where all rows are alike, so that files need no column for it
new_sheet <- function(title, facts, notes, columns, role, mark, with_role = TRUE) {
  list(
    title = title, facts = facts, notes = notes, columns = columns, role = role, mark = mark, with_role = with_role
  )
}

new_sheet_column <- function(name, label, align, raw, text, heads = character(), total = FALSE) {
  list(name = name, label = label, heads = heads, align = align, raw = raw, text = text, total = total, hidden = FALSE)
}

shown_columns <- function(sheet) Filter(function(column) !column$hidden, sheet$columns)

# The labels above some columns, level by level from the top: for each level the runs of columns under one label, as
# list(label, length).
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
