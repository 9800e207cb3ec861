# Runs the tests against the installed package and prints the closing line. A word limits them to
# files of that name; TESTS_IN is another folder of tests.
library(testthat)
# Snapshots are compared where this is set.
Sys.setenv(NOT_CRAN = "true")
wanted <- c(commandArgs(TRUE), "")[1L]
folder <- Sys.getenv("TESTS_IN", "tests/testthat")
names <- sub("^test-(.*)[.]R$", "\\1", list.files(folder, "^test-.*[.]R$"))
names <- grep(wanted, names, value = TRUE)

run <- function(names, parallel) {
  if (length(names) == 0L) {
    return(NULL)
  }
  Sys.setenv(TESTTHAT_PARALLEL = parallel)
  as.data.frame(test_dir(
    folder, filter = paste0("^(", paste(names, collapse = "|"), ")$"), package = "drystack",
    load_package = "installed", reporter = SummaryReporter$new(max_reports = Inf), stop_on_failure = FALSE
  ))
}

# Where tests run in processes of their own, testthat 3.1 clears snapshots away as seen by nobody. One
# that is not there would be made anew, whatever is printed.
with_snapshots <- "printed"
snapshots <- file.path("tests/testthat/_snaps", paste0(with_snapshots, ".md"))
if (!all(file.exists(snapshots))) stop("the snapshots are gone: ", paste(snapshots, collapse = ", "))
results <- rbind(
  run(intersect(names, with_snapshots), parallel = "FALSE"),
  run(setdiff(names, with_snapshots), parallel = "TRUE")
)
failed <- sum(results$failed) + sum(results$error)
passed <- sum(results$passed)
skipped <- sum(results$skipped)
if (passed == 0) failed <- max(failed, 1)
cat(sprintf("\ntests: %d passed, %d failed, %d skipped\n", passed, failed, skipped))
quit(save = "no", status = if (failed > 0) 1 else 0)
