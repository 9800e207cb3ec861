# Thirty nights of a made-up yard: recipients that come, go, are renamed or fail, orders that change. Each
# night's pages are held against plain R and against a build from nothing.

night_orders <- function(night, n = 120L) {
  withr::with_seed(night %/% 3L, {
    ids <- c(sprintf("R%02d", 1:9), "\u5c71", "r-01", NA)
    orders <- data.frame(on = as.Date("2026-01-01") + sort(sample(0:80, n, TRUE)), id = sample(ids, n, TRUE),
      amount = sample(1:10000, n), code = seq_len(n))
  })
  names <- c(R01 = "Ann", R02 = "Ann", R03 = if (night > 4L) "Bea Lund" else "Bea", R04 = "J. Smith",
    R05 = "J Smith")
  orders$who <- ifelse(orders$id %in% names(names), names[orders$id], orders$id)
  # The first and the last order are always there. Some change in one line, some have left or come.
  orders[c(1L, n), c("id", "who")] <- list("R01", "Ann")
  orders$on[n] <- as.Date("2026-03-25")
  orders$amount[5L] <- orders$amount[5L] + night
  if (night %% 5L == 4L) orders <- orders[!orders$id %in% "R06", ]
  if (night < 7L) orders <- orders[!orders$id %in% "R09", ]
  orders
}

night_report <- function(folder, deliver, extra = character()) {
  file <- file.path(folder, "r.yml")
  writeLines(c("drystack: 1", "title: Sales", "orders: {file: orders.csv, date: 'on'}", "as_of: 2026-04-30",
    "measures: {s: sum(amount), n: count()}", paste0("deliver: {", deliver, "}"), extra, "page:",
    "- rollup: {by: month, show: [s, n], totals: grand}"), file)
  file
}

night_build <- function(folder, orders, ..., out = folder, extra = character()) {
  utils::write.csv(orders, file.path(folder, "orders.csv"), row.names = FALSE, na = "",
    fileEncoding = "UTF-8")
  build_report(night_report(folder, "each: who, key: id, only: changed", extra), out = out, formats = "txt",
    ...,
    today = "2026-05-01")
}

manifest_of <- function(folder) {
  jsonlite::fromJSON(file.path(folder, "r.manifest.json"), simplifyVector = FALSE)
}

test_that("night after night each page has the figures of its own, and only what changed is written", {
  folder <- withr::local_tempdir()
  before <- list()
  for (night in seq_len(max(6L, trials(120L)))) {
    orders <- night_orders(night)
    stood <- file.info(list.files(folder, "txt$", full.names = TRUE))["mtime"]
    built <- night_build(folder, orders, at_once = if (night %% 2L == 0L) 2L else 1L)
    manifest <- manifest_of(folder)
    keys <- vapply(manifest$pages, `[[`, "", "key")
    own <- orders[!is.na(orders$id), ]
    expect_setequal(keys, unique(own$id))
    sums <- tapply(own$amount, own$id, sum)
    files <- vapply(manifest$pages, function(page) page$files[[1L]]$file, "")
    expect_length(unique(tolower(files)), length(files))
    for (i in seq_along(keys)) {
      page <- manifest$pages[[i]]
      expect_equal(c(page$amount, page$lines), c(sums[[keys[i]]], sum(own$id == keys[i])))
      text <- paste(readLines(file.path(folder, files[i]), encoding = "UTF-8"), collapse = "\n")
      expect_match(text, paste0("Total +", format(sums[[keys[i]]], big.mark = ","), " "))
      expect_match(text, page$name, fixed = TRUE)
      expect_identical(page$files[[1L]]$sum, unname(tools::md5sum(file.path(folder, files[i]))))
    }
    # A key keeps its file; what is as it was is not touched.
    known <- intersect(keys, names(before))
    expect_identical(files[match(known, keys)], as.character(unlist(before[known], use.names = FALSE)))
    left <- files[!vapply(manifest$pages, `[[`, NA, "changed")]
    expect_identical(file.info(file.path(folder, left))$mtime, stood[file.path(folder, left), "mtime"])
    if (night %% 3L != 0L && night > 1L) expect_gt(length(left), 5L)
    if (night %% 5L == 4L) expect_match(built$told,
      "no page was built for R06, without orders now: r-r06.txt",
      all = FALSE)
    # From nothing the same pages come.
    fresh <- withr::local_tempdir()
    night_build(folder, orders, out = fresh)
    for (i in seq_along(keys)) {
      there <- Filter(function(page) page$key == keys[i], manifest_of(fresh)$pages)[[1L]]
      expect_identical(readLines(file.path(fresh, there$files[[1L]]$file)),
        readLines(file.path(folder, files[i])))
    }
    before[keys] <- files
    nobody <- orders[is.na(orders$id), ]
    expect_equal(unlist(manifest$without_recipient, use.names = FALSE), c(nrow(nobody), sum(nobody$amount)))
    expect_match(built$told, "no id", all = FALSE)
  }
})

test_that("one that fails is named; the others are written where that is asked for, else none is", {
  folder <- withr::local_tempdir()
  orders <- night_orders(8L)
  orders$amount[orders$id %in% "R04"] <- -5
  expect <- "expect: {s: '> 0'}"
  expect_raised(night_build(folder, orders, strict = TRUE, extra = expect), "standing",
    "the page of J. Smith (R04)")
  expect_length(list.files(folder, "txt$"), 0L)
  built <- suppressWarnings(night_build(folder, orders, strict = TRUE, extra = expect, keep_going = TRUE))
  expect_identical(built$failures[[1L]][c("key", "name")], list(key = "R04", name = "J. Smith"))
  expect_match(built$failures[[1L]]$why, "expects is not met")
  expect_false(any(grepl("r04", list.files(folder, "txt$"))))
  expect_length(built$failures, 1L)
  expect_match(format(built), "failed: J. Smith \\(R04\\)", all = FALSE)
  # Without strict it is told, by name; a program sees 3 where some failed.
  built <- night_build(folder, orders, extra = expect)
  expect_match(built$warnings, "^J. Smith: s is", all = FALSE)
  run <- drystack("build", file.path(folder, "r.yml"), "--out", withr::local_tempdir(), "--strict",
    "--keep-going",
    "--format", "txt", "--log", "json")
  expect_identical(run$status, 3L)
  events <- lapply(strsplit(run$err, "(?<=[}]) (?=[{])", perl = TRUE)[[1L]], jsonlite::fromJSON)
  expect_identical(sum(vapply(events, `[[`, "", "event") == "failed"), 1L)
  expect_identical(events[[length(events)]]$failed, 1L)
})

test_that("some recipients are built, and a misspelt one is an error that offers the nearest", {
  folder <- withr::local_tempdir()
  orders <- night_orders(8L)
  built <- night_build(folder, orders, recipients = c("Bea Lund", "R01"))
  expect_setequal(basename(built$files), c("r-r03.txt", "r-r01.txt"))
  expect_raised(night_build(folder, orders, recipients = "Bea Lnd"), "argument", "Bea Lund")
  expect_raised(night_build(folder, orders, recipients = character()), "argument", "nobody")
  expect_raised(night_build(folder, transform(orders, id = NA)), "standing", "nobody")
  # The pages of the others go on standing as they were, known to the next build.
  night_build(folder, orders)
  night_build(folder, orders, recipients = "R02", set = list(as_of = "2026-04-29"))
  expect_true(all(c("R01", "R03") %in% vapply(manifest_of(folder)$pages, `[[`, "", "key")))
  built <- night_build(folder, orders)
  expect_identical(basename(setdiff(built$files, built$unchanged)), "r-r02.txt")
  expect_raised(build_report(night_report(folder, "recipients: [Ann]"), out = folder), "argument",
    "members of a column")
})

test_that("the manifest is of the form of its schema", {
  folder <- withr::local_tempdir()
  suppressWarnings(night_build(folder, transform(night_orders(8L), amount = ifelse(id %in% "R04", -5,
    amount)),
    strict = TRUE, keep_going = TRUE, extra = "expect: {s: '> 0'}"))
  schema <- jsonlite::fromJSON(system.file("standing", "manifest.schema.json", package = "drystack"),
    simplifyVector = FALSE)
  holds <- function(value, form, at) {
    if (!is.null(form[["$ref"]])) form <- schema[["$defs"]][[basename(form[["$ref"]])]]
    kind <- if (is.null(value)) "null" else if (is.list(value)) {
      if (is.null(names(value))) "array" else "object"
    } else switch(typeof(value), character = "string", logical = "boolean", "number")
    if (!is.null(form$type)) expect_true(kind %in% unlist(form$type), label = paste(at, kind))
    if (!is.null(form$const)) expect_identical(value, form$const)
    if (kind == "object") {
      expect_setequal(names(value), unlist(form$required))
      for (name in names(value)) holds(value[[name]], form$properties[[name]], paste0(at, "/", name))
    }
    if (kind == "array") for (one in value) holds(one, form$items, at)
  }
  manifest <- manifest_of(folder)
  expect_length(manifest$failures, 1L)
  holds(manifest, schema, "")
})
