# An export that stands in its file twice, wholly or in part: lines that repeat others in the
# same order.

# Lines alone may be the same by right; this many one after the other are not.
fewest_repeats <- 3L

most_compared <- 2^22

# list(count, from: the first line that repeats another, of: that one) of the records of a text that
# begin at a byte on a line; NULL where none do.
repeated_lines <- function(bytes, header) {
  if (length(bytes) > most_compared) {
    return(NULL)
  }
  first <- kernel_first_lines(bytes, header$next_byte)
  again <- first < seq_along(first) & first > 0L
  if (sum(again) < fewest_repeats) {
    return(NULL)
  }
  runs <- runs_of_repeats(first, again)
  if (length(runs$at) == 0L) {
    return(NULL)
  }
  above <- header$next_line - 1L
  list(count = sum(runs$length), from = runs$at[1L] + above, of = first[runs$at[1L]] + above)
}

# Where enough lines one after the other repeat others in the same order: list(at, length).
runs_of_repeats <- function(first, again) {
  runs <- rle(ifelse(again, seq_along(first) - first, -seq_along(first)))
  long <- which(runs$lengths >= fewest_repeats & runs$values > 0L)
  list(at = (cumsum(runs$lengths) - runs$lengths + 1L)[long], length = runs$lengths[long])
}

# What is said of files of which one repeats lines of another: exports whose days overlap.
# texts: of each the path, its bytes below the header, and the line that these begin on
repeats_between <- function(texts) {
  bytes <- lapply(texts, function(text) {
    if (length(text$bytes) > 0L && utils::tail(text$bytes, 1L) != as.raw(10L))
      c(text$bytes, as.raw(10L)) else text$bytes
  })
  lines <- lengths(lapply(bytes, kernel_first_lines, 0))
  first <- kernel_first_lines(unlist(bytes), 0)
  file <- rep(seq_along(texts), lines)
  known <- first > 0L
  again <- known & replace(file, known, file[first[known]]) < file
  runs <- runs_of_repeats(first, again)
  before <- cumsum(c(0L, lines))
  line <- function(at) format_count(at - before[file[at]] + texts[[file[at]]]$line - 1L)
  vapply(unique(file[runs$at]), function(i) {
    own <- file[runs$at] == i
    at <- runs$at[own][1L]
    paste0(format_count(sum(runs$length[own])), " lines of ", quoted(basename(texts[[i]]$path)),
      " stand in another file, too (from line ", line(at), " on they repeat those of ",
      quoted(basename(texts[[file[first[at]]]]$path)), " from line ", line(first[at]),
      " on): their amounts are counted twice")
  }, "")
}

tell_repeats <- function(repeats, told) {
  if (!is.null(repeats)) told$add(paste0(format_count(repeats$count), " lines stand",
    " in the file twice (from line ", format_count(repeats$from),
    " on they repeat those from line ",
    format_count(repeats$of), " on): their amounts are counted twice"))
}

# Of larger files it is known how often their first record comes again.
repeat_words <- function(count) {
  paste0("the first record stands in the file ", count_words(count + 1, "time"),
    ": are its orders in it twice?")
}

# Records of whole orders above those of their lines: seen in the first records, where a column is
# empty, or a word, in each record whose amount is the sum of those below it. The condition that
# keeps the lines below, as text; NULL where there is nothing of the kind.
lines_below_headers <- function(names, cells) {
  cells <- cells[lengths(cells) == length(names)]
  if (length(cells) < 8L) {
    return(NULL)
  }
  columns <- lapply(seq_along(names), function(i) vapply(cells, `[`, "", i))
  amounts <- NULL
  for (i in seq_along(names)) {
    texts <- columns[[i]]
    first <- texts == texts[1L]
    if ((texts[1L] != "" && length(unique(texts)) != 2L) || !may_stand_above(first)) next
    amounts <- amounts %||% amounts_in(columns)
    if (any(vapply(amounts, are_sums_below, NA, first = first))) {
      return(if (texts[1L] == "") paste0("!is.na(", name_text(names[i]), ")")
        else paste0(name_text(names[i]), " == \"", texts[!first][1L], "\""))
    }
  }
  NULL
}

amounts_in <- function(columns) {
  Filter(Negate(is.null), lapply(columns, function(texts) {
    if (all(is_number_cell(texts))) column_amounts(texts, list())$values
  }))
}

# Whether several stand apart, each above some others.
may_stand_above <- function(first) {
  sizes <- utils::head(tabulate(cumsum(first)), -1L)
  length(sizes) >= 3L && all(sizes > 1L) && any(sizes > 2L)
}

# Whether each first one is the sum of those up to the next; the last group may go on below.
are_sums_below <- function(amounts, first) {
  group <- cumsum(first)
  whole <- group < max(group)
  sums <- tapply(ifelse(first, 0, amounts)[whole], group[whole], sum)
  all(abs(sums - amounts[first & whole]) < 0.0051)
}

tell_headers_above <- function(condition, told) {
  if (!is.null(condition)) told$add(
    paste0("some lines hold the sums of the lines below them, so that ", "amounts ",
    "are counted twice: keep the lines below by the condition ", condition))
}
