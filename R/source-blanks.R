# Blanks around the cells of a file. Fixed widths and ", " between cells leave them at all cells of
# a column: these are no part of its texts. Cells of blanks alone are empty.

# For each column, whether its first cells show that all are padded.
# cells: for each column the texts of the first records, NA where empty; spaced: whether a blank
#   stands before the names, too: quoted cells may then stand among the others of a column
padded_columns <- function(cells, spaced = FALSE) {
  vapply(cells, function(texts) {
    is_padded(texts) || spaced && any(startsWith(texts, " "), na.rm = TRUE)
  }, NA)
}

# Whether all names of a header but the first begin with a blank.
are_spaced <- function(names) length(names) > 1L && all(startsWith(names[-1L], " "))

# All begin with a blank, or all end with one, or all have one length and some a blank at an end.
# One cell is enough: a file of a folder may hold a single line.
is_padded <- function(texts) {
  texts <- texts[!is.na(texts) & nzchar(kernel_trimmed(texts))]
  before <- startsWith(texts, " ")
  after <- endsWith(texts, " ")
  length(texts) > 0L && (all(before) || all(after) ||
    (any(before | after) && length(unique(nchar(texts))) == 1L))
}

# A column of texts without the cells that are blank, of a padded one without the blanks around all.
plain_cells <- function(column, padded) {
  plain <- kernel_trimmed(column$texts)
  if (!padded && all(nzchar(plain))) {
    return(column)
  }
  texts <- if (padded) plain else column$texts
  known <- unique(texts[nzchar(plain)])
  list(texts = known, codes = match(texts, known)[column$codes])
}

# The columns of a file that is read whole.
with_plain_cells <- function(raw, told) {
  first <- seq_len(min(sampled_records, raw$records))
  cells <- lapply(raw$columns, function(column) column$texts[column$codes[first]])
  padded <- padded_columns(cells, isTRUE(raw$spaced))
  tell_padded(raw$columns[padded], raw$names[padded], told)
  raw$columns <- Map(plain_cells, raw$columns, padded)
  raw
}

# Blanks around numbers and dates mean nothing in any file, and are not told.
tell_padded <- function(columns, names, told) {
  texts <- vapply(columns, function(column) {
    some <- kernel_trimmed(utils::head(column$texts, sampled_records))
    mean(!nzchar(some) | is_number_cell(some) | is_date_cell(some)) < 0.9
  }, NA)
  if (any(texts)) told$add(paste0("blanks around the texts of ",
    examples_of(names[texts]), " left out"))
}
