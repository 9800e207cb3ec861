# The questions of the vignette: each is the same table as a command and as a report.

questions <- function() {
  page <- file.path(Sys.getenv("DRYSTACK_SOURCE"), "vignettes", "thirty-questions.Rmd")
  if (!file.exists(page)) page <- system.file("doc", "thirty-questions.Rmd", package = "drystack")
  if (!file.exists(page)) testthat::skip("the vignette is not built")
  withr::local_options(knitr.purl.inline = FALSE)
  code <- withr::local_tempfile(fileext = ".R")
  knitr::purl(page, code, quiet = TRUE, documentation = 1L)
  lines <- readLines(code)
  part <- cumsum(startsWith(lines, "## ----"))
  lapply(split(lines, part), function(lines) list(name = sub("^## ----([a-z0-9]*).*", "\\1", lines[1L]),
    code = parse(text = grep("^#", lines, value = TRUE, invert = TRUE))))
}

test_that("a question has one answer, in R, as a command and as a report", {
  withr::local_dir(withr::local_tempdir())
  env <- new.env(parent = globalenv())
  parts <- Filter(function(part) !any(grepl("opts_knit", as.character(part$code))), questions())
  asked <- grepl("^q[0-9]+$", vapply(parts, `[[`, "", "name"))
  begins <- Filter(function(part) !identical(as.character(part$code), "elsewhere(x)"), parts[!asked])
  for (part in begins) eval(part$code, env)
  expect_identical(sum(asked), 30L)
  for (i in withr::with_seed(1, sample(which(asked), min(30L, trials(80L))))) {
    x <- eval(parts[[i]]$code, env)
    write_report(x, "r.csv")
    out <- readLines("r.csv")
    words <- shell_words(as_command(x))
    expect_identical(suppressMessages(run_command(c(words, "--out", "c.csv"))), 0L)
    expect_identical(readLines("c.csv"), out, label = parts[[i]]$name)
    as_standing(x, "page.yml")
    build_report("page.yml", formats = "csv")
    expect_identical(readLines("page.csv"), out, label = parts[[i]]$name)
    unlink(c("page.csv", "page.yml"))
  }
})
