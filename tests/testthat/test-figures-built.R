# The figures of a built page.

test_that("a report holds all its figures, the same every time, and its PDF is one of A4 pages", {
  folder <- yard_folder()
  built <- function(formats) {
    out <- withr::local_tempdir(.local_envir = parent.frame(2))
    build_report(file.path(folder, "monthly.yml"), list(as_of = "2026-08-31"), out, formats)$files
  }
  expect_identical(readLines(built("html")), readLines(built("html")))
  report <- file.path(folder, "monthly.yml")
  writeLines(c(readLines(report), "  - figure: {by: region, show: [sales], kind: shares}"), report)
  both <- readLines(built("html"))
  expect_identical(lengths(regmatches(paste(both, collapse = ""),
    gregexpr("data:image/svg", paste(both, collapse = "")))), 2L)
  expect_identical(both, readLines(built("html")))
  skip_if(inherits(try(find_browser(), silent = TRUE), "try-error"), "Chromium is not installed")
  files <- built(c("md", "pdf"))
  expect_identical(basename(files), c("monthly.md", "monthly.pdf"))
  pdf <- readBin(files[2L], "raw", file.size(files[2L]))
  expect_identical(rawToChar(pdf[1:5]), "%PDF-")
  text <- rawToChar(pdf[pdf != as.raw(0)])
  box <- regmatches(text, regexpr("/MediaBox \\[0 0 [0-9. ]+\\]", text, useBytes = TRUE))
  size <- scan(text = gsub("[^0-9. ]", "", box), quiet = TRUE)
  expect_equal(size[3:4], c(210, 297) / 25.4 * 72, tolerance = 0.01)
})
