# Runs the tests against the installed package, each file in a process of its own, as many at a time
# as there are processors, and prints the closing line. A word limits them to files of that name;
# TESTS_IN is another folder of tests.
suppressMessages(library(testthat))
library(drystack)
source("tools/preload.R")
# Snapshots are compared where this is set.
Sys.setenv(NOT_CRAN = "true", TESTTHAT_PARALLEL = "FALSE")
folder <- Sys.getenv("TESTS_IN", "tests/testthat")
at_a_time <- as.integer(Sys.getenv("TESTS_AT_A_TIME", parallel::detectCores()))

# A snapshot that is not there would be made anew, whatever is printed.
snapshots <- "tests/testthat/_snaps/printed.md"
if (!file.exists(snapshots)) stop("the snapshots are gone: ", snapshots)

# What takes longest begins first, so that no processor waits for the last file.
files_of <- function(word) {
  names <- sub("^test-(.*)[.]R$", "\\1", list.files(folder, "^test-.*[.]R$"))
  first <- strsplit(read.dcf("DESCRIPTION", "Config/testthat/start-first")[1L], ",\\s*")[[1L]]
  names <- grep(word, names, value = TRUE)
  c(intersect(first, names), setdiff(names, first))
}

run_file <- function(name) {
  told <- tempfile()
  begun <- proc.time()
  results <- as.data.frame(test_dir(
    folder, filter = paste0("^", name, "$"), package = "drystack", load_package = "installed",
    reporter = SummaryReporter$new(file = told, max_reports = Inf, show_praise = FALSE),
    stop_on_failure = FALSE
  ))
  counts <- c(passed = sum(results$passed), failed = sum(results$failed) + sum(results$error),
    skipped = sum(results$skipped))
  took <- sum((proc.time() - begun)[c("user.self", "sys.self", "user.child", "sys.child")])
  odd <- counts[["failed"]] + counts[["skipped"]] + sum(results$warning)
  problems <- if (odd > 0) paste(c(readLines(told), ""), collapse = "\n")
  cat(sprintf("%s: %d passed, %.1f s of processor\n%s", name, counts[["passed"]], took, problems %||% ""))
  counts
}

`%||%` <- function(x, y) if (is.null(x)) y else x

load_what_is_needed()
# Most files ask of the yard.
invisible(harrowgill())
names <- files_of(c(commandArgs(TRUE), "")[1L])
counts <- parallel::mclapply(names, run_file, mc.cores = at_a_time, mc.preschedule = FALSE)
ended <- vapply(counts, is.numeric, NA)
for (name in names[!ended]) cat(name, ": the process ended before its tests did\n", sep = "")
total <- Reduce(`+`, counts[ended], c(passed = 0, failed = sum(!ended), skipped = 0))
if (total[["passed"]] == 0) total[["failed"]] <- max(total[["failed"]], 1)
cat(sprintf("\ntests: %d passed, %d failed, %d skipped\n", total[["passed"]], total[["failed"]],
  total[["skipped"]]))
# Another status is that of a run which did not come so far.
quit(save = "no", status = if (total[["failed"]] > 0) 2 else 0)
