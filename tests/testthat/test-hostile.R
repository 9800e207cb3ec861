# Files that were made to do harm, and text that would steer a terminal: an answer or
# an error of ours, quickly.

yard_book <- function() {
  path <- withr::local_tempfile(fileext = ".xlsx", .local_envir = parent.frame())
  openxlsx::write.xlsx(data.frame(d = as.Date("2026-01-01") + 0:3, a = c(1, 2, 4, 8)), path)
  path
}

bytes_in <- function(path) readBin(path, "raw", 1e7)

# A part of an archive under another name, of the same length.
renamed_part <- function(bytes, from, to) {
  stopifnot(nchar(from) == nchar(to))
  hex <- paste(bytes, collapse = " ")
  hex <- gsub(paste(charToRaw(from), collapse = " "), paste(charToRaw(to), collapse = " "), hex, fixed = TRUE)
  as.raw(strtoi(strsplit(hex, " ", fixed = TRUE)[[1L]], 16L))
}

test_that("a workbook is held against its check sums, and no part of it leads out of it", {
  path <- yard_book()
  expect_identical(sum(read_orders(path)$a), 15)
  whole <- bytes_in(path)
  writeBin(renamed_part(whole, "xl/styles.xml", "../../../evil"), path)
  expect_raised(read_orders(path), "file", "leads out of it")
  for (cut in c(5L, 100L, length(whole) %/% 2L, length(whole) - 1L)) {
    writeBin(whole[seq_len(cut)], path)
    expect_raised(read_orders(path), "file", "cannot be read")
  }
  withr::local_seed(3)
  # A byte of a part changed: what is read is what was there, or an error.
  for (trial in seq_len(trials(400L))) {
    damaged <- whole
    at <- sample.int(length(damaged), 1L)
    damaged[at] <- xor(damaged[at], as.raw(2^sample(0:7, 1L)))
    writeBin(damaged, path)
    found <- rlang::try_fetch(sum(read_orders(path)$a), drystack_error_file = function(e) 15)
    expect_identical(found, 15, label = paste("byte", at))
  }
})

test_that("a reader that dies, or goes on for ever, is a damaged file", {
  skip_if_not(forks_safely(), "no forking here")
  expect_raised(read_apart(function() tools::pskill(Sys.getpid(), tools::SIGKILL), "x.parquet", 10),
    "file", "it is damaged")
  expect_raised(read_apart(function() stop("words of a package"), "x.parquet", 10), "file", "it is damaged")
  expect_raised(read_apart(function() numeric(3e8), "x.parquet", 10), "file", "it is damaged")
  expect_identical(read_apart(function() data.frame(a = 1), "x.parquet", 10), data.frame(a = 1))
  # Other tests keep files in the same folder; the process stands in their names.
  own_files <- function() list.files(tempdir(), sprintf("^[a-z]+%x", Sys.getpid()))
  files <- own_files()
  try(read_apart(function() tools::pskill(Sys.getpid(), 11L), "x.parquet", 10), silent = TRUE)
  expect_identical(own_files(), files)
})

test_that("only files and pipes are read, each within bounds", {
  skip_on_os("windows")
  expect_raised(read_orders("/dev/zero"), "file", "neither a file nor a pipe")
  folder <- withr::local_tempdir()
  fifo <- file.path(folder, "pipe")
  skip_if(system2("mkfifo", fifo) != 0L)
  local_constant("seconds_for_pipes", 1L)
  expect_raised(read_orders(fifo), "file", "nothing came through it within 1 seconds")
  system(paste("printf 'd,a\\n2026-01-01,5\\n' >", shQuote(fifo)), wait = FALSE)
  expect_identical(read_orders(fifo)$a, 5L)
  many <- file.path(folder, "many.csv")
  writeLines(c("d,a", rep("2026-01-01,1", 6e5)), many)
  packed <- file.path(folder, "many.csv.gz")
  connection <- gzfile(packed, "wb")
  writeBin(readBin(many, "raw", 1e8), connection)
  close(connection)
  withr::local_options(drystack.memory = 8e6)
  expect_raised(read_orders(many), "memory", "too large to be read at once")
  expect_raised(read_orders(packed), "file", "unpacks to more than can be held")
  withr::local_options(drystack.memory = NULL)
  zeros <- file.path(folder, "zeros.csv.gz")
  connection <- gzfile(zeros, "wb")
  writeBin(c(charToRaw("d,a\n2026-01-01,"), rep(charToRaw("1"), 9e7)), connection)
  close(connection)
  expect_raised(read_orders(zeros), "file", "more than 200 times its size")
  writeLines(c(paste(paste0("c", 1:2500), collapse = ","), paste(1:2500, collapse = ",")), many)
  expect_raised(read_orders(many), "file", "2,500 columns; 2,000 are read at most")
})

test_that("reports with anchors, tags, depth or many values are refused where they stand", {
  report <- function(...) {
    path <- withr::local_tempfile(fileext = ".yml", .local_envir = parent.frame(2L))
    writeLines(c("drystack: 1", ...), path)
    path
  }
  expect_raised(read_standing(report("a: &-0 [x]", "b: [*-0]")), "standing", "line 2", "Anchors and aliases")
  expect_raised(read_standing(report("a: x", "b: [*-0]")), "standing", "line 3", "Anchors and aliases")
  expect_raised(read_standing(report("a: !!binary x")), "standing", "line 2", "would be a tag")
  expect_raised(read_standing(report(paste0("a: ", strrep("[", 2000L)))), "standing", "nested too deeply")
  expect_raised(read_standing(report("measures:", sprintf("  m%d: sum(amount)", 1:20000))),
    "standing", "more values than")
  expect_raised(read_standing(report("title: a", "title: b")), "standing", "line 3", "stands twice")
  expect_raised(read_standing(report("? [a, b]", ": c")), "standing", "A key must be one text")
  expect_raised(read_standing(report("title: a", "---", "title: b")), "standing", "line 3", "second document")
  expect_raised(read_standing(report("title: [a", "b: c")), "standing", "It is not YAML")
  read <- kernel_read_yaml(
    "a: [1, 2]\nb: [x, 1]\nc: {d: 007, e: 1.50, f: no, g: true, h: ~, i: '5', j: -1e3, k: 12345678901}\n")
  expect_identical(read$said, list(a = 1:2, b = list("x", 1L), c = list(
    d = "007", e = 1.5, f = "no", g = TRUE, h = NULL, i = "5", j = -1000, k = 12345678901
  )))
})

test_that("what would steer a terminal is shown as an escape, wherever it comes from", {
  odd <- c("\033[31mred", "\u202eabc", "a\rb", "\ufeffx", "\u0085")
  expect_identical(shown_text(odd), c("\\u001b[31mred", "\\u202eabc", "a\\rb", "\\ufeffx", "\\u0085"))
  expect_identical(shown_text(c("plain", NA, "\u00e9\u540d\u200d")), c("plain", NA, "\u00e9\u540d\u200d"))
  for (name in odd) {
    orders <- data.frame(on = as.Date("2026-01-05") + 0:3, k = name, v = 1:4)
    names(orders)[2L] <- name
    book <- daybook(orders, on)
    measures <- stats::setNames(list(said(quote(sum(v)))), name)
    x <- make_table(new_request("rollup", rows = list(said(name)),
      measures = list(s = said(quote(sum(v))))), book)
    y <- make_table(new_request("rollup", measures = measures), book)
    told <- tryCatch(rollup(book, !!as.name(paste0(name, "?"))), error = conditionMessage)
    shown <- c(
      format(x), format(y), format(explain(x, 1)), format(check(book)),
      format(look_at(orders)), format(tie_out(x)), told, utils::capture.output(print(book)),
      format(explain_plan(book, s = sum(v)))
    )
    expect_identical(shown_text(unlist(strsplit(shown, "\n"))),
      unlist(strsplit(shown, "\n")), label = shown_text(name))
    expect_true(any(grepl(shown_text(name), shown, fixed = TRUE)))
  }
})

test_that("hostile labels leave every format well-formed", {
  labels <- c(
    "a&b", "<script>alert(1)</script>", "\"quoted\"", "'", "\033[31m",
    "\u0001", "]]>", "&#x1;", "\ufffe", "=1+1", "\\", "--", "{x}",
    "|pipe|", "`tick`", "\u202e", strrep("w", 300), "a\nb"
  )
  orders <- data.frame(on = as.Date("2026-01-05") + seq_along(labels), k = labels, v = seq_along(labels))
  book <- daybook(orders, on)
  folder <- withr::local_tempdir()
  for (label in c("a & <b>", "\u0001\u202e", "]]>\"'")) {
    x <- rollup(book, k, s = measure(sum(v), label = !!label), totals = "grand")
    at <- function(ending) file.path(folder, paste0("x.", ending))
    write_report(report(title = label, !!label := x, figure(x)), at("xlsx"))
    write_report(report(title = label, x), at("html"))
    write_report(figure(x), at("svg"))
    write_report(x, at("json"))
    write_report(x, at("csv"))
    archive <- bytes_in(at("xlsx"))
    parts <- kernel_zip_parts(archive)$name
    for (place in grep("[.]xml$|[.]rels$", parts)) expect_well_formed(
      rawToChar(kernel_zip_part(archive, place)), parts[place])
    expect_well_formed(paste(readLines(at("svg"), warn = FALSE), collapse = "\n"), "svg")
    expect_no_match(paste(readLines(at("html"), warn = FALSE), collapse = "\n"),
      "<script>alert", fixed = TRUE)
    expect_true(jsonlite::validate(paste(readLines(at("json"), warn = FALSE), collapse = "\n")))
    expect_identical(sort(read_orders(at("csv"))$k, na.last = NA), sort(labels))
  }
})

test_that("what would steer a terminal or break a file is an escape, wherever in a table it stands", {
  odd <- c("a\u001b[31mred", "b\u0007bell", "c\u009bx", "d\u202eright", "e\u000btab", "<i>&\u200f")
  orders <- data.frame(on = as.Date("2026-01-05") + 0:5, who = odd, what = rev(odd), amount = 1:6)
  book <- label_columns(daybook(orders, on), who = "wh\u001bo", what = "wha\u009bt")
  sum_of <- function() quote(measure(sum(amount), label = "s\u001bum\u202e", format = money("\u00a3\u0007")))
  tables <- list(
    crosstab(book, who, what, x = !!sum_of(), n = count(), totals = "all"),
    crosstab(book, month, c(what, who), x = sum(amount), measures_at = "rows"),
    rollup(book, c(what, who), x = !!sum_of(), totals = "all"), headlines(book, x = !!sum_of()),
    listing(book, what, c(who, amount), x = sum(amount)))
  steers <- "[\\x01-\\x08\\x0b-\\x1f\\x7f\u0080-\u009f\u200f\u202a-\u202e]"
  folder <- withr::local_tempdir()
  for (i in seq_along(tables)) {
    drawn <- if (i == 3L) list(figure(tables[[i]]))
    page <- report("ti\u001btle", "te\u202ext", tables[[i]], !!!drawn)
    for (ending in c("txt", "md", "html", "xlsx")) {
      file <- file.path(folder, paste0("x.", ending))
      write_report(if (ending == "txt") tables[[i]] else page, file)
      texts <- file
      if (ending == "xlsx") {
        inner <- withr::local_tempdir()
        utils::unzip(file, exdir = inner)
        texts <- list.files(inner, "xml$|rels$", recursive = TRUE, full.names = TRUE)
        for (part in texts) expect_no_error(xml2::read_xml(part))
      }
      for (text in texts) {
        lines <- paste(readLines(text, warn = FALSE, encoding = "UTF-8"), collapse = "\n")
        expect_no_match(lines, steers, perl = TRUE, info = paste(i, ending, basename(text)))
      }
    }
    expect_no_match(paste(utils::capture.output(print(tables[[i]])), collapse = "\n"), steers, perl = TRUE)
  }
})

test_that("a header that is too wide is told before anything else is worked out", {
  file <- withr::local_tempfile(fileext = ".csv")
  writeLines(c(paste0("c", seq_len(20000L), collapse = ","), strrep("1,", 19999L)), file)
  expect_raised(daybook(file, c1), "file", "20,000 columns; 2,000 are read at most")
})
