# Runs the tests against the installed package and prints the closing line.
library(testthat)
results <- as.data.frame(test_dir(
  "tests/testthat", filter = if (length(commandArgs(TRUE)) > 0L) commandArgs(TRUE)[1L], package = "drystack",
  load_package = "installed", reporter = SummaryReporter$new(max_reports = Inf), stop_on_failure = FALSE
))
failed <- sum(results$failed) + sum(results$error)
passed <- sum(results$passed)
skipped <- sum(results$skipped)
if (passed == 0) failed <- max(failed, 1)
cat(sprintf("\ntests: %d passed, %d failed, %d skipped\n", passed, failed, skipped))
quit(save = "no", status = if (failed > 0) 1 else 0)
