# Which lines of R and C++ the tests reach, in out/coverage.txt and as one line. The tests are run
# on a copy of the package that counts, compiled plainly, each file in a program of its own: what a
# forked process has counted would be gone with it. A word limits the tests to files of that name.
arguments <- commandArgs(TRUE)

run_all <- function(word) {
  names <- sub("^test-(.*)[.]R$", "\\1", list.files("tests/testthat", "^test-.*[.]R$"))
  Sys.setenv(TESTS_AT_A_TIME = "1")
  parallel::mclapply(grep(word, names, value = TRUE), function(name) {
    told <- paste0("out-", name)
    system2("Rscript", c("tools/covered.R", name), stdout = told, stderr = told)
    cat(grep(": [0-9]+ passed,", readLines(told), value = TRUE), "\n", file = stderr())
  }, mc.cores = parallel::detectCores(), mc.preschedule = FALSE)
}

reached <- covr::package_coverage(".", type = "none", quiet = TRUE, code = paste0(
  "setwd(", deparse(normalizePath(".")), "); run_all <- ",
  paste(deparse(run_all), collapse = "\n"), "; run_all(",
  deparse(c(arguments, "")[2L]), ")"
))
by_line <- covr::tally_coverage(reached, by = "line")
share <- function(rows) sprintf("%.1f %%", 100 * mean(by_line$value[rows] > 0))
in_r <- grepl("[.]R$", by_line$filename)

# Lines in a row as their ends.
runs_of <- function(lines) {
  if (length(lines) == 0L) {
    return("")
  }
  lines <- sort(unique(lines))
  of <- cumsum(c(TRUE, diff(lines) > 1L))
  ends <- lapply(split(lines, of), range)
  paste(vapply(ends, function(run) paste(unique(run), collapse = "-"), ""), collapse = ", ")
}

by_file <- split(by_line, by_line$filename)
reach <- vapply(by_file, function(lines) mean(lines$value > 0), 1)
missed <- vapply(by_file, function(lines) runs_of(lines$line[lines$value == 0]), "")
writeLines(sprintf("%5.1f %%  %s  %s", 100 * reach, names(by_file), missed)[order(reach)],
  file.path(arguments[1L], "coverage.txt"))
cat("coverage:", share(in_r), "of the lines of R,", share(!in_r),
  "of C++; what no test reaches is in out/coverage.txt\n")
