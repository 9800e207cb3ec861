# Who may know whom: the core knows no edges and no faces, edges know no faces, and the kernel knows nothing of R.

layer_of <- function(file) {
  prefix <- sub("-.*$", "", basename(file))
  layers <- list(
    ground = "ground",
    core = c("period", "calendar", "daybook", "measure", "plan", "fold", "resolve", "table"),
    edge = c("source", "sheet", "write"),
    face = c("print", "figure", "standing", "cli", "explore")
  )
  names(which(vapply(layers, function(prefixes) prefix %in% prefixes, logical(1L))))
}

r_files <- function() {
  files <- list.files(file.path(source_root(), "R"), "[.]R$", full.names = TRUE)
  files[!basename(files) %in% c("RcppExports.R", "drystack-package.R")]
}

parsed <- function(file) parse(file, keep.source = TRUE)

defined_in <- function(file) {
  calls <- Filter(function(e) is.call(e) && as.character(e[[1L]]) %in% c("<-", "="), as.list(parsed(file)))
  vapply(calls, function(e) as.character(e[[2L]])[1L], "")
}

symbols_in <- function(file, kinds = c("SYMBOL_FUNCTION_CALL", "SYMBOL")) {
  tokens <- utils::getParseData(parsed(file))
  tokens$text[tokens$token %in% kinds]
}

calls_in <- function(file) symbols_in(file, "SYMBOL_FUNCTION_CALL")

packages_in <- function(file) {
  tokens <- utils::getParseData(parsed(file))
  unique(tokens$text[tokens$token == "SYMBOL_PACKAGE"])
}

test_that("every file belongs to a layer", {
  layers <- lapply(r_files(), layer_of)
  expect_identical(basename(r_files())[lengths(layers) != 1L], character())
})

test_that("inner layers call nothing of outer layers", {
  files <- r_files()
  order <- c(ground = 1L, core = 2L, edge = 3L, face = 4L)
  level <- order[vapply(files, layer_of, "")]
  defined <- lapply(files, defined_in)
  home <- stats::setNames(rep(level, lengths(defined)), unlist(defined))
  outward <- unlist(Map(function(file, own, mine) {
    used <- setdiff(intersect(symbols_in(file), names(home)), mine)
    used <- used[home[used] > own]
    if (length(used) > 0L) paste(basename(file), "uses", used)
  }, files, level, defined))
  expect_identical(as.character(outward), character())
})

test_that("the core uses no printing, file, plot or HTML package", {
  core <- Filter(function(file) layer_of(file) %in% c("ground", "core"), r_files())
  allowed <- c("cli", "rlang", "vctrs", "tibble", "stats", "utils", "base")
  used <- unique(unlist(lapply(core, packages_in)))
  expect_identical(setdiff(used, allowed), character())
  printing <- c("cat", "print", "writeLines", "message", "readLines", "file", "readRDS", "saveRDS", "sink")
  found <- unlist(lapply(core, function(file) intersect(calls_in(file), printing)))
  expect_length(found, 0L)
  cli_used <- unlist(lapply(core, function(file) {
    tokens <- utils::getParseData(parsed(file))
    tokens$text[which(tokens$token == "SYMBOL_PACKAGE" & tokens$text == "cli") + 2L]
  }))
  expect_in_set(cli_used, c("cli_abort", "qty"))
})

test_that("no package that itself groups, aggregates, windows or pivots is used", {
  used <- unique(unlist(lapply(r_files(), packages_in)))
  allowed <- c(
    "cli", "rlang", "vctrs", "tibble", "stats", "utils", "base", "tools",
    "readxl", "htmltools", "grDevices", "grid", "parallel", "jsonlite", "yaml", "openxlsx", "nanoparquet", "knitr", "ggplot2",
    "scales", "ragg", "svglite", "optparse", "drystack"
  )
  expect_identical(setdiff(used, allowed), character())
})

test_that("the kernel includes only itself and the standard library", {
  headers <- list.files(file.path(source_root(), "src", "kernel"), full.names = TRUE)
  expect_gt(length(headers), 5L)
  includes <- unlist(lapply(headers, function(h) grep("^#include", readLines(h), value = TRUE)))
  quoted <- sub("^#include \"(.*)\"$", "\\1", grep("\"", includes, value = TRUE))
  expect_identical(setdiff(quoted, basename(headers)), character())
  expect_false(any(grepl("<R|Rcpp|Rinternals", includes)))
})
