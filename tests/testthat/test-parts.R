# Orders in parts: files that make one set of orders, and a file cut where records end.

orders_of_parts <- function(n) {
  withr::with_seed(3, data.frame(
    order = seq_len(n), on = as.Date("2024-01-01") + sample.int(700L, n, TRUE),
    depot = sample(c("Skelby", "Garrick", NA), n, TRUE), amount = round(stats::runif(n, -50, 500), 2),
    code = sprintf("%06d", sample.int(999999L, n, TRUE))
  ))
}

written <- function(orders, file) utils::write.csv(orders, file, row.names = FALSE, na = "", quote = FALSE)

test_that("a file larger than may be read at once is cut, and loses and doubles no line", {
  withr::local_options(drystack.memory = 2e6)
  file <- withr::local_tempfile(fileext = ".csv")
  orders <- orders_of_parts(15000L)
  written(orders, file)
  expect_gt(file.size(file), most_bytes())
  book <- daybook(file, on)
  expect_s3_class(engine_of(book), "drystack_parts")
  expect_gt(length(engine_of(book)$parts), 8L)
  expect_identical(book$rows, 15000)
  whole <- daybook(orders, on)
  for (ask in list(
    function(book) rollup(book, c(depot, quarter), s = sum(amount), y = ytd(s), totals = "all"),
    function(book) rollup(only(book, amount > 0, depot != "Skelby"), month, n = count(), l = last(order)),
    function(book) rollup(book, depot, d = distinct(code), m = median(amount), q = quantile(amount, 0.9)),
    function(book) {
      listing(within_dates(book, "2024-02-01", "2024-02-02"), depot, c(on, code), s = sum(amount))
    }
  )) {
    tables <- list(ask(book), ask(whole))
    expect_identical(as.data.frame(tables[[1L]]), as.data.frame(tables[[2L]]))
    expect_identical(all_notes(tables[[1L]]), all_notes(tables[[2L]]))
  }
  table <- rollup(book, depot, s = sum(amount), totals = "grand")
  expect_true(all(tie_out(table)$ok, na.rm = TRUE))
  expect_identical(behind(table, 1L)$order, behind(rollup(whole, depot, s = sum(amount)), 1L)$order)
  expect_raised(read_orders(file), "memory", "too large to be read at once")
})

test_that("a column that is numbers in one part and texts in another is texts in all", {
  folder <- withr::local_tempdir()
  written(data.frame(on = "2026-01-01", code = c("12", "7"), v = 1:2), file.path(folder, "a.csv"))
  written(data.frame(on = "2026-01-02", code = c("007", "x"), v = 3:4), file.path(folder, "b.csv"))
  book <- daybook(folder, on)
  table <- plain(rollup(book, code, s = sum(v)))
  expect_identical(table$code, c("007", "12", "7", "x"))
  expect_identical(table$s, c(3, 1, 2, 4))
})

test_that("texts are those of the file however it is read, numbers of other files beside them too", {
  folder <- withr::local_tempdir()
  packed <- gzfile(file.path(folder, "a.csv.gz"), "w")
  writeLines(c("on,code,v", "2026-01-01,1.50,1", "2026-01-01,,2"), packed)
  close(packed)
  written(data.frame(on = "2026-01-02", code = "x", v = 4), file.path(folder, "b.csv"))
  nanoparquet::write_parquet(data.frame(on = as.Date("2026-01-02"), code = c(2.5, NA), v = c(8, 16)),
    file.path(folder, "c.parquet"))
  table <- plain(rollup(daybook(folder, on), code, s = sum(v)))
  expect_identical(table$code, c("1.50", "2.5", "x", "(none)"))
  expect_identical(table$s, c(1, 8, 4, 18))
})

test_that("files that do not belong together, or are damaged, are named", {
  folder <- withr::local_tempdir()
  written(data.frame(on = "2026-01-01", v = 1), file.path(folder, "a.csv"))
  written(data.frame(on = "2026-01-02", w = 2), file.path(folder, "b.csv"))
  expect_raised(daybook(folder, on), "column", "do not have the same columns", "b.csv", "lacks \"v\"")
  expect_raised(daybook(file.path(folder, "*.parquet"), on), "file", "No file of orders matches")
  nanoparquet::write_parquet(data.frame(on = as.Date("2026-01-01"), v = 1), file.path(folder, "p1.parquet"))
  bytes <- readBin(file.path(folder, "p1.parquet"), "raw", 1e5)
  writeBin(bytes[seq_len(length(bytes) - 20L)], file.path(folder, "p2.parquet"))
  expect_raised(daybook(file.path(folder, "*.parquet"), on), "file", "p2.parquet", "cannot be read")
  both <- withr::local_tempdir()
  for (name in c("a.csv", "b.csv")) written(data.frame(on = "2026-01-01", v = 1), file.path(both, name))
  triple <- function(x) 3 * x
  expect_raised(work_out(daybook(both, on), x = custom(triple, v)), "engine", "not in memory")
})

test_that("the program takes a folder or a pattern of files", {
  folder <- withr::local_tempdir()
  orders <- orders_of_parts(400L)
  written(orders[1:150, ], file.path(folder, "2026-01.csv"))
  written(orders[151:400, ], file.path(folder, "2026-02.csv"))
  out <- drystack("rollup", "--orders", file.path(folder, "*.csv"), "--date", "on", "--by", "depot",
    "--show", "n = count()")
  expect_identical(out$status, 0L)
  counts <- table(ifelse(is.na(orders$depot), "(none)", orders$depot))
  for (depot in names(counts)) expect_match(out$out, paste0("^", gsub("([()])", "\\\\\\1", depot), " +",
    counts[[depot]], "$"), all = FALSE)
})

test_that("a standing report reads several files, is saved as such, and names one key", {
  folder <- withr::local_tempdir()
  dir.create(file.path(folder, "orders"))
  orders <- orders_of_parts(300L)
  written(orders[1:100, ], file.path(folder, "orders", "1.csv"))
  written(orders[101:300, ], file.path(folder, "orders", "2.csv"))
  table <- rollup(daybook(file.path(folder, "orders", "*.csv"), on), depot, n = count())
  file <- file.path(folder, "many.yml")
  as_standing(table, file)
  expect_match(readLines(file), "files: \"orders/[*].csv\"", all = FALSE)
  built <- build_report(file, out = file.path(folder, "out"), formats = "csv")
  expect_identical(utils::read.csv(built$files[grepl("csv$", built$files)])$n, as.integer(plain(table)$n))
  written(orders[1:99, ], file.path(folder, "orders", "1.csv"))
  again <- build_report(file, out = file.path(folder, "out"), formats = "csv")
  expect_identical(sum(utils::read.csv(again$files[grepl("csv$", again$files)])$n), 299L)
  writeLines(sub("  files:.*", "  undated: x", readLines(file)), file)
  expect_raised(build_report(file, out = file.path(folder, "out")), "standing",
    "\"file\", \"files\" and \"database\"")
})

test_that("what an ask needs is all that is read, in one pass where it cannot stay in memory", {
  # One thread: in processes of its own the reading would not be seen here.
  withr::local_options(drystack.memory = 6400, drystack.threads = 1L)
  folder <- withr::local_tempdir()
  orders <- orders_of_parts(90L)
  for (i in 1:3) written(orders[30L * i - 0:29, ], file.path(folder, paste0(i, ".csv")))
  described <- orders_in_parts(folder, new_reading(), function(names) c("depot", "amount"))
  passes <- list()
  parts <- unclass(described)[[1L]]$parts
  watched <- lapply(parts, function(part) {
    read <- part$read
    part$read <- function(names, text) {
      passes[[length(passes) + 1L]] <<- names
      read(names, text)
    }
    part
  })
  book <- daybook(new_orders_in_parts(names(described), watched, folder, c("depot", "amount"),
    new_reading(), NULL), on)
  book <- only(book, amount > 0)
  passes <- list()
  table <- rollup(book, depot, s = sum(amount), totals = "grand")
  format(table)
  expect_length(passes, 3L)
  expect_setequal(unlist(passes), c("on", "depot", "amount"))
  withr::local_options(drystack.memory = 4e9)
  again <- only(daybook(new_orders_in_parts(names(described), watched, folder, c("depot", "amount"),
    new_reading(), NULL), on),
    amount > 0)
  passes <- list()
  expect_identical(plain(rollup(again, depot, s = sum(amount), totals = "grand")), plain(table))
  expect_length(passes, 0L)
  expect_equal(plain(table)$s[plain(table)$.role == "total"], sum(orders$amount[orders$amount > 0]))
})

test_that("work over parts tells how far it is", {
  folder <- withr::local_tempdir()
  for (i in 1:4) written(orders_of_parts(20L), file.path(folder, paste0(i, ".csv")))
  told <- numeric()
  withr::local_options(drystack.progress = function(part) told <<- c(told, part), drystack.progress_after = 0)
  daybook(folder, on)
  expect_identical(told, 1:4 / 4)
})

test_that("dates in text are settled by all files together", {
  folder <- withr::local_tempdir()
  written(data.frame(on = c("01/02/2026", "03/04/2026"), v = 1:2), file.path(folder, "a.csv"))
  written(data.frame(on = c("13/02/2026", "05/04/2026"), v = 3:4), file.path(folder, "b.csv"))
  book <- daybook(folder, on)
  table <- rollup(book, month, s = sum(v))
  expect_identical(plain(table)$s, c(4, 0, 6))
  expect_match(all_notes(table), "read as day, month, year, as \"13/02/2026\" says", all = FALSE)
})

test_that("labels are spelt as most order lines of all parts spell them", {
  folder <- withr::local_tempdir()
  orders <- data.frame(on = "2026-01-05", depot = c("Skelby", "Skelby", "SKELBY", "x", "SKELBY", "SKELBY",
    "Skelby", "Skelby"),
    v = 1:8)
  utils::write.csv(orders[1:4, ], file.path(folder, "a.csv"), row.names = FALSE)
  utils::write.csv(orders[5:8, ], file.path(folder, "b.csv"), row.names = FALSE)
  spelt <- function(orders) {
    book <- work_out(daybook(orders, date = on), d = one_spelling(depot))
    as.data.frame(rollup(only(book, one_spelling(depot) != "x"), by = d, s = sum(v)))
  }
  expect_identical(spelt(file.path(folder, "*.csv")), spelt(orders))
  expect_identical(spelt(orders)$d, "Skelby")
})

test_that("files without a row among others add none, and alone are no orders", {
  folder <- withr::local_tempdir()
  orders <- data.frame(on = as.Date("2026-01-05") + 0:2, depot = c("Skelby", "Garrick", NA), v = c(1, 2, 4))
  put <- function(name, rows) nanoparquet::write_parquet(orders[rows, ], file.path(folder, name))
  for (name in c("a.parquet", "c.parquet")) put(name, 0L)
  path <- file.path(folder, "*.parquet")
  expect_raised(daybook(path, date = on), "orders", "have no rows")
  put("b.parquet", 1:3)
  expect_identical(as.data.frame(rollup(daybook(path, date = on), by = depot, s = sum(v), n = count())),
    as.data.frame(rollup(daybook(orders, date = on), by = depot, s = sum(v), n = count())))
})
