# The command line beside the start of R: the demo's standing report in some and in all document
# formats, and built again with nothing changed.

folder <- drystack::harrowgill_folder(tempfile("bench-"))
suppressMessages(drystack::install_command_line(folder))
launcher <- file.path(folder, "drystack")

seconds <- function(program, words) {
  unname(system.time(system2(program, words, stdout = FALSE, stderr = FALSE))[["elapsed"]])
}

build <- function(formats, again = FALSE) {
  out <- file.path(folder, "out")
  if (!again) unlink(out, recursive = TRUE)
  seconds(launcher, c(
    "build", file.path(folder, "monthly.yml"), "--as-of", "2026-08-31", "--format", formats, "--out", out
  ))
}

everything <- "html,pdf,xlsx,md,txt,json,csv,parquet"
times <- replicate(9L, c(
  "start of R" = seconds(file.path(R.home("bin"), "Rscript"), c("-e", "1")),
  "build html" = build("html"),
  "build html,xlsx" = build("html,xlsx"),
  "build all formats" = build(everything),
  "the same, nothing changed" = build(everything, again = TRUE)
))
middle <- apply(times, 1L, stats::median)
ratio <- apply(times, 2L, function(run) run / run[["start of R"]])
cat(sprintf(
  "%-28s %6.3f s  %5.1f x the start of R\n", names(middle), middle, apply(ratio, 1L, stats::median)
), sep = "")
