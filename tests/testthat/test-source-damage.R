# Damage that a file of orders may have: an error that says where, never a part of the orders.

damaged <- function(lines, env = parent.frame()) written("id,item,amount", lines, env = env)

hundred <- sprintf("%d,slab %d,%d.50", 1:100, 1:100, 1:100)

test_that("a quote inside a cell that is not quoted is a character", {
  lines <- replace(hundred, c(20, 60), c("20,5\" slab,20.50", "60,3\" x 4\" sett,60.50"))
  orders <- read_orders(damaged(lines))
  expect_identical(nrow(orders), 100L)
  expect_identical(orders$item[c(20L, 60L)], c("5\" slab", "3\" x 4\" sett"))
  expect_identical(sum(orders$amount), sum(1:100 + 0.5))
})

test_that("a quoted cell keeps separators, doubled quotes and line breaks", {
  orders <- read_orders(damaged(c("1,\"slab, 5\"\" wide\",2", "2,\"a note\nover two lines\",3",
    "3,\"x, y\r\nz, w\",4")))
  expect_identical(orders$item, c("slab, 5\" wide", "a note\nover two lines", "x, y\r\nz, w"))
  expect_identical(orders$amount, 2:4)
})

test_that("a quote that runs on is an error that names its line", {
  expect_raised(read_orders(damaged(replace(hundred, 20, "20,\"5 slab,20.50"))),
    "file", "is not closed", "line 21")
  expect_raised(read_orders(damaged(replace(hundred, 20, "20,\"5\" slab\",20.50"))),
    "file", "goes on after", "line 21")
  lines <- replace(hundred, c(20, 60), c("20,\"5 slab,20.50", "60,6\",60.50"))
  expect_raised(read_orders(damaged(lines)), "file", "runs on over lines that look like records", "line 21")
  next_line <- replace(hundred, 20:21, c("20,\"5 slab,20.50", "21,6\",21.50"))
  expect_raised(read_orders(damaged(next_line)), "file", "runs on", "line 21")
})

test_that("a record with other cells than the header is an error, also when they make two records", {
  expect_raised(read_orders(damaged(c("1,a,2", "1,a,2,1,a,2"))), "file", "Line 3 has 6 cells")
  expect_raised(read_orders(damaged(c("1,a,2", "2,b"))), "file", "Line 3 has 2 cells", "cut off")
})

test_that("empty lines, line ends of all kinds and a last line without one change nothing", {
  orders <- read_orders(damaged(hundred))
  attr(orders, "path") <- NULL
  endings <- list("\n", "\r\n", "\r", c("\n\n"), c("\r\n\r\n"))
  for (end in endings) {
    path <- withr::local_tempfile(fileext = ".csv")
    writeBin(charToRaw(paste(c("id,item,amount", hundred), collapse = end)), path)
    read <- read_orders(path)
    expect_match(attr(read, "reading")$told, "no line end", all = FALSE)
    attributes(read)[c("path", "reading")] <- NULL
    expect_identical(read, orders)
  }
})

test_that("the reader gives the cells that a plain reading of each character gives", {
  withr::local_seed(4)
  for (k in 1:60) {
    cells <- matrix(replicate(3L * 12L, paste(sample(c("a", "5\"", ",", "\n", "\u00e9", " "), 3L, TRUE),
      collapse = "")), 12L)
    text_of <- function(x) {
      needs <- grepl("[,\n]|^\"", x)
      if (needs || stats::runif(1L) < 0.3) paste0("\"", gsub("\"", "\"\"", x), "\"") else x
    }
    lines <- apply(cells, 1L, function(row) paste(c("x", vapply(row, text_of, "")), collapse = ","))
    text <- paste(c("k,a,b,c", lines), collapse = "\n")
    path <- written(text)
    rows <- cells_of_text(text)[-1L]
    read <- rlang::try_fetch(read_orders(path), drystack_error_file = function(e) NULL)
    if (is.null(read)) next
    expect_identical(lengths(rows), rep(4L, nrow(read)))
    for (j in 1:4) {
      told <- vapply(rows, `[`, "", j)
      told[!grepl("[^ \n]", told)] <- ""
      expect_identical(ifelse(is.na(read[[j]]), "", as.character(read[[j]])), told)
    }
  }
})

test_that("a compressed file that is cut anywhere is an error", {
  path <- withr::local_tempfile(fileext = ".csv.gz")
  connection <- gzfile(path, "w")
  writeLines(c("id,item,amount", rep(hundred, 50L)), connection)
  close(connection)
  bytes <- readBin(path, "raw", file.size(path))
  for (length in unique(round(seq(12, length(bytes) - 1, length.out = 25L)))) {
    writeBin(bytes[seq_len(length)], path)
    expect_raised(read_orders(path), "file", "cannot be read")
  }
  writeBin(replace(bytes, length(bytes) - 6L, as.raw(7L)), path)
  expect_raised(read_orders(path), "file", "damaged")
})

test_that("zero bytes and other encodings are errors that say so", {
  path <- withr::local_tempfile(fileext = ".csv")
  writeBin(c(charToRaw("a,b\n1,x"), as.raw(0L), charToRaw("\n")), path)
  expect_raised(read_orders(path), "file", "zero bytes", "line 2")
  writeBin(c(as.raw(c(0xff, 0xfe)), as.raw(c(0x61, 0, 0x2c, 0, 0x62, 0))), path)
  expect_raised(read_orders(path), "file", "a header but no records")
  expect_raised(read_orders(written("a,b", "1,caf\xe9", "2,caf\xc3\xa9")), "file", "in parts only", "line 2")
  expect_raised(read_orders(written("a,b", "1,x\x90\xb9\xc9\xdb\xdb\xce")), "file", "not UTF-8", "line 2")
})

test_that("a workbook whose worksheet is cut is an error", {
  skip_if(Sys.which("zip") == "", "zip is not installed")
  folder <- withr::local_tempdir()
  path <- file.path(folder, "orders.xlsx")
  openxlsx::write.xlsx(data.frame(id = 1:50, amount = 1:50 + 0.5), path)
  expect_identical(sum(read_orders(path)$amount), sum(1:50 + 0.5))
  utils::unzip(path, exdir = file.path(folder, "parts"))
  sheet <- file.path(folder, "parts", "xl", "worksheets", "sheet1.xml")
  text <- paste(readLines(sheet, warn = FALSE), collapse = "\n")
  for (part in c(0.3, 0.6, 0.95)) {
    writeLines(substr(text, 1L, round(nchar(text) * part)), sheet)
    cut <- file.path(folder, "cut.xlsx")
    withr::with_dir(file.path(folder, "parts"), utils::zip(cut, ".", flags = "-qr"))
    expect_raised(read_orders(cut), "file", "is cut off")
    unlink(cut)
  }
  bytes <- readBin(path, "raw", file.size(path))
  writeBin(bytes[seq_len(length(bytes) %/% 2L)], path)
  expect_raised(read_orders(path), "file", "cannot be read")
})

test_that("JSON lines that are cut are an error", {
  lines <- sprintf("{\"id\": %d, \"amount\": %d.5}", 1:20, 1:20)
  path <- withr::local_tempfile(fileext = ".jsonl")
  for (drop in c(1L, 5L, 12L)) {
    text <- paste(lines, collapse = "\n")
    writeLines(substr(text, 1L, nchar(text) - drop), path)
    expect_raised(read_orders(path), "file", "not JSON objects", "Line 20")
  }
  writeLines(replace(lines, 3L, "{\"id\": 3}, {\"id\": 4}"), path)
  expect_raised(read_orders(path), "file", "Line 3")
})

test_that("a file that grows while it is read is an error", {
  path <- damaged(hundred)
  states <- list(list(size = file.size(path), time = 1), list(size = file.size(path) + 10, time = 2))
  local_constant("file_state", function(path) {
    state <- states[[1L]]
    states <<- states[-1L]
    state
  })
  expect_raised(read_orders(path), "file", "changed while it was read")
})

test_that("whole numbers that no double holds stay themselves", {
  ids <- c("123456789012345678", "123456789012345679", "123456789012345680")
  texts <- written("on,id,amount", paste("2026-01-05", ids, 1:3, sep = ","))
  objects <- written(sprintf("{\"on\": \"2026-01-05\", \"id\": %s, \"amount\": %d}", ids, 1:3),
    ending = ".jsonl")
  parquet <- withr::local_tempfile(fileext = ".parquet")
  orders <- data.frame(on = as.Date("2026-01-05"), amount = 1:3)
  orders$id <- bit64::as.integer64(ids)
  nanoparquet::write_parquet(orders, parquet)
  for (path in c(texts, objects, parquet)) {
    book <- daybook(read_orders(path), date = on)
    expect_identical(as.data.frame(rollup(book, n = distinct(id)))$n, 3)
    expect_identical(as.data.frame(rollup(book, by = id, s = sum(amount)))$id, ids)
    expect_identical(as.data.frame(rollup(only(book, id == "123456789012345679"), s = sum(amount)))$s, 2)
    expect_identical(as.character(behind(rollup(book, by = id, s = sum(amount)), 3, "s")$id), ids[3L])
    expect_identical(as.data.frame(rollup(book, last = last(id)))$last, ids[3L])
  }
  expect_type(read_orders(written("a", "9007199254740991", "1"))$a, "double")
})
