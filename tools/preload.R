# Processes that come of this one find loaded what most of them need.
load_all_of <- function(package) {
  space <- asNamespace(package)
  for (name in ls(space, all.names = TRUE)) get(name, envir = space)
}

load_what_is_needed <- function() {
  imported <- strsplit(gsub("\\s|[(].*?[)]", "", read.dcf("DESCRIPTION", "Imports"), perl = TRUE), ",")[[1L]]
  for (package in c(imported, "RSQLite", "svglite", "ragg", "withr", "processx", "bit64")) {
    if (requireNamespace(package, quietly = TRUE)) load_all_of(package)
  }
  for (package in c("drystack", "testthat")) load_all_of(package)
}
