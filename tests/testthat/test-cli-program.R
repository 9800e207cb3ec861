# The program as the shell sees it: output that cannot be written, pipes that are closed, signals.

shell <- function(line) {
  suppressWarnings(system2("bash", c("-c", shQuote(line)), stdout = TRUE, stderr = TRUE))
}

table_line <- function(program) {
  paste(
    shQuote(program), "rollup --orders", shQuote(harrowgill_path("orders.csv")),
    "--date ordered_on --by customer_id --show 's = sum(amount)'"
  )
}

test_that("output that cannot be written ends with 1, and a closed pipe ends quietly", {
  skip_if_not(file.exists("/dev/full"))
  line <- table_line(launcher())
  for (format in c("text", "csv", "json")) {
    told <- shell(paste(line, "--format", format, "> /dev/full; echo status $?"))
    expect_match(told, "could not be written", all = FALSE)
    expect_identical(utils::tail(told, 1L), "status 1")
  }
  told <- shell(paste("set -o pipefail;", line, "--format csv | head -n 1; echo status $?"))
  expect_identical(told, c("customer_id,s,.role", "status 0"))
})

test_that("a program that is told to end leaves nothing behind", {
  skip_on_os("windows")
  program <- launcher()
  folder <- withr::local_tempdir()
  own <- withr::local_tempdir()
  withr::local_envvar(TMPDIR = own)
  fifo <- file.path(folder, "pipe")
  skip_if(system2("mkfifo", fifo) != 0L)
  line <- paste(shQuote(program), "rollup --orders", shQuote(fifo), "--date d --show 's = sum(a)'")
  # The pipe opens once the program reads it.
  told <- shell(paste(line, "& pid=$!; exec 3>", shQuote(fifo), "; kill -TERM $pid; wait $pid; echo $?"))
  expect_identical(told, c("drystack: stopped", "143"))
  expect_identical(list.files(own, all.files = TRUE, no.. = TRUE), character())
})

test_that("text that a spreadsheet would take for a formula is guarded where that is asked for", {
  folder <- withr::local_tempdir()
  path <- file.path(folder, "o.csv")
  writeLines(c("d,k,a", "2026-01-01,=1+1,5"), path)
  line <- paste(shQuote(launcher()), "rollup --orders", shQuote(path),
    "--date d --by k --show 's = sum(a)' --format csv")
  expect_identical(shell(line)[2L], "=1+1,5,line")
  expect_identical(shell(paste(line, "--guard"))[2L], "'=1+1,5,line")
})
