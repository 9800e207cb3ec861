# A data frame as a sheet: text to the left, numbers to the right; the first column heads its rows.

data_sheet <- function(title, facts, notes, data) {
  columns <- lapply(names(data), function(name) {
    values <- data[[name]]
    if (is.numeric(values) && !is.object(values)) {
      text <- format_by(values, if (looks_like_code(values, name)) plain())
      return(new_sheet_column(name, name, "right", values, text))
    }
    raw <- if (is_period(values)) format(values, "key") else as.character(values)
    text <- if (is_period(values)) format(values) else raw
    text[is.na(text)] <- ""
    new_sheet_column(name, name, if (name == names(data)[1L]) "left" else "text", raw, text)
  })
  new_sheet(title, facts, notes, columns, rep("line", nrow(data)),
    rep(FALSE, nrow(data)), plain_data(data))
}

# What files of data hold of a table: its plain columns. What only people read is not made.
sheet_for_files <- function(table) {
  new_sheet("", character(), character(), list(), character(), logical(), plain_data(table))
}
