# Where in a document something is said, and errors that tell it.

# Every message about a standing report says where: file and line.
raise_at <- function(document, line, what, mend = NULL, class = "standing") {
  if (is.null(document$file)) raise("argument", c(what, if (!is.null(mend)) c(">" = mend)))
  line <- min(max(line, 1L), max(length(document$lines), 1L))
  raise(class, c(
    paste0(braces_kept(basename(document$file)), ", line ", line, ": ", what),
    if (length(document$lines) > 0L) {
      c("x" = quoted(trimws(substr(shown_text(document$lines[line]), 1L, 80L))))
    },
    if (!is.null(mend)) c(">" = mend)
  ))
}

# The line on which a key stands, found by going down the keys of its path; a
# number is a place in a list.
key_line <- function(path, document) {
  found <- document$where
  line <- found$line %||% 1L
  for (key in path) {
    found <- if (is.character(key)) found$children[key][[1L]]
      else c(found$children, list(NULL))[[min(key, length(found$children) + 1L)]]
    if (is.null(found)) break
    line <- found$line
  }
  line
}

raise_key <- function(document, path, what, mend = NULL) {
  raise_at(document, key_line(path, document), what, mend)
}

key_words <- function(path) {
  names <- Filter(is.character, path)
  if (length(names) == 0L) {
    return("The report")
  }
  if (surface$name == "shell") trimws(option_prefix(names[[length(names)]]))
    else quoted(paste(unlist(names), collapse = ": "))
}

value_words <- function(value) {
  if (is.null(value)) {
    return("empty")
  }
  if (is_map(value)) "keys with values" else if (length(value) != 1L)
    "a list" else quoted(as.character(value))
}

# An error of the package within a report is told with its line; what a command or a page says
# has none.
at_line <- function(document, path, code) {
  if (is.null(document$file)) {
    return(code)
  }
  rlang::try_fetch(code, drystack_error = function(e) {
    if (inherits(e, "drystack_error_standing")) {
      return(rlang::zap())
    }
    line <- key_line(path, document)
    raise("standing", c(
      paste0(braces_kept(basename(document$file)), ", line ", line, ": ",
        braces_kept(rlang::cnd_header(e))),
      message_bullets(e)
    ))
  })
}

message_bullets <- function(e) {
  body <- e$body
  stats::setNames(braces_kept(as.character(body)), names(body))
}

full_path <- function(path, document) {
  ifelse(grepl("^(/|~|[A-Za-z]:)", path), path.expand(path), file.path(document$folder, path))
}

# Paths are taken from the report's folder and stay within it, unless that is allowed; those of a
# command are what they are.
inner_path <- function(path, document, at, outside) {
  if (is.null(document$folder)) {
    return(path)
  }
  full <- full_path(path, document)
  # Where it leads, links followed; of a file that is not there the folder.
  real <- if (file.exists(full)) {
    normalizePath(full)
  } else {
    file.path(normalizePath(dirname(full), mustWork = FALSE), basename(full))
  }
  inside <- startsWith(real, paste0(document$folder, "/")) && !grepl("(^|/)\\.\\.(/|$)", real)
  if (!inside && !isTRUE(outside)) {
    raise_key(document, at, paste0("The path ", quoted(path),
      " leads out of the folder of the report."), paste0(
        "Put the file there, or allow it: {.code --allow-outside}, {.code outside = TRUE}."
      ))
  }
  full
}
