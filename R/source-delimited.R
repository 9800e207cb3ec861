# Orders in delimited text.

delimited_orders <- function(bytes, path, reading) {
  told <- new_telling(path)
  if (path != "-") told$add(other_form_words(path, file_form(path)))
  decoded <- decoded_bytes(bytes, path, reading$encoding)
  if (decoded$encoding != "UTF-8") told$add(paste0("read as ", decoded$encoding))
  text <- without_dropped_lines(without_inner_marks(decoded$bytes), reading, told)
  text <- fields_apart(text, path, reading, told)
  header <- found_header(text, path, reading)
  read <- read_records(text, header, path, fills = identical(reading$uneven, "fill"),
    ways_with_odd(path, reading, TRUE))
  footer <- odd_footers(read, text)
  if (length(footer) > 0L) told$add(paste0(count_words(length(footer), "line",
    "below the last record left out"), ", such as ", quoted(footer[1L])))
  tell_repeats(repeated_lines(text, header), told)
  refined_orders(
    list(names = header$names, columns = read$columns, records = read$records, lines = read$lines,
      odd = read$odd[seq_len(length(read$odd) - length(footer))], titles = header$titles,
      ends_open = ends_within_line(text), two_headers = header$two,
      lines_below = header$lines_below, spaced = header$spaced),
    path, reading, told
  )
}

# What stands below the last record, behind an empty line, and is cut otherwise.
odd_footers <- function(read, bytes) {
  below <- vapply(read$odd, function(record) record$after == read$records, NA)
  if (!any(below)) {
    return(character())
  }
  lines <- text_lines(bytes)
  odd <- read$odd[below]
  first <- which(vapply(odd, function(record) {
    record$line > 1 && !grepl("[^[:space:]]", lines[record$line - 1])
  }, NA))[1L]
  if (is.na(first)) {
    return(character())
  }
  vapply(odd[first:length(odd)], function(record) paste(record$texts, collapse = " "), "")
}
