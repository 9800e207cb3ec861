# Runs the tests of one file on the package that counts: covered.R NAME. A count looks its counter up
# by name, which takes ten times what the code itself does: a hit is noted here, and told at the end.
suppressMessages(library(drystack))
space <- asNamespace("drystack")
hits <- new.env()
noted <- function(key) hits[[key]] <- TRUE
beside <- new.env(parent = parent.env(space))
assign(":::", function(package, name) noted, envir = beside)
parent.env(space) <- beside
name <- commandArgs(TRUE)[1L]
local({
  commandArgs <- function(...) paste0("^", name, "$")
  quit <- function(...) invisible()
  source("tools/test.R", local = TRUE)
})
counters <- covr:::.counters
for (key in ls(hits)) {
  counter <- counters[[key]]
  counter$value <- counter$value + 1L
  assign(key, counter, envir = counters)
}
