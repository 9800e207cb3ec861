# Who may know whom: each stratum of the core, each edge and each face calls itself and those before it. The
# command line opens the other faces by the functions they export, the explorer for its orders too, and a
# build calls the comparison of orders from one place alone.

core_strata <- c("ground", "calendar", "period", "measure", "daybook", "plan", "fold", "resolve", "table")
edges <- c("source", "sheet", "write")
faces <- c("figure", "print", "document", "changes", "standing", "explore", "cli")
strata <- c(core_strata, edges, faces)

level_of <- function(file) match(sub("-.*$", "", basename(file)), strata, nomatch = 0L)

r_files <- function() {
  files <- list.files(file.path(source_root(), "R"), "[.]R$", full.names = TRUE)
  files[!basename(files) %in% c("RcppExports.R", "drystack-package.R")]
}

# Each file is read once for all tests.
read_files <- new.env()

read_once <- function(key, read) {
  if (is.null(read_files[[key]])) assign(key, read(), envir = read_files)
  read_files[[key]]
}

parsed <- function(file) read_once(file, function() parse(file, keep.source = TRUE))

defined_in <- function(file) {
  calls <- Filter(function(e) is.call(e) && as.character(e[[1L]]) %in% c("<-", "="), as.list(parsed(file)))
  vapply(calls, function(e) as.character(e[[2L]])[1L], "")
}

tokens_of <- function(file) {
  read_once(paste("tokens", file), function() {
    tokens <- utils::getParseData(parsed(file))
    tokens[tokens$terminal, ]
  })
}

# The names a file uses from elsewhere: no fields, no arguments, nothing that it assigns itself.
used_in <- function(file) {
  tokens <- tokens_of(file)
  field <- c(FALSE, utils::head(tokens$token, -1L) %in% c("'$'", "'@'", "NS_GET"))
  assigned <- tokens$text[c(utils::tail(tokens$token, -1L) %in% c("LEFT_ASSIGN", "IN"), FALSE)]
  own <- c(tokens$text[tokens$token == "SYMBOL_FORMALS"], assigned)
  calls <- tokens$text[tokens$token == "SYMBOL_FUNCTION_CALL" & !field]
  unique(c(calls, setdiff(tokens$text[tokens$token == "SYMBOL" & !field], own)))
}

calls_in <- function(file) {
  tokens <- tokens_of(file)
  tokens$text[tokens$token == "SYMBOL_FUNCTION_CALL"]
}

packages_in <- function(file) {
  tokens <- tokens_of(file)
  unique(tokens$text[tokens$token == "SYMBOL_PACKAGE"])
}

test_that("every file belongs to a stratum of the core, the edges or the faces", {
  expect_identical(basename(Filter(function(file) level_of(file) == 0L, r_files())), character())
})

test_that("each file uses only what its own level and those before it define", {
  files <- r_files()
  level <- vapply(files, level_of, 1L)
  defined <- lapply(files, defined_in)
  home <- stats::setNames(rep(level, lengths(defined)), unlist(defined))
  expect_gt(length(home), 700L)
  outward <- unlist(Map(function(file, own, mine) {
    used <- setdiff(intersect(used_in(file), names(home)), mine)
    used <- used[home[used] > own]
    if (length(used) > 0L) paste(basename(file), "uses", used)
  }, files, level, defined))
  expect_identical(as.character(outward), character())
})

# Files of which each leads to each other by what it uses: those that a file leads to and that lead to it.
circles_of <- function(uses) {
  reached <- function(from) {
    seen <- from
    repeat {
      more <- setdiff(unlist(uses[seen]), seen)
      if (length(more) == 0L) return(seen)
      seen <- c(seen, more)
    }
  }
  all <- lapply(stats::setNames(nm = names(uses)), reached)
  unique(lapply(names(all), function(file) sort(Filter(function(other) file %in% all[[other]], all[[file]]))))
}

test_that("no more than nine files use each other in a circle", {
  expect_identical(circles_of(list(a = "b", b = "c", c = "a", d = "a", e = character())),
    list(letters[1:3], "d", "e"))
  files <- r_files()
  defined <- lapply(files, defined_in)
  home <- stats::setNames(rep(basename(files), lengths(defined)), unlist(defined))
  uses <- Map(function(file, mine) unique(unname(home[setdiff(intersect(used_in(file), names(home)), mine)])),
    stats::setNames(files, basename(files)), defined)
  circles <- Filter(function(circle) length(circle) > 9L, circles_of(uses))
  expect_identical(vapply(circles, paste, "", collapse = " "), character())
})

test_that("only engines look into orders", {
  core <- Filter(function(file) {
    level_of(file) > match("fold", core_strata) && level_of(file) <= length(core_strata)
  }, r_files())
  inside <- c("frame_values", "frame_view", "condition_mask", "scope_mask",
    "job_mask", "job_days", "column_codes")
  found <- unlist(lapply(core, function(file) intersect(calls_in(file), inside)))
  expect_identical(as.character(found), character())
})

test_that("the core uses no printing, file, plot or HTML package", {
  core <- Filter(function(file) level_of(file) <= length(core_strata), r_files())
  # What processes give to each other goes through files of their own.
  core <- core[basename(core) != "ground-apart.R"]
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
  expect_in_set(cli_used, c("format_inline", "qty"))
})

test_that("no package that itself groups, aggregates, windows or pivots is used", {
  used <- unique(unlist(lapply(r_files(), packages_in)))
  allowed <- c(
    "cli", "rlang", "vctrs", "tibble", "stats", "utils", "base", "tools",
    "readxl", "htmltools", "grDevices", "grid", "parallel", "jsonlite",
    "yaml", "openxlsx", "nanoparquet", "knitr", "ggplot2", "scales", "ragg", "svglite", "optparse", "DBI",
      "RSQLite", "RPostgres", "curl", "compiler", "httpuv", "later", "processx", "xml2",
    "drystack"
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

test_that("no name is defined in two places", {
  names <- unlist(lapply(r_files(), defined_in))
  expect_gt(length(names), 500L)
  expect_identical(names[duplicated(names)], character())
})

test_that("every file that draws at random is run with all its trials by make fuzz", {
  makefile <- file.path(source_root(), "Makefile")
  skip_if_not(file.exists(makefile), "the sources are elsewhere")
  drawn <- sub("^drawn = ", "", grep("^drawn = ", readLines(makefile), value = TRUE))
  files <- list.files(file.path(source_root(), "tests/testthat"), "^test-", full.names = TRUE)
  draws <- Filter(function(file) any(grepl("trials[(][0-9]", readLines(file))), files)
  expect_gt(length(draws), 10L)
  expect_match(sub("^test-(.*)[.]R$", "\\1", basename(draws)), drawn)
})
