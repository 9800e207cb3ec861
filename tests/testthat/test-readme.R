# What the README shows as output is what the code before it gives.

command_output <- function(code) {
  words <- scan(text = paste(gsub("\\\\$", "", code), collapse = " "), what = "", quiet = TRUE, quote = "'")
  args <- words[-1L]
  utils::capture.output(run_command(args))
}

test_that("the outputs shown are those of the code before them, in R and on the command line", {
  withr::local_envvar(COLUMNS = "100")
  withr::local_options(cli.num_colors = 1L, cli.width = 100L)
  withr::local_dir(yard_folder())
  env <- new.env(parent = globalenv())
  shown <- 0L
  got <- character()
  for (block in code_blocks("README.md")) {
    if (block$kind == "r") {
      code <- parse(text = block$lines, keep.source = FALSE)
      withr::with_package("drystack", for (call in code) got <- eval(call, env))
      if (inherits(got, c("drystack_table", "drystack_explained"))) got <- format(got, width = 100L)
    } else if (block$kind == "sh" && startsWith(block$lines[1L], "drystack rollup")) {
      got <- command_output(block$lines)
    } else if (block$kind == "text") {
      expect_identical(got, block$lines)
      shown <- shown + 1L
    }
  }
  expect_gte(shown, 4L)
})
