# What becomes of the files that stood before.

small_table <- function() rollup(daybook(few_orders(), on), s = sum(amount))

test_that("a file written again keeps its mode, and a link goes on leading where it led", {
  skip_on_os("windows")
  folder <- withr::local_tempdir()
  real <- file.path(folder, "real.csv")
  write_report(small_table(), real)
  Sys.chmod(real, "640", use_umask = FALSE)
  link <- file.path(folder, "link.csv")
  file.symlink(real, link)
  writeLines("old", real)
  write_report(small_table(), link)
  expect_identical(as.character(file.mode(real)), "640")
  expect_identical(Sys.readlink(link), real)
  expect_identical(readLines(real)[1L], "s,.role")
})

test_that("a file that does not end as its format says never takes the place of another", {
  folder <- withr::local_tempdir()
  for (ending in c("png", "svg", "pdf", "parquet", "xlsx")) {
    path <- file.path(folder, paste0("x.", ending))
    writeLines("good", path)
    expect_raised(write_whole(path, function(aside) writeLines("cut off", aside)),
      "output", "does not end as it should")
    expect_raised(write_whole(path, function(aside) file.create(aside)), "output", "nothing was written")
    expect_identical(readLines(path), "good")
  }
  expect_identical(list.files(folder, "^[.]", all.files = TRUE, no.. = TRUE), character())
})

test_that("what a killed run left aside is cleared by the next, what another still writes is not", {
  folder <- withr::local_tempdir()
  ended <- file.path(folder, ".drystack-999999999-abc")
  alive <- file.path(folder, paste0(".drystack-", Sys.getpid(), "-abc"))
  file.create(ended, alive)
  write_report(small_table(), file.path(folder, "x.csv"))
  expect_identical(file.exists(c(ended, alive)), c(FALSE, TRUE))
})

test_that(
  "a build looks at what stands before it says that nothing has changed, and at nothing outside its folder", {
  folder <- yard_folder()
  report <- file.path(folder, "monthly.yml")
  built <- function() build_report(report, set = list(as_of = "2026-08-31"), out = folder, formats = "txt")
  file <- built()$files
  whole <- readLines(file)
  expect_false(built()$changed)
  writeLines("spoilt", file)
  expect_true(built()$changed)
  expect_identical(readLines(file), whole)
  unlink(file)
  expect_true(built()$changed)
  skip_if_not(file.exists("/dev/zero"))
  lines <- readLines(report)
  writeLines(sub("orders.csv", "/dev/zero", lines, fixed = TRUE), report)
  expect_raised(built(), "standing", "leads out of the folder")
})
