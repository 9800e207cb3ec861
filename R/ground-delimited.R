# Delimited text with a header line, as columns of texts.

# list(names; columns: for each list(texts: its different texts, codes: of each
# record); records: their number).
delimited_texts <- function(bytes, path) {
  header <- read_header(bytes, path)
  read <- kernel_read_delimited(bytes, header$next_byte, header$next_line,
    header$separator, length(header$names))
  if (read$fault != "") raise_fault(read, header, path)
  check_conserved(read, path)
  list(names = header$names, columns = read$columns, records = read$records)
}

read_header <- function(bytes, path) {
  separator <- likely_separator(bytes)
  first <- kernel_first_record(bytes, 0, separator)
  names <- kernel_trimmed(first$texts)
  check_width(path, length(names))
  if (length(names) == 1L && names == "" && first$fault == "") {
    raise(
      "file", c(paste0("The file ", quoted(path), " is empty."),
        ">" = "It should begin with a line of column names.")
    )
  }
  if (first$fault != "") {
    raise("file", c(
      paste0("The header of ", quoted(path), " has a quote that is not closed as it should be."),
      ">" = "A name that holds a quote or a separator stands in quotes, its own quotes doubled."
    ))
  }
  if (any(names == "")) {
    raise("file", c(
      paste0("The header of ", quoted(path), " has a column without a name."),
      "x" = "{cli::qty(sum(names == ''))}Column{?s} {which(names == '')} of {length(names)}."
    ))
  }
  list(names = names, separator = separator, next_byte = first[["next"]], next_line = first$line)
}

# The one of comma, semicolon and tab that stands most often in the first line.
likely_separator <- function(bytes) {
  start <- bytes[seq_len(min(length(bytes), 1e5))]
  line <- start[seq_len(min(match(as.raw(c(10L, 13L)), start, nomatch = length(start) + 1L)) - 1L)]
  separators <- c(",", ";", "\t")
  counts <- vapply(separators, function(s) sum(line == charToRaw(s)), 1L)
  separators[which.max(counts)]
}

raise_fault <- function(read, header, path) {
  line <- format_count(read$line)
  more <- if (read$count > 1) paste0("; ", format_count(read$count - 1), " more such lines")
  cells <- if (read$cells == 1) "1 cell" else paste(read$cells, "cells")
  file <- quoted(path)
  message <- switch(read$fault,
    records = c(
      paste0("The file ", file, " has records that do not fit its header of {length(header$names)} columns."),
      "x" = paste0("Line ", line, " has ", cells, more, "."),
      ">" = "Look for a separator inside a text that is not in quotes, or a file that was cut off."
    ),
    open_quote = c(
      paste0("A quoted cell of ", file, " is not closed."), "x" = paste0("It begins on line ", line, "."),
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
      "x" = "{format_count(read$told)} line ends were read, {format_count(read$counted)} are there.",
      ">" = "Please report this with the file."
    ))
  }
}
