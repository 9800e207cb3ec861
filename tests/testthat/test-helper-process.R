# Work in a process of its own, and what is built with its help.

test_that("a helper gives values and errors in the order they are asked for, forked or not", {
  for (aside in c(TRUE, FALSE)) {
    helper <- begun_helper(
      list(
        twice = function(x) 2 * x, process = function(x) Sys.getpid(),
        wrong = function(x) raise("figure", "Cannot draw {x}.")
      ),
      aside = aside
    )
    helper$give(21)
    expect_raised(helper$pieces$wrong(), "figure", "Cannot draw 21")
    expect_identical(helper$pieces$twice(), 42)
    expect_identical(helper$pieces$process() != Sys.getpid(), aside && may_fork())
    helper$stop()
  }
})

test_that("with one thread nothing is forked", {
  withr::local_options(drystack.threads = 1)
  expect_false(may_fork())
})

# What has ended may stand in the list of processes until its parent has looked.
runs_still <- function(pid) {
  stat <- file.path("/proc", pid, "stat")
  file.exists(stat) && !grepl(") Z ", readLines(stat)[1L], fixed = TRUE)
}

test_that("the work of a helper that was ended from outside is done here; a helper not needed goes", {
  skip_if_not(may_fork(), "no forking here")
  me <- Sys.getpid()
  helper <- begun_helper(list(a = function(x) {
    if (Sys.getpid() != me) tools::pskill(Sys.getpid(), tools::SIGKILL)
    "done here"
  }))
  helper$give(1)
  expect_identical(helper$pieces$a(), "done here")
  helper$stop()
  pid <- tempfile()
  idle <- begun_helper(list(a = function(x) x),
    ready = function() writeLines(as.character(Sys.getpid()), pid))
  while (!file.exists(pid) || length(readLines(pid)) == 0L) Sys.sleep(0.01)
  idle$stop()
  for (wait in 1:100) if (runs_still(readLines(pid))) Sys.sleep(0.02)
  expect_false(runs_still(readLines(pid)))
})

test_that("a report's figures are the same drawn by a helper and here, and its PDF is one of A4 pages", {
  folder <- withr::local_tempdir()
  file.copy(system.file("extdata", c("orders.csv", "customers.csv", "monthly.yml"),
    package = "drystack"), folder)
  built <- function(threads, formats) {
    withr::local_options(drystack.threads = threads)
    out <- withr::local_tempdir(.local_envir = parent.frame(2))
    build_report(file.path(folder, "monthly.yml"), list(as_of = "2026-08-31"), out, formats)$files
  }
  expect_identical(readLines(built(2, "html")), readLines(built(1, "html")))
  report <- file.path(folder, "monthly.yml")
  writeLines(c(readLines(report), "  - figure: {by: region, show: [sales], kind: shares}"), report)
  both <- readLines(built(2, "html"))
  expect_identical(lengths(regmatches(paste(both, collapse = ""),
    gregexpr("data:image/svg", paste(both, collapse = "")))), 2L)
  expect_identical(both, readLines(built(1, "html")))
  skip_if(inherits(try(find_browser(), silent = TRUE), "try-error"), "Chromium is not installed")
  files <- built(2, c("md", "pdf"))
  expect_identical(basename(files), c("monthly.md", "monthly.pdf"))
  pdf <- readBin(files[2L], "raw", file.size(files[2L]))
  expect_identical(rawToChar(pdf[1:5]), "%PDF-")
  text <- rawToChar(pdf[pdf != as.raw(0)])
  box <- regmatches(text, regexpr("/MediaBox \\[0 0 [0-9. ]+\\]", text, useBytes = TRUE))
  size <- scan(text = gsub("[^0-9. ]", "", box), quiet = TRUE)
  expect_equal(size[3:4], c(210, 297) / 25.4 * 72, tolerance = 0.01)
})
