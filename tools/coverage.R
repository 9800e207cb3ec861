# Which lines of R and C++ the tests reach, in out/coverage.html and as one line. The tests are run
# on a copy of the package that counts, compiled plainly, each file in a program of its own: what a
# forked process has counted would be gone with it. A word limits the tests to files of that name.
arguments <- commandArgs(TRUE)

run_all <- function(word) {
  names <- sub("^test-(.*)[.]R$", "\\1", list.files("tests/testthat", "^test-.*[.]R$"))
  Sys.setenv(TESTS_AT_A_TIME = "1")
  parallel::mclapply(grep(word, names, value = TRUE), function(name) {
    told <- paste0("out-", name)
    system2("Rscript", c("tools/test.R", shQuote(paste0("^", name, "$"))), stdout = told,
      stderr = told)
    cat(grep(": [0-9]+ passed,", readLines(told), value = TRUE), "\n", file = stderr())
  }, mc.cores = parallel::detectCores(), mc.preschedule = FALSE)
}

reached <- covr::package_coverage(".", type = "none", quiet = TRUE, code = paste0(
  "setwd(", deparse(normalizePath(".")), "); run_all <- ",
  paste(deparse(run_all), collapse = "\n"), "; run_all(",
  deparse(c(arguments, "")[2L]), ")"
))
covr::report(reached, file.path(arguments[1L], "coverage.html"), browse = FALSE)
by_line <- covr::tally_coverage(reached, by = "line")
share <- function(rows) sprintf("%.1f %%", 100 * mean(by_line$value[rows] > 0))
in_r <- grepl("[.]R$", by_line$filename)
cat("coverage:", share(in_r), "of the lines of R,", share(!in_r),
  "of C++; see out/coverage.html\n")
