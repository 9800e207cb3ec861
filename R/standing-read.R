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
  if (kernel_file_kind(path.expand(file)) != "file") raise("standing", paste0(quoted(file), " is no file."))
  if (file.size(file) > largest_report) {
    raise("standing", c(
      paste0(quoted(file), " is too large for a standing report."),
      "x" = "It has {file.size(file)} bytes; {largest_report} are read."
    ))
  }
  text <- kernel_read_file(path.expand(file), file.size(file))
  source <- list(file = file, lines = lines_of_bytes(text), folder = dirname(normalizePath(file)))
  check_plain_text(source)
  read <- kernel_read_yaml(paste(source$lines, collapse = "\n"))
  if (read$fault != "") raise_yaml(read, source)
  source$said <- read$said
  source$where <- read$lines
  check_schema(source$said, standing_schema(), source)
  source
}

lines_of_bytes <- function(bytes) {
  if (any(bytes == 0)) bytes[bytes == 0] <- as.raw(1)
  lines <- strsplit(rawToChar(bytes), "\r\n|\n|\r", useBytes = TRUE)[[1L]]
  Encoding(lines) <- "UTF-8"
  if (length(lines) > 0L) lines[1L] <- sub("^\ufeff", "", lines[1L])
  lines
}

check_plain_text <- function(source) {
  lines <- source$lines
  bad <- which(!validUTF8(lines) | grepl("[\001-\010\016-\037]", lines, useBytes = TRUE))
  if (length(bad) > 0L) raise_at(source, bad[1L], "The line is not plain UTF-8 text.")
  long <- which(nchar(lines) > 10000L)
  if (length(long) > 0L) raise_at(source, long[1L], "The line is too long.")
}

raise_yaml <- function(read, source) {
  at <- function(what, mend = NULL) raise_at(source, read$line, what, mend)
  switch(read$fault,
    anchor = at("Anchors and aliases (& and *) are not read.", "Write the value out, or put it in quotes."),
    tag = at("A value begins with an exclamation mark, which would be a tag.",
      "Put it in quotes: \"!paid\"."),
    deep = at("It is nested too deeply."),
    many = at("It holds more values than a report is read with."),
    key = at("A key must be one text."),
    twice = at("A key stands twice."),
    second = at("A second document begins.", "Write each report in a file of its own."),
    at("It is no YAML.", braces_kept(sub("^syntax: ", "", read$fault)))
  )
}

# Every message about a standing report says where: file and line.
raise_at <- function(source, line, what, mend = NULL, class = "standing") {
  line <- min(max(line, 1L), max(length(source$lines), 1L))
  raise(class, c(
    paste0(braces_kept(basename(source$file)), ", line ", line, ": ", what),
    if (length(source$lines) > 0L) c("x" = quoted(trimws(substr(shown_text(source$lines[line]), 1L, 80L)))),
    if (!is.null(mend)) c(">" = mend)
  ))
}

# The line on which a key stands, found by going down the keys of its path; a
# number is a place in a list.
key_line <- function(path, source) {
  found <- source$where
  line <- found$line %||% 1L
  for (key in path) {
    found <- if (is.character(key)) found$children[key][[1L]]
      else c(found$children, list(NULL))[[min(key, length(found$children) + 1L)]]
    if (is.null(found)) break
    line <- found$line
  }
  line
}
