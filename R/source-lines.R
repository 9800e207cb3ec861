# The lines of text before it is cut into records: lines that are to be left out, and fields of
# fixed width, which become delimited ones. Left-out lines stay as empty ones, so that lines keep
# their numbers.

without_dropped_lines <- function(bytes, reading, told) {
  if (length(reading$drop_lines) == 0L) {
    return(bytes)
  }
  lines <- text_lines(bytes)
  dropped <- Reduce(`|`, lapply(reading$drop_lines, lines_matching, lines = lines))
  told$add(count_words(sum(dropped), "line", "left out by their pattern"))
  lines[dropped] <- ""
  bytes_of_lines(lines)
}

lines_matching <- function(pattern, lines) {
  fail <- function(e) {
    raise("argument", c(paste0(argument_said("drop_lines"), " takes regular expressions."),
      "x" = paste0(quoted(pattern), " is none."),
      ">" = "For example {.val ^#}: lines that begin with #."))
  }
  suppressWarnings(rlang::try_fetch(grepl(pattern, lines, perl = TRUE), error = fail))
}

# Split by a sign and not by a pattern, which takes a second for each megabyte.
text_lines <- function(bytes) {
  returns <- which(bytes == as.raw(13L))
  within <- bytes[returns + 1L] %in% as.raw(10L)
  bytes[returns[!within]] <- as.raw(10L)
  if (any(within)) bytes <- bytes[-returns[within]]
  lines <- strsplit(rawToChar(bytes), "\n", fixed = TRUE, useBytes = TRUE)[[1L]]
  Encoding(lines) <- "UTF-8"
  lines
}

bytes_of_lines <- function(lines) charToRaw(paste0(paste(enc2utf8(lines), collapse = "\n"), "\n"))

# An order mark inside a text was the beginning of a file that was appended.
without_inner_marks <- function(bytes) {
  at <- grepRaw("\n\xef\xbb\xbf", bytes, fixed = TRUE, all = TRUE)
  if (length(at) == 0L) bytes else bytes[-(rep(at, each = 3L) + 1:3)]
}

# Fields of fixed width, said or seen in the first lines, as fields between tabs.
fields_apart <- function(bytes, path, reading, told) {
  if (is.null(reading$widths) && (!is.null(reading$separator) || !may_have_widths(bytes))) {
    return(bytes)
  }
  lines <- text_lines(bytes)
  starts <- if (is.null(reading$widths)) field_starts(lines) else cumsum(c(1L, reading$widths))
  starts <- utils::head(starts, max(1L, length(starts) - !is.null(reading$widths)))
  if (length(starts) < 2L) {
    return(bytes)
  }
  if (is.null(reading$widths)) check_names_apart(lines, starts, path, reading)
  told$add(paste0(length(starts), " fields of fixed width"))
  ends <- c(starts[-1L] - 1L, 1e6)
  cells <- Map(function(from, to) kernel_trimmed(substr(lines, from, to)), starts, ends)
  cells <- lapply(cells, function(cell) {
    quotes <- grepl("[\"\t]", cell)
    cell[quotes] <- paste0("\"", gsub("\"", "\"\"", cell[quotes], fixed = TRUE), "\"")
    cell
  })
  joined <- do.call(paste, c(cells, sep = "\t"))
  joined[!grepl("[^[:space:]]", lines)] <- ""
  bytes_of_lines(joined)
}

# Two names within a field: nothing blank stands between their values, so that widths have
# to be said.
check_names_apart <- function(lines, starts, path, reading) {
  first <- lines[grepl("[^[:space:]]", lines)][1L]
  names <- kernel_trimmed(substring(first, starts, c(starts[-1L] - 1L, 1e6)))
  if (any(grepl("  ", names, fixed = TRUE))) raise_widths(first, starts, path, reading)
}

raise_widths <- function(first, starts, path, reading) {
  words <- gregexpr("(?<= )[^ ]|^[^ ]", first, perl = TRUE)[[1L]]
  # The first name of a field may stand to its right; the others begin fields of their own.
  others <- duplicated(findInterval(words, starts))
  all <- sort(unique(c(1L, starts, words[others])))
  widths <- diff(c(all, max(nchar(first), max(all)) + 1L))
  raise("file", c(
    paste0("The fields of ", quoted(path),
      " have fixed widths, with no blank between some of them."),
    "x" = "The first line is {quoted(first)}.",
    ">" = paste0("Give the width of each field in characters; the names suggest: ",
      braces_kept(reading_command(path, reading, widths = widths)), ".")
  ))
}

# Whether the first line has several words and no separator, nor have most of those below as many as
# each other. A comma in each may be of amounts.
may_have_widths <- function(bytes) {
  line <- kernel_line_at(bytes, 0)
  if (!grepl("[^ ] +[^ ]", line, useBytes = TRUE) || grepl("[,;\t|]", line, useBytes = TRUE)) {
    return(FALSE)
  }
  lines <- utils::head(text_lines(utils::head(bytes, 20000L)), 30L)
  # Lines that are drawn between records say nothing.
  lines <- lines[grepl("[^[:space:]=_+-]", lines)]
  parted <- vapply(delimited_separators, function(separator) {
    counts <- lengths(regmatches(lines, gregexpr(separator, lines, fixed = TRUE)))
    counts <- counts[counts >= if (separator == ",") 2L else 1L]
    length(counts) > 0L && max(table(counts)) > 0.5 * length(lines)
  }, NA)
  !any(parted)
}

# Where fields begin: behind positions that are blank in all of the first lines, under a word of the
# first of them. Names that have several words are one field where no blank is below them.
field_starts <- function(lines) {
  lines <- utils::head(lines[grepl("[^[:space:]=_-]", lines)], sampled_records)
  if (length(lines) < 3L) {
    return(1L)
  }
  width <- max(nchar(lines))
  letters <- strsplit(paste0(lines, strrep(" ", width - nchar(lines))), "")
  blank <- Reduce(`&`, lapply(letters, `==`, " "))
  starts <- which(!blank & c(TRUE, blank[-width]))
  ends <- c(starts[-1L] - 1L, width)
  named <- mapply(function(from, to) any(letters[[1L]][from:to] != " "), starts, ends)
  starts <- starts[named]
  if (length(starts) > 0L) replace(starts, 1L, 1L) else 1L
}
