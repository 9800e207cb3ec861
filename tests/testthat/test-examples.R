# Every example of every page runs.
test_that("the examples run", {
  withr::local_dir(withr::local_tempdir())
  pages <- tools::Rd_db("drystack")
  expect_gt(length(pages), 10L)
  for (name in names(pages)) {
    code <- utils::capture.output(tools::Rd2ex(pages[[name]], commentDontrun = FALSE))
    if (length(code) == 0L) next
    grDevices::pdf(NULL)
    env <- new.env(parent = globalenv())
    withr::with_package("drystack", {
      ran <- tryCatch(
        {
          utils::capture.output(suppressMessages(for (call in parse(text = code, keep.source = FALSE)) {
            shown <- withVisible(eval(call, env))
            if (shown$visible) print(shown$value)
          }))
          "ran"
        },
        error = conditionMessage
      )
    })
    grDevices::dev.off()
    expect_identical(ran, "ran", label = name)
  }
})

test_that("every exported name has a page with a value, and functions an example", {
  pages <- tools::Rd_db("drystack")
  tags <- function(page) vapply(page, function(part) attr(part, "Rd_tag"), "")
  aliases <- lapply(pages, function(page) vapply(page[tags(page) == "\\alias"], function(a) a[[1L]][1L], ""))
  for (name in getNamespaceExports("drystack")) {
    page <- pages[[which(vapply(aliases, function(a) name %in% a, logical(1L)))[1L]]]
    expect_in_set(c("\\value", "\\examples"), tags(page))
  }
})

# The arguments of a line as a shell takes them apart.
arguments_of <- function(line) system(paste("set --", line, "; printf '%s\\n' \"$@\""), intern = TRUE)[-1L]

# An explorer goes on until it is stopped.
explored_and_stopped <- function(line) {
  system(paste(line, "--no-open > out.txt 2> err.txt & pid=$!;",
    "until grep -q exploring err.txt || ! kill -0 $pid; do sleep 0.1; done; kill $pid"))
  readLines("err.txt")
}

test_that("the example that each command's help shows runs as it is printed", {
  folder <- withr::local_tempdir()
  program <- launcher(file.path(folder, "bin"))
  withr::local_dir(folder)
  withr::local_path(dirname(program))
  for (out in c(".", "demo")) expect_identical(drystack("demo", "--out", out)$status, 0L)
  for (command in setdiff(names(commands()), "demo")) {
    help <- drystack(command, "--help")$out
    first <- grep("^ +drystack ", help)
    first <- first[first > grep("^Example", help)[1L]][1L]
    expect_false(is.na(first), label = command)
    last <- first
    while (grepl("\\\\$", help[last])) last <- last + 1L
    example <- paste(sub("\\\\$", "", trimws(help[first:last])), collapse = " ")
    withr::local_envvar(R_USER_DATA_DIR = withr::local_tempdir())
    if (command == "explore") {
      expect_match(explored_and_stopped(example), "^exploring at http", all = FALSE)
      next
    }
    ran <- drystack(arguments_of(example))
    expect_identical(ran$status, 0L, label = paste(example, ran$err))
  }
})

test_that("every page of help leads to others", {
  pages <- list.files(file.path(source_root(), "man"), pattern = "[.]Rd$", full.names = TRUE)
  expect_gt(length(pages), 50L)
  lonely <- Filter(function(page) !any(grepl("seealso", readLines(page), fixed = TRUE)), pages)
  expect_identical(basename(as.character(lonely)), character())
})
