# The README's first session gives what the README shows.

readme_blocks <- function(kind) {
  lines <- readLines(file.path(source_root(), "README.md"), encoding = "UTF-8")
  fences <- which(startsWith(lines, "```"))
  opens <- fences[c(TRUE, FALSE)]
  closes <- fences[c(FALSE, TRUE)]
  blocks <- Map(function(a, b) lines[seq_len(b - a - 1L) + a], opens, closes)
  blocks[lines[opens] == paste0("```", kind)]
}

test_that("the first session in R gives the table shown", {
  code <- parse(text = readme_blocks("r")[[1L]], keep.source = FALSE)
  env <- new.env(parent = globalenv())
  table <- withr::with_package("drystack", for (call in code) value <- eval(call, env))
  expect_identical(format(get("sales", env), width = 100L), readme_blocks("text")[[1L]])
})

test_that("the command line gives the table shown", {
  code <- paste(gsub("\\\\$", "", readme_blocks("sh")[[2L]]), collapse = " ")
  words <- scan(text = code, what = "", quiet = TRUE, quote = "'")
  args <- words[-1L]
  args[args == "orders.csv"] <- harrowgill_path()
  withr::local_envvar(COLUMNS = "100")
  withr::local_options(cli.num_colors = 1L)
  expect_identical(utils::capture.output(run_command(args)), readme_blocks("text")[[2L]])
})
