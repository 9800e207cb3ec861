# Which lines of R and C++ the tests reach, in out/coverage.txt and as one line. The tests are run
# on a copy of the package that counts, compiled plainly. A word limits them to files of that name.
arguments <- commandArgs(TRUE)
Sys.setenv(COVERED_FILES = c(arguments, "")[2L])
reached <- covr::package_coverage(".", type = "none", quiet = TRUE, code = paste0(
  "setwd(", deparse(normalizePath(".")), "); source('tools/covered.R')"
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
