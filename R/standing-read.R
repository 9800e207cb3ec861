# A standing report as it is read: text to a plain list, with the line of every key, so that a message can say where. The
# text is data: no tags, no anchors, nothing is evaluated.

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
  if (file.size(file) > largest_report) {
    raise(
      "standing",
      c(
        paste0(quoted(file), " is too large for a standing report."),
        "x" = "It has {file.size(file)} bytes; {largest_report} are read."
      )
    )
  }
  lines <- readLines(file, warn = FALSE, encoding = "UTF-8")
  source <- list(file = file, lines = lines, folder = dirname(normalizePath(file)))
  check_plain_yaml(source)
  said <- rlang::try_fetch(
    yaml::yaml.load(paste(lines, collapse = "\n"), eval.expr = FALSE, handlers = yaml_handlers()),
    error = function(e) raise_yaml(e, source),
    warning = function(w) raise_yaml(w, source)
  )
  check_schema(said, standing_schema(), source)
  source$said <- said
  source
}

# Words such as `no` and dates stay as they are written.
yaml_handlers <- function() {
  list(
    "bool#yes" = function(x) if (tolower(x) == "true") TRUE else x,
    "bool#no" = function(x) if (tolower(x) == "false") FALSE else x
  )
}

# What no report needs and a parser can be hurt by: tags, anchors, deep nesting, endless lines.
check_plain_yaml <- function(source) {
  lines <- source$lines
  bad <- which(!validUTF8(lines) | grepl("[\001-\010\016-\037]", lines, useBytes = TRUE))
  if (length(bad) > 0L) raise_at(source, bad[1L], "The line is not plain UTF-8 text.")
  long <- which(nchar(lines) > 10000L)
  if (length(long) > 0L) raise_at(source, long[1L], "The line is too long.")
  bare <- gsub("\"([^\"\\\\]|\\\\.)*\"|'[^']*'", "", lines)
  bare <- sub("(^|\\s)#.*$", "", bare)
  start <- "(^\\s*|^\\s*(-\\s+)+|:\\s+|[\\[{,]\\s*)"
  tag <- grep(paste0(start, "!"), bare, perl = TRUE)
  if (length(tag) > 0L) {
    raise_at(source, tag[1L], "A value begins with an exclamation mark, which would be a tag.", "Put it in quotes: \"!paid\".")
  }
  anchor <- grep(paste0(start, "[&*][A-Za-z0-9_]"), bare, perl = TRUE)
  if (length(anchor) > 0L) raise_at(
    source, anchor[1L], "Anchors and aliases (& and *) are not read.", "Write the value out, or put it in quotes."
  )
  deep <- nchar(sub("^( *).*$", "\\1", lines)) > 120L | grepl("^\\s*(-\\s+){12}", lines)
  opened <- cumsum(nchar(gsub("[^[{]", "", bare)) - nchar(gsub("[^]}]", "", bare)))
  deep <- deep | opened > 20L | nchar(gsub("[^[{]", "", bare)) > 60L
  if (any(deep)) raise_at(source, which(deep)[1L], "It is nested too deeply.")
}

raise_yaml <- function(e, source) {
  message <- conditionMessage(e)
  line <- suppressWarnings(as.integer(sub(".*line ([0-9]+).*", "\\1", gsub("\n", " ", message))))
  twice <- grepl("Duplicate map key", message)
  if (twice) line <- repeated_key_line(sub(".*Duplicate map key: '(.*)'.*", "\\1", gsub("\n", " ", message)), source)
  raise_at(
    source, if (is.na(line)) 1L else line,
    if (twice) "A key stands twice." else "It is no YAML.", braces_kept(sub("^\\(.*?\\) ", "", gsub("\n", " ", message)))
  )
}

# The second line with a key at the same depth.
repeated_key_line <- function(key, source) {
  found <- grep(key_pattern(key), source$lines, perl = TRUE)
  if (length(found) >= 2L) found[2L] else if (length(found) == 1L) found else 1L
}

# Every message about a standing report says where: file and line.
raise_at <- function(source, line, what, mend = NULL, class = "standing") {
  line <- min(max(line, 1L), max(length(source$lines), 1L))
  raise(class, c(
    paste0(braces_kept(basename(source$file)), ", line ", line, ": ", what),
    if (length(source$lines) > 0L) c("x" = quoted(trimws(substr(source$lines[line], 1L, 80L)))),
    if (!is.null(mend)) c(">" = mend)
  ))
}

key_pattern <- function(key) {
  safe <- gsub("([^A-Za-z0-9_ ])", "\\\\\\1", key)
  paste0("(^|[\\s{,\\[-])[\"']?", safe, "[\"']?\\s*:")
}

# The line on which a key stands, found by going down the keys of its path; a number is a place in a list.
key_line <- function(path, source) {
  line <- 1L
  for (key in path) {
    if (is.numeric(key)) {
      items <- grep("^\\s*-", source$lines)
      items <- items[items >= line]
      own <- nchar(sub("^( *).*$", "\\1", source$lines[items]))
      items <- items[own == own[1L]]
      line <- c(items[key], line)[1L]
      if (is.na(line)) line <- 1L
    } else {
      found <- grep(key_pattern(key), source$lines, perl = TRUE)
      line <- c(found[found >= line], line)[1L]
    }
  }
  line
}
