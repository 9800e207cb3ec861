# What a session has set changes neither a figure nor a word.

stone <- function() {
  orders <- data.frame(
    on = as.Date("2026-01-05") + 0:5, depot = c("IDLE", "Idle", "idle ", "\u00c9lan", "\u00e9lan", NA),
    amount = c(33905.4, 1234.56, -7, 0.1, 12, NA), quantity = 12000L, pence = 250000L
  )
  daybook(orders, date = on)
}

shown_everywhere <- function() {
  book <- stone()
  table <- rollup(
    book |> work_out(place = one_spelling(depot), low = tolower(depot), size = banded(amount, c(0, 1000.5))),
    by = c(place, size), sales = measure(sum(amount), format = money("\u00a3")), n = count(),
    late = only(count(), depot > "\u00c9")
  )
  folder <- withr::local_tempdir()
  files <- file.path(folder, paste0("x.", c("html", "md", "csv", "json", "txt")))
  for (file in files) write_report(table, file)
  c(format(table), unlist(lapply(files, function(file) readBin(file, "raw", 1e6))),
    format(explain(table, 1, "sales")))
}

test_that("no output depends on the options of the session", {
  before <- shown_everywhere()
  withr::local_options(digits = 22, OutDec = ",", scipen = -9)
  expect_identical(shown_everywhere(), before)
})

test_that("no output depends on the locale", {
  before <- shown_everywhere()
  locales <- c("C", "de_DE.UTF-8", "tr_TR.UTF-8")
  for (locale in locales[vapply(locales, has_locale, NA)]) {
    withr::local_locale(LC_CTYPE = locale, LC_COLLATE = locale)
    after <- shown_everywhere()
    expect_identical(enc2utf8(after), enc2utf8(before), label = locale)
  }
})

test_that("the session is as it was after a call, also after one that failed", {
  withr::local_options(digits = 5, OutDec = ",")
  before <- c(Sys.getlocale("LC_CTYPE"), Sys.getlocale("LC_COLLATE"),
    getOption("digits"), getOption("OutDec"))
  rollup(stone(), by = depot, n = count())
  expect_raised(rollup(stone(), by = dpot, n = count()), "column")
  expect_identical(c(Sys.getlocale("LC_CTYPE"), Sys.getlocale("LC_COLLATE"),
    getOption("digits"), getOption("OutDec")), before)
})

test_that("the command line writes UTF-8 without any locale", {
  env <- c("env", "-i", paste0("PATH=", Sys.getenv("PATH")), paste0("R_LIBS=", Sys.getenv("R_LIBS")))
  folder <- withr::local_tempdir()
  program <- launcher(folder)
  report <- file.path(yard_folder(), "monthly.yml")
  build <- function(out, words) {
    dir.create(file.path(folder, out))
    status <- system2(words[1L], c(words[-1L], program, "build", report, "--out", file.path(folder, out),
      "--set", "as_of=2026-08-31", "--format", "html,md,csv,json"), stdout = FALSE, stderr = FALSE)
    expect_identical(status, 0L)
    files <- list.files(file.path(folder, out), full.names = TRUE)
    stats::setNames(unname(tools::md5sum(files)), basename(files))
  }
  plain <- build("plain", "env")
  expect_gt(length(plain), 3L)
  expect_identical(build("none", env), plain)
  expect_identical(build("c", c("env", "LC_ALL=C")), plain)
})

test_that("products of whole numbers do not overflow, and a tie-out of them agrees", {
  x <- rollup(stone(), s = sum(quantity * pence), t = sum(quantity * pence - pence * quantity),
    totals = "grand")
  expect_identical(as.data.frame(x)$s[1L], 6 * 12000 * 250000)
  expect_identical(as.data.frame(x)$t[1L], 0)
  expect_true(all(tie_out(x)$ok %in% c(TRUE, NA)))
})

test_that("comparisons of texts go by code point", {
  book <- stone()
  lines <- function(condition) as.data.frame(rollup(only(book, !!condition), n = count()))$n
  expect_identical(lines(quote(depot < "a")), 2)
  expect_identical(lines(quote(depot > "z")), 2)
  expect_identical(lines(quote(depot >= "Idle" & depot <= "idle ")), 2)
})
