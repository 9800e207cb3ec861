# A standing report as it is read: text to a plain list, with the line of every key, so that a
# message can say where. The text is data: libyaml reads it event by event (bind_yaml.cpp), without
# tags and anchors, and nothing is evaluated.

largest_report <- 1e6

read_standing <- function(file) {
  check_text(file, "file")
  if (!file.exists(file) || dir.exists(file)) {
    near <- nearest_word(basename(file), list.files(dirname(file), pattern = "\\.ya?ml$"))
    raise("standing", c(
      paste0("There is no standing report ", quoted(file), "."), if (!is.null(near)) c(
        ">" = paste0("Did you mean ", quoted(file.path(dirname(file), near)), "?")
      )
    ))
  }
  if (kernel_file_kind(path.expand(file)) != "file") raise("standing", paste0(quoted(file),
    " is not a file."))
  if (file.size(file) > largest_report) {
    raise("standing", c(
      paste0(quoted(file), " is too large for a standing report."),
      "x" = "It has {file.size(file)} bytes; {largest_report} are read."
    ))
  }
  text <- kernel_read_file(path.expand(file), file.size(file))
  # Braces stand for parameters.
  document <- new_document(NULL, file, lines_of_bytes(text), folder = dirname(normalizePath(file)),
    braces = TRUE)
  check_plain_text(document)
  read <- kernel_read_yaml(paste(document$lines, collapse = "\n"))
  if (read$fault != "") raise_yaml(read, document)
  document$said <- read$said
  document$where <- read$lines
  check_schema(document$said, document_schema(), document)
  document
}

lines_of_bytes <- function(bytes) {
  if (any(bytes == 0)) bytes[bytes == 0] <- as.raw(1)
  lines <- strsplit(rawToChar(bytes), "\r\n|\n|\r", useBytes = TRUE)[[1L]]
  Encoding(lines) <- "UTF-8"
  if (length(lines) > 0L) lines[1L] <- sub("^\ufeff", "", lines[1L])
  lines
}

check_plain_text <- function(document) {
  lines <- document$lines
  bad <- which(!validUTF8(lines) | grepl("[\001-\010\016-\037]", lines, useBytes = TRUE))
  if (length(bad) > 0L) raise_at(document, bad[1L], "The line is not plain UTF-8 text.")
  long <- which(nchar(lines) > 10000L)
  if (length(long) > 0L) raise_at(document, long[1L], "The line is too long.")
}

raise_yaml <- function(read, document) {
  at <- function(what, mend = NULL) raise_at(document, read$line, what, mend)
  switch(read$fault,
    anchor = at("Anchors and aliases (& and *) are not read.",
      "Write the value out, or put it in quotes."),
    tag = at("A value begins with an exclamation mark, which would be a tag.",
      "Put it in quotes: \"!paid\"."),
    deep = at("It is nested too deeply."),
    many = at("It holds more values than a report is read with."),
    key = at("A key must be one text."),
    twice = at("A key stands twice."),
    second = at("A second document begins.", "Write each report in a file of its own."),
    at("It is not YAML.", braces_kept(sub("^syntax: ", "", read$fault)))
  )
}
