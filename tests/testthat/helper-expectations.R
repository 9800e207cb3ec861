# Nearly all comparisons hold. What holds is found by R itself here, and the words for a difference,
# which take most of an expectation's time, are only looked for where there is one.

expect_identical <- function(object, expected, ..., label = rlang::as_label(substitute(object))) {
  if (identical(object, expected)) return(invisible(testthat::succeed()))
  testthat::expect_identical(object, expected, ..., label = label)
}

expect_equal <- function(object, expected, ..., label = rlang::as_label(substitute(object))) {
  if (identical(object, expected)) return(invisible(testthat::succeed()))
  testthat::expect_equal(object, expected, ..., label = label)
}

expect_true <- function(object, ..., label = rlang::as_label(substitute(object))) {
  if (isTRUE(object)) return(invisible(testthat::succeed()))
  testthat::expect_true(object, ..., label = label)
}

expect_false <- function(object, ..., label = rlang::as_label(substitute(object))) {
  if (isFALSE(object)) return(invisible(testthat::succeed()))
  testthat::expect_false(object, ..., label = label)
}

expect_in_set <- function(x, set) testthat::expect_identical(as.character(setdiff(x, set)), character())

# An error of the family, of this kind, whose message holds these words.
expect_raised <- function(code, what, ...) {
  error <- tryCatch({
    code
    NULL
  }, drystack_error = identity)
  testthat::expect_s3_class(error, paste0("drystack_error_", what))
  message <- gsub("\\s+", " ", conditionMessage(error))
  for (words in c(...)) testthat::expect_match(message, words, fixed = TRUE)
  invisible(error)
}

# How many columns each row of the tables of a page takes up, read from the written file.
page_rows <- function(file) {
  text <- paste(readLines(file, encoding = "UTF-8"), collapse = "\n")
  rows <- regmatches(text, gregexpr("<tr[ >].*?</tr>", text, perl = TRUE))[[1L]]
  widths <- vapply(rows, function(row) {
    cells <- regmatches(row, gregexpr("<t[hd][^>]*>", row))[[1L]]
    spans <- suppressWarnings(as.integer(sub(".*colspan=\"([0-9]+)\".*", "\\1", cells)))
    sum(ifelse(is.na(spans), 1L, spans))
  }, 1L, USE.NAMES = FALSE)
  list(lines = rows, widths = widths)
}

has_locale <- function(name) {
  before <- Sys.getlocale("LC_COLLATE")
  withr::defer(Sys.setlocale("LC_COLLATE", before))
  nzchar(suppressWarnings(Sys.setlocale("LC_COLLATE", name)))
}

# XML by a strict parser.
expect_well_formed <- function(text, label) {
  problem <- tryCatch({
    xml2::read_xml(text)
    ""
  }, error = conditionMessage)
  testthat::expect_identical(problem, "", label = label)
}
