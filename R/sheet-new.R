# The sheet: a finished table, independent of output. Every table becomes one and every writer takes one.
#
# title, facts, notes: text
# columns: for each column name, label, align ("left", "right"), raw values, and text as shown
# role:    one for each row; mark: TRUE where the row's period is part-way

# with_role: FALSE where all rows are alike, so that files need no column for it
new_sheet <- function(title, facts, notes, columns, role, mark, with_role = TRUE) {
  list(
    title = title, facts = facts, notes = notes, columns = columns, role = role, mark = mark, with_role = with_role
  )
}

new_sheet_column <- function(name, label, align, raw, text) {
  list(name = name, label = label, align = align, raw = raw, text = text)
}

part_way_mark <- "*"
