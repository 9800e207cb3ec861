# Which lines of R and C++ the tests reach, in out/coverage.html and as one line: all tests are run on a copy of the
# package that counts, compiled plainly.
reached <- covr::package_coverage(
  ".", type = "none", quiet = TRUE,
  code = paste0("setwd(", deparse(normalizePath(".")), "); local({ commandArgs <- function(...) character(); ",
    "quit <- function(...) invisible(); source('tools/test.R', local = TRUE) })")
)
covr::report(reached, file.path(commandArgs(TRUE)[1L], "coverage.html"), browse = FALSE)
by_line <- covr::tally_coverage(reached, by = "line")
share <- function(rows) sprintf("%.1f %%", 100 * mean(by_line$value[rows] > 0))
in_r <- grepl("[.]R$", by_line$filename)
cat("coverage:", share(in_r), "of the lines of R,", share(!in_r), "of C++; see out/coverage.html\n")
