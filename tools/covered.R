# Runs the tests on a copy of the package that counts (coverage.R), each file in a process of its own
# that comes of this one: what makes the package count takes a minute. Processes note what they
# reach, and hand on the names alone: all that covr hands on at the end of each would take longer.
suppressMessages(library(drystack))
main <- Sys.getpid()
folder <- tempfile("reached-")
dir.create(folder)
hits <- new.env()
assignInNamespace("count", function(key) hits[[key]] <- TRUE, "covr")

count_reached <- function() {
  counters <- getFromNamespace(".counters", "covr")
  files <- list.files(folder, full.names = TRUE)
  for (key in unique(c(ls(hits), unlist(lapply(files, readLines))))) {
    counter <- counters[[key]]
    counter$value <- counter$value + 1L
    assign(key, counter, envir = counters)
  }
}

saved_by_covr <- getFromNamespace("save_trace", "covr")
assignInNamespace("save_trace", function(directory) {
  if (Sys.getpid() == main) {
    count_reached()
    return(saved_by_covr(directory))
  }
  writeLines(ls(hits), tempfile("process-", folder))
  # What is counted of C++ is written when a program ends, not when a forked one does.
  invisible(.C("flush_counts", PACKAGE = "drystack"))
}, "covr")

local({
  commandArgs <- function(...) Sys.getenv("COVERED_FILES")
  quit <- function(...) invisible()
  source("tools/test.R", local = TRUE)
})
