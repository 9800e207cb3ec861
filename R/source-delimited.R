# Delimited text with a header line.

read_delimited <- function(path) {
  header <- read_header(path)
  large <- file.size(path) > large_file
  text <- if (large) read_large(path, header) else read_small(path, header)
  text[] <- lapply(text, typed_column)
  text
}

# Above this size a multi-threaded reader pays for the time it takes to load.
large_file <- 20e6

check_file <- function(path) {
  if (!file.exists(path) || dir.exists(path)) {
    near <- nearest_word(basename(path), list.files(dirname(path)))
    raise("file", c(
      paste0("There is no file ", quoted(path), "."),
      if (!is.null(near)) c(">" = paste0("Did you mean ", quoted(file.path(dirname(path), near)), "?")),
      if (is.null(near)) c(">" = paste0("Paths are taken from ", quoted(getwd()), "."))
    ))
  }
}

read_header <- function(path) {
  check_file(path)
  line <- rlang::try_fetch(
    suppressWarnings(readLines(path, n = 1L, encoding = "UTF-8")),
    error = function(e) {
      raise("file", c(paste0("The file ", quoted(path), " cannot be read."), "x" = braces_kept(conditionMessage(e))))
    }
  )
  if (length(line) == 0L || !nzchar(trimws(line))) {
    raise(
      "file", c(paste0("The file ", quoted(path), " is empty."), ">" = "It should begin with a line of column names.")
    )
  }
  if (!validUTF8(line)) raise_not_utf8(path)
  line <- sub("^\ufeff", "", line)
  separators <- c(",", ";", "\t")
  counts <- lengths(regmatches(line, gregexpr(",|;|\t", line)))
  by_separator <- vapply(separators, function(s) sum(strsplit(line, "", fixed = TRUE)[[1L]] == s), 1L)
  separator <- if (counts == 0L) "," else separators[which.max(by_separator)]
  names <- scan(text = line, what = "", sep = separator, quote = "\"", quiet = TRUE, strip.white = TRUE)
  if (any(names == "")) {
    raise("file", c(
      paste0("The header of ", quoted(path), " has a column without a name."),
      "x" = "{cli::qty(sum(names == ''))}Column{?s} {which(names == '')} of {length(names)}."
    ))
  }
  list(names = names, separator = separator)
}

read_small <- function(path, header) {
  text <- rlang::try_fetch(
    utils::read.table(
      path, sep = header$separator, header = FALSE, skip = 1L, col.names = header$names, colClasses = "character",
      quote = "\"", comment.char = "", na.strings = "", check.names = FALSE, fill = FALSE, encoding = "UTF-8"
    ),
    error = function(e) read_failed(e, path, header)
  )
  text
}

read_failed <- function(e, path, header) {
  message <- conditionMessage(e)
  if (grepl("no lines available", message)) {
    return(as.data.frame(stats::setNames(rep(list(character()), length(header$names)), header$names), optional = TRUE))
  }
  counts <- utils::count.fields(path, sep = header$separator, quote = "\"", comment.char = "")
  odd <- which(!is.na(counts) & counts != length(header$names))
  where <- braces_kept(message)
  if (length(odd) > 0L) {
    more <- if (length(odd) > 1L) paste0("; ", length(odd) - 1L, " more such lines")
    where <- "Line {odd[1]} has {counts[odd[1]]} cell{?s}{more}."
  }
  raise("file", c(
    paste0("The file ", quoted(path), " has records that do not fit its header of {length(header$names)} columns."),
    "x" = where,
    ">" = "Look for a separator inside a text that is not in quotes."
  ))
}

read_large <- function(path, header) {
  text <- suppressWarnings(vroom::vroom(
    path, delim = header$separator, col_names = header$names, skip = 1L, col_types = vroom::cols(.default = "c"),
    na = "", trim_ws = FALSE, altrep = FALSE, progress = FALSE
  ))
  problems <- vroom::problems(text)
  if (nrow(problems) > 0L) {
    raise("file", c(
      paste0("The file ", quoted(path), " has records that do not fit its header of {length(header$names)} columns."),
      "x" = "Line {problems$row[1]}: {problems$expected[1]} expected, {problems$actual[1]} found.",
      ">" = "Look for a separator inside a text that is not in quotes."
    ))
  }
  as.data.frame(text)
}

raise_not_utf8 <- function(path) {
  raise("file", c(
    paste0("The file ", quoted(path), " is not UTF-8 text."),
    ">" = "Save it as UTF-8, or convert it: {.code iconv -f latin1 -t utf-8 old.csv > new.csv}."
  ))
}
