# Parts worked on in processes of their own give what parts worked on here give, and row groups of a
# Parquet file are parts.

apart_orders <- function(n, seed = 5) {
  withr::with_seed(seed, data.frame(
    order = seq_len(n), on = as.Date("2024-01-01") + sample.int(700L, n, TRUE),
    depot = sample(c("Skelby", "SKELBY", "Garrick", NA), n, TRUE), region = sample(letters[1:5], n, TRUE),
    amount = round(stats::runif(n, -50, 500), 2), size = round(1000 * stats::rnorm(n), 5),
    code = sprintf("%06d", sample.int(n, n, TRUE))
  ))
}

in_row_groups <- function(orders, file, rows) {
  options <- nanoparquet::parquet_options(num_rows_per_row_group = rows)
  nanoparquet::write_parquet(orders, file, options = options)
}

asks_of_parts <- list(
  function(book) rollup(book, c(region, quarter), s = sum(amount), y = ytd(s), z = sum(size), totals = "all"),
  function(book) rollup(only(book, amount > 0, region != "b"), month, n = count(), l = last(order)),
  function(book) rollup(book, region, d = distinct(code), m = median(amount), v = sd(amount), x = max(size)),
  function(book) {
    spelt <- work_out(book, d = one_spelling(depot),
      e = regroup(region, north = c("a", "b"), rest = c("c", "d")))
    crosstab(only(spelt, one_spelling(depot) != "Garrick"), d, e, s = sum(amount))
  },
  function(book) listing(within_dates(book, "2024-02-01", "2024-02-01"), region, c(on, code), s = sum(amount))
)

expect_same_in_parts <- function(book, whole) {
  for (ask in asks_of_parts) {
    tables <- list(ask(book), ask(whole))
    expect_identical(as.data.frame(tables[[1L]]), as.data.frame(tables[[2L]]))
    expect_identical(all_notes(tables[[1L]]), all_notes(tables[[2L]]))
  }
}

# A daybook of the files in a folder that writes down which process reads a part.
watched_book <- function(folder, seen) {
  described <- orders_in_parts(folder, new_reading(), identity)
  parts <- lapply(unclass(described)[[1L]]$parts, function(part) {
    read <- part$read
    part$read <- function(...) {
      cat(Sys.getpid(), file = seen, sep = "\n", append = TRUE)
      read(...)
    }
    part
  })
  daybook(new_orders_in_parts(names(described), parts, folder, names(described),
    new_reading(), NULL), on)
}

test_that("parts in processes of their own give what parts here and orders in memory give", {
  skip_on_os(c("windows", "mac"))
  orders <- apart_orders(2400L)
  folder <- withr::local_tempdir()
  for (i in 1:6) {
    utils::write.csv(orders[400L * i - 0:399, ], file.path(folder, paste0(i, ".csv")), row.names = FALSE)
  }
  whole <- daybook(folder, on)
  withr::local_options(drystack.memory = 1.6e6, drystack.threads = 2L)
  seen <- withr::local_tempfile()
  readers <- function() setdiff(unique(readLines(seen)), as.character(Sys.getpid()))
  expect_same_in_parts(watched_book(folder, seen), whole)
  expect_gt(length(readers()), 10L)
  withr::local_options(drystack.threads = 1L)
  unlink(seen)
  expect_same_in_parts(watched_book(folder, seen), whole)
  expect_length(readers(), 0L)
})

test_that("what only all parts can settle is settled where parts are read apart", {
  folder <- withr::local_tempdir()
  withr::local_options(drystack.memory = 65536, drystack.threads = 2L)
  for (i in 1:4) {
    days <- c(sprintf("%02d/02/2026", 1:12), if (i == 3L) "13/02/2026")
    writeLines(c("on,code,v", paste0(days, if (i < 4L) ",1" else ",x", ",", seq_along(days))),
      file.path(folder, paste0(i, ".csv")))
  }
  table <- rollup(daybook(folder, on), c(month, code), s = sum(v))
  expect_identical(plain(table)$code, c("1", "x"))
  expect_identical(plain(table)$s, c(78 * 3 + 13, 78))
  expect_match(all_notes(table), "read as day, month, year", all = FALSE)
})

test_that("the row groups of one Parquet file that is too large are parts of it", {
  orders <- apart_orders(12000L)
  orders$size <- orders$size * 10^withr::with_seed(1, sample(-250:250, 12000L, TRUE))
  file <- withr::local_tempfile(fileext = ".parquet")
  in_row_groups(orders, file, 420L)
  whole <- daybook(file, on)
  expect_s3_class(engine_of(whole), "drystack_frame")
  withr::local_options(drystack.memory = 6e5, drystack.threads = 2L)
  book <- daybook(file, on)
  expect_s3_class(engine_of(book), "drystack_parts")
  expect_gt(length(engine_of(book)$parts), 5L)
  expect_identical(book$rows, 12000)
  expect_same_in_parts(book, daybook(orders, on))
})

test_that("a Parquet file says its columns and rows, or that it is damaged", {
  file <- withr::local_tempfile(fileext = ".parquet")
  in_row_groups(apart_orders(1000L), file, 300L)
  facts <- parquet_facts(file)
  expect_identical(facts$names, names(apart_orders(1L)))
  expect_identical(facts$rows, c(300, 300, 300, 100))
  expect_identical(facts$names[facts$doubles], c("amount", "size"))
  bytes <- readBin(file, "raw", file.size(file))
  n <- length(bytes)
  for (damaged in list(raw(), bytes[1:8], bytes[-n], bytes[-(20:60)], c(bytes[1:(n - 8L)], as.raw(c(255, 255,
    255, 127)), charToRaw("PAR1")), c(bytes[1:(n - 8L)], as.raw(c(9, 0, 0, 0)), charToRaw("PAR1")))) {
    writeBin(damaged, file)
    expect_raised(daybook(file, on), "file", "cannot be read")
  }
})

test_that("a damaged part is named, and the processes of the others end", {
  folder <- withr::local_tempdir()
  withr::local_options(drystack.memory = 4e6, drystack.threads = 2L)
  for (i in 1:5) in_row_groups(apart_orders(3000L, i), file.path(folder, paste0(i, ".parquet")), 3000L)
  bad <- file.path(folder, "4.parquet")
  bytes <- readBin(bad, "raw", file.size(bad))
  bytes[200:(length(bytes) - 4000L)] <- as.raw(255)
  writeBin(bytes, bad)
  expect_raised(rollup(daybook(folder, on), region, s = sum(amount), d = distinct(code)), "file", "4.parquet")
  expect_length(parallel:::children(), 0L)
})

test_that("states handed from one process to another are those that were handed over", {
  states <- function(x, state) {
    kernel_given_states(state, 2L, 1L, c(1L, 2L), x)
  }
  for (state in c("count", "extremes")) {
    given <- states(list(c(1, 2.5), c(3, 4)), state)
    packed <- kernel_pack_states(given)
    expect_identical(packed$name, state)
    again <- kernel_unpack_states(packed$name, packed$bytes)
    figure <- c(count = "count", extremes = "greatest")[[state]]
    expect_identical(kernel_finish(again, figure), kernel_finish(given, figure))
    expect_error(kernel_unpack_states(packed$name, packed$bytes[-1L]), "another size|too soon")
  }
  expect_error(kernel_unpack_states("other", raw()), "unknown kind")
})

test_that("Parquet files that change under an open daybook are an error, not figures of two files", {
  folder <- withr::local_tempdir()
  files <- file.path(folder, paste0(1:3, ".parquet"))
  for (i in 1:3) in_row_groups(apart_orders(500L, i), files[i], 100L)
  withr::local_options(drystack.memory = 1e6, drystack.threads = 2L)
  book <- daybook(folder, on)
  in_row_groups(apart_orders(600L, 4L), files[2L], 100L)
  expect_raised(rollup(book, region, s = sum(amount), m = median(size)), "file", "2.parquet", "changed")
  expect_raised(rollup(book, region, s = sum(amount)), "file", "2.parquet", "changed")
})

test_that("work in processes gives what it gave in order, and raises what it raised", {
  took <- list()
  in_processes(5L, 2L, function(i) Sys.sleep(0.05 * (5 - i)) %||% (i * 10), function(gave, i) {
    took[[i]] <<- gave
  }, function(i) stop("died"))
  expect_identical(unlist(took), c(10, 20, 30, 40, 50))
  expect_error(in_processes(3L, 2L, function(i) if (i == 2L) stop("odd text") else i, function(gave, i) NULL,
    function(i) stop("died")), "odd text")
  expect_raised(in_processes(2L, 2L, function(i) raise("amount", "No amount."), function(gave, i) NULL,
    function(i) stop("died")), "amount", "No amount")
  expect_error(in_processes(2L, 2L, function(i) if (i == 2L) kernel_end_process(Sys.getpid()) else i,
    function(gave, i) NULL, function(i) stop("died ", i)), "died 2")
  expect_length(parallel:::children(), 0L)
  expect_false(is_apart())
})

test_that("a good Parquet file is read however little memory is allowed for asks", {
  folder <- withr::local_tempdir()
  orders <- data.frame(on = as.Date("2024-02-29"), r = "a", v = 1.5)
  for (i in 1:2) nanoparquet::write_parquet(orders, file.path(folder, paste0(i, ".parquet")))
  withr::local_options(drystack.memory = 1e5, drystack.threads = 2L)
  expect_identical(plain(rollup(daybook(folder, on), r, s = sum(v)))$s, 3)
})
