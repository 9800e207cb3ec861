# Delimited text with a header line, as columns of texts.

# list(names; columns: for each list(texts: its different texts, codes: of each record); records:
# their number). A record that does not fit is an error.
delimited_texts <- function(bytes, path) {
  header <- plain_header(bytes, path)
  read <- read_records(bytes, header, path)
  if (length(read$odd) > 0L) raise_odd(read$odd, header, path)
  list(names = header$names, columns = read$columns, records = read$records)
}

# Where records begin, and how they are cut.
#
# names: of the columns; separator, quote; next_byte (from 0), next_line: where the first record
#   after the header begins
# line: the line of the header; titles: the lines above it
new_header <- function(names, separator, quote, next_byte, next_line, line = 1L,
  titles = character()) {
  list(
    names = names, separator = separator, quote = quote, next_byte = next_byte,
    next_line = next_line,
    line = line, titles = titles
  )
}

# The first line as the header.
plain_header <- function(bytes, path) {
  separator <- likely_separator(bytes)
  first <- kernel_first_records(bytes, 0, separator, "\"", 1L, most_read_columns)[[1L]]
  names <- kernel_trimmed(first$texts)
  check_header(names, first$fault, path)
  if (any(names == "")) {
    raise("file", c(
      paste0("The header of ", quoted(path), " has a column without a name."),
      "x" = "{cli::qty(sum(names == ''))}Column{?s} {which(names == '')} of {length(names)}."
    ))
  }
  new_header(names, separator, "\"", first[["next"]], first$line)
}

check_header <- function(names, fault, path) {
  check_width(path, length(names))
  if (length(names) == 1L && names == "" && fault == "") {
    raise(
      "file", c(paste0("The file ", quoted(path), " is empty."),
        ">" = "It should begin with a line of column names.")
    )
  }
  if (fault != "") {
    raise("file", c(
      paste0("The header of ", quoted(path), " has a quote that is not closed properly."),
      ">" = "A name that holds a quote or a separator stands in quotes, its own quotes doubled."
    ))
  }
}

# The records below a header; `odd`: those of another number of cells; ways: what to do about them.
read_records <- function(bytes, header, path, fills = FALSE, ways = NULL) {
  read <- kernel_read_delimited(bytes, header$next_byte, header$next_line, header$separator,
    header$quote, length(header$names), fills)
  if (read$fault == "records") {
    raise_odd_records(read$line, read$cells, read$count, header, path, ways)
  }
  if (read$fault != "") raise_fault(read, path)
  check_conserved(read, path)
  read
}

delimited_separators <- c(",", ";", "\t", "|")

# The one that stands most often in the first line.
likely_separator <- function(bytes) {
  start <- utils::head(bytes, 1e5)
  end <- match(TRUE, start == as.raw(10L) | start == as.raw(13L))
  line <- if (is.na(end)) start else start[seq_len(end - 1L)]
  counts <- vapply(delimited_separators, function(s) sum(line == charToRaw(s)), 1L)
  delimited_separators[which.max(counts)]
}

raise_odd <- function(odd, header, path, ways = NULL) {
  raise_odd_records(odd[[1L]]$line, length(odd[[1L]]$texts), length(odd), header, path, ways)
}

raise_odd_records <- function(line, cells, count, header, path, ways = NULL) {
  more <- if (count > 1) paste0("; ", format_count(count - 1), " more such lines")
  cells <- if (cells == 1) "1 cell" else paste(cells, "cells")
  raise("file", c(
    paste0("The file ", quoted(path), " has records that do not fit its header of ",
      length(header$names), " columns."),
    "x" = paste0("Line ", format_count(line), " has ", cells, more, "."),
    ">" = "Look for a separator inside a text that is not in quotes, or a file that was cut off.",
    ">" = if (!is.null(ways)) braces_kept(ways)
  ))
}

raise_fault <- function(read, path) {
  line <- format_count(read$line)
  file <- quoted(path)
  message <- switch(read$fault,
    open_quote = c(
      paste0("A quoted cell of ", file, " is not closed."),
      "x" = paste0("It begins on line ", line, "."),
      ">" = "Close the quote, or leave it out; a quote inside a quoted text is doubled."
    ),
    after_quote = c(
      paste0("A quoted cell of ", file, " goes on after its closing quote."),
      "x" = paste0("It begins on line ", line, "."),
      ">" = "A quote inside a quoted text is doubled: \"5\"\" slab\"."
    ),
    runs_on = c(
      paste0("A quoted cell of ", file, " runs on over lines that look like records."),
      "x" = paste0("It begins in the record on line ", line, "."),
      ">" = "Look for a quote there that should not open a text."
    ),
    too_large = c(paste0("The file ", file, " has more than 2 billion records."), ">" = "Split it.")
  )
  raise("file", message)
}

# Every line end belongs to a record, a quoted cell or an empty line.
check_conserved <- function(read, path) {
  if (read$told != read$counted) {
    raise("file", c(
      paste0("The records of ", quoted(path), " do not add up to its lines."),
      "x" = paste0("{format_count(read$told)} line ends were read, {format_count(read$counted)} ",
        "are there."),
      ">" = "Please report this with the file."
    ))
  }
}
