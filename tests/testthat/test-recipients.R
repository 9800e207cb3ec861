# Reports for each member of a column: a file is one member's, and what was told belongs to its value.

recipients_report <- function(folder, orders) {
  utils::write.csv(orders, file.path(folder, "orders.csv"), row.names = FALSE, fileEncoding = "UTF-8")
  writeLines(c("drystack: 1", "title: Sales", "orders: {file: orders.csv, date: on}",
    "measures: {s: sum(amount)}", "page:", "- rollup: {by: month, show: s}",
    "- changes: {by: month, show: s}"), file.path(folder, "r.yml"))
  file.path(folder, "r.yml")
}

build_each <- function(folder, orders, ...) {
  suppressWarnings(build_report(recipients_report(folder, orders), each = "rep", out = folder,
    formats = "md", ...))
}

orders_of_reps <- function(reps) {
  data.frame(on = as.Date("2026-01-05") + seq_along(reps), rep = reps, amount = 1000 + seq_along(reps)^3)
}

test_that("no two members share a file, whatever script or marks they are written with", {
  folder <- withr::local_tempdir()
  reps <- c("J Smith", "J. Smith", "j smith", "\u5c71\u7530", "\u7530\u4e2d", "\u0418\u0432\u0430\u043d",
    "...", "!?",
    "../../x", strrep("long name ", 30L), "Ann")
  built <- build_each(folder, orders_of_reps(reps))
  names <- basename(built$files)
  expect_length(unique(tolower(names)), length(reps))
  expect_true(all(dirname(normalizePath(built$files)) == normalizePath(folder)))
  expect_true("r-ann.md" %in% names && "r-\u5c71\u7530.md" %in% names)
  expect_true(all(nchar(names, "bytes") < 200L))
  # Each page has the figures of its member and of nobody else.
  amounts <- format(1000 + seq_along(reps)^3, big.mark = ",", trim = TRUE)
  for (file in built$files) {
    text <- paste(readLines(file, encoding = "UTF-8"), collapse = "\n")
    expect_identical(sum(vapply(amounts, grepl, NA, x = text, fixed = TRUE)), 1L, info = file)
  }
})

test_that("a member keeps its file, and hears nothing that was told to another", {
  folder <- withr::local_tempdir()
  orders <- orders_of_reps(c("J Smith", "J. Smith", "Ann"))
  first <- build_each(folder, orders)
  of <- function(built, rep) {
    Filter(function(file) grepl(rep, paste(readLines(file), collapse = " "), fixed = TRUE), built$files)
  }
  later <- rbind(orders[orders$rep != "J Smith", ], data.frame(on = as.Date("2026-02-01"), rep = "J. Smith",
    amount = 7))
  second <- build_each(folder, later)
  expect_length(second$files, 2L)
  expect_identical(of(second, "J. Smith"), of(first, "J. Smith"))
  text <- paste(readLines(of(second, "J. Smith")), collapse = "\n")
  expect_match(text, "1,008", fixed = TRUE)
  expect_no_match(text, "1,001", fixed = TRUE)
  expect_match(second$told,
    "J Smith, without orders now: r-j-smith-[0-9a-f]+.md stands from an earlier build", all = FALSE)
  # Whoever comes later does not take a name that another had.
  third <- build_each(folder, orders_of_reps(c("ANN", "Ann")))
  expect_identical(of(third, "Sales, Ann"), of(first, "Ann"))
  expect_length(unique(third$files), 2L)
  expect_match(paste(readLines(setdiff(third$files, of(first, "Ann"))), collapse = " "), "No earlier build")
})

test_that("what a column of another name told is not told to a member of the same text", {
  folder <- withr::local_tempdir()
  orders <- transform(orders_of_reps(c("North", "South")), depot = c("South", "North"))
  build_each(folder, orders)
  report <- recipients_report(folder, transform(orders, amount = amount + 1))
  built <- suppressWarnings(build_report(report, each = "depot", out = folder, formats = "md"))
  for (file in built$files) expect_match(paste(readLines(file), collapse = " "), "No earlier build",
    info = file)
})

test_that("what a report says wrong of its recipients is told with its line, an argument as one", {
  folder <- withr::local_tempdir()
  report <- recipients_report(folder, orders_of_reps(c("Ann", "Ben")))
  lines <- readLines(report)
  for (said in c("{each: rap}", "{each: rep, key: rap}", "{each: rep, at_once: 0}", "{each: rep, keep_builds: 0}",
    "{each: rep, keep_builds: x}", "{each: rep, recipients: [Cal]}", "{each: rep, only: some}")) {
    writeLines(append(lines, paste("deliver:", said), 2L), report)
    expect_raised(build_report(report, out = folder), "standing", "r.yml, line 3")
  }
  writeLines(lines, report)
  expect_raised(build_report(report, out = folder, each = "rep", at_once = 0L), "argument", "`at_once` must be")
  expect_raised(build_report(report, out = folder, each = "rap"), "column", "Did you mean \"rep\"?")
})
