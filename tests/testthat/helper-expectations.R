expect_in_set <- function(x, set) testthat::expect_identical(as.character(setdiff(x, set)), character())

# An error of the family, of this kind, whose message holds these words.
expect_raised <- function(code, what, ...) {
  error <- testthat::expect_error(code, class = paste0("drystack_error_", what))
  testthat::expect_s3_class(error, "drystack_error")
  message <- gsub("\\s+", " ", rlang::cnd_message(error))
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
