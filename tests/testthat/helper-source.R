# Where the sources are; tests that read them are skipped where only the built package is at hand.
source_root <- function() {
  root <- Sys.getenv("DRYSTACK_SOURCE")
  if (root == "") testthat::skip("the sources are not at hand")
  root
}

# Random trials are all made by `make fuzz`; `make test` and a check of the
# built package make a few.
trials <- function(n) as.integer(n * as.numeric(Sys.getenv("FUZZ_SHARE", "0.03")))

# The code blocks of a page: list(kind, lines) each.
code_blocks <- function(page) {
  lines <- readLines(file.path(source_root(), page), encoding = "UTF-8")
  fences <- which(startsWith(lines, "```"))
  opens <- fences[c(TRUE, FALSE)]
  closes <- fences[c(FALSE, TRUE)]
  Map(function(a, b) list(kind = sub("```", "", lines[a]), lines = lines[seq_len(b - a - 1L) + a]),
    opens, closes)
}
