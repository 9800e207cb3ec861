expect_in_set <- function(x, set) testthat::expect_identical(as.character(setdiff(x, set)), character())

# An error of the family, of this kind, whose message holds these words.
expect_raised <- function(code, what, ...) {
  error <- testthat::expect_error(code, class = paste0("drystack_error_", what))
  testthat::expect_s3_class(error, "drystack_error")
  message <- gsub("\\s+", " ", rlang::cnd_message(error))
  for (words in c(...)) testthat::expect_match(message, words, fixed = TRUE)
  invisible(error)
}
