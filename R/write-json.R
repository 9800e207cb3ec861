# The JSON writer: raw values, one object for each row, null where unknown.

write_json_file <- function(bundle, path) {
  marks <- number_marks()
  tables <- lapply(table_blocks(bundle), function(block) {
    list(
      label = jsonlite::unbox(if (block$label == "") bundle$title else block$label),
      facts = unname(block$sheet$facts), notes = block$sheet$notes,
      restated = as.character(block$sheet$restated),
      rows = marked_numbers(block$sheet$data(), marks)
    )
  })
  whole <- list(title = jsonlite::unbox(bundle$title), facts = unname(bundle$facts),
    notes = bundle$notes, about = bundle$about, tables = tables)
  text <- jsonlite::toJSON(whole, dataframe = "rows", na = "null", POSIXt = "ISO8601", pretty = 1)
  write_text_lines(gsub(paste0("\"", marks, "([^\"]*)", marks, "\""), "\\1", text), path)
}

# jsonlite writes 15 digits, which not every double comes back from: numbers pass
# through it as marked text.
number_marks <- function() basename(tempfile("num"))

marked_numbers <- function(data, marks) {
  data[] <- lapply(data, function(values) {
    if (!is.numeric(values) || inherits(values, c("Date", "POSIXct"))) {
      return(values)
    }
    text <- number_in_full(as.numeric(values))
    ifelse(is.na(values), NA_character_, paste0(marks, text, marks))
  })
  data
}
