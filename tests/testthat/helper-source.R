# Where the sources are; tests that read them are skipped where only the built package is at hand.
source_root <- function() {
  root <- Sys.getenv("DRYSTACK_SOURCE")
  if (root == "") testthat::skip("the sources are not at hand")
  root
}
