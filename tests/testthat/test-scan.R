# Plain text that is scanned reads as the general reader has it, to the bit, or is left to it.

general <- function(file, reading = new_reading()) delimited_orders(read_bytes(file), file, reading)

# One file of random habits: what most exports have, and now and then what none should.
made_file <- function(file, seed) {
  withr::with_seed(seed, {
    n <- sample(c(1:6, 30, 200), 1L)
    pick <- function(...) sample(c(...), n, TRUE)
    amounts <- sprintf("%.2f", stats::rnorm(n, 0, 500))
    kinds <- list(
      code = function() sample.int(1e6, n, TRUE), cents = function() amounts,
      day = function() format(as.Date("2026-01-01") + sample.int(400L, n, TRUE)),
      word = function() {
        pick("Skelby", "Garrick", "Caf\u00e9", "5\" slab", "a, b", "-", "n/a", "Total Builders")
      },
      mixed = function() pick("1", "2.50", "x", "007", "+3", "1e3", " 4", "TRUE"),
      truth = function() pick("TRUE", "FALSE"), money = function() paste0("\u00a3", amounts),
      longer = function() pick("12345678901234567", "3", "0.1234567890123456"), none = function() rep("", n),
      dates = function() pick("31/08/2026", "01/09/2026"),
      odd_day = function() pick("2026-02-30", "2026-01-01")
    )
    columns <- lapply(kinds[c("code", sample(names(kinds), sample(1:4, 1L)))],
      function(kind) as.character(kind()))
    columns <- lapply(columns, function(column) {
      if (stats::runif(1L) < 0.3) replace(column, sample.int(n, n %/% 5L), "") else column
    })
    separator <- sample(c(",", ";", "\t"), 1L, prob = c(8, 1, 1))
    quoted <- function(x) {
      need <- grepl(paste0("[\"\n", separator, "]"), x) | stats::runif(length(x)) < 0.05
      ifelse(need, paste0("\"", gsub("\"", "\"\"", x), "\""), x)
    }
    names <- make.unique(sample(c("order", "amount", "on", "depot", "Net sales", "month"),
      length(columns), TRUE))
    lines <- c(paste(names, collapse = separator),
      do.call(paste, c(lapply(unname(columns), quoted), list(sep = separator))))
    if (stats::runif(1L) < 0.3) lines <- spoiled_lines(lines, separator, length(columns))
    ending <- sample(c("\n", "\r\n"), 1L, prob = c(4, 1))
    text <- paste0(paste(lines, collapse = ending), if (stats::runif(1L) < 0.8) ending)
    writeBin(charToRaw(paste0(if (stats::runif(1L) < 0.1) "\ufeff", enc2utf8(text))), file)
  })
}

spoiled_lines <- function(lines, separator, width) {
  cells <- function(...) paste(c(..., rep("", width))[seq_len(width)], collapse = separator)
  habit <- sample(8L, 1L)
  at <- sample.int(length(lines), 1L)
  extra <- switch(habit, "", cells("Total", "12.00"), lines[1L], "412 rows", cells(""), cells("5\" x"),
    paste0(lines[at], separator, "more"), cells("\u00a3", "GBP"))
  append(lines, extra, if (habit == 8L) 1L else at)
}

test_that("a scanned file reads as the general reader reads it", {
  file <- withr::local_tempfile(fileext = ".csv")
  scanned <- 0L
  for (seed in seq_len(trials(10000L))) {
    made_file(file, seed)
    ours <- rlang::try_fetch(scanned_orders(file, new_reading()), drystack_error = function(e) "error")
    theirs <- rlang::try_fetch(general(file), drystack_error = function(e) "error")
    if (is.null(ours)) next
    scanned <- scanned + 1L
    expect_identical(if (is.character(ours)) ours else as.data.frame(ours),
      theirs, info = paste("seed", seed))
  }
  expect_gt(scanned, trials(10000L) / 3)
})

test_that("blocks end with a record, whatever stands in quotes", {
  file <- withr::local_tempfile(fileext = ".csv")
  withr::with_seed(4, {
    n <- 120000L
    texts <- sample(c("Skelby", "\"a, \"\"b\"\"\"", "\"\"\"\"", "\"x;y\"", ""), n, TRUE)
    lines <- paste(seq_len(n), texts, format(as.Date("2026-01-01") + sample.int(300L, n, TRUE)),
      sprintf("%.2f", stats::runif(n, 0, 1e5)), sep = ",")
  })
  writeLines(c("order,what,on,amount", lines), file)
  ours <- scanned_orders(file, new_reading())
  expect_s3_class(ours, "drystack_late_columns")
  expect_identical(as.data.frame(ours), general(file))
  for (at in c(2L, 60000L)) {
    writeLines(c("order,what,on,amount", append(lines, "", at)), file)
    expect_identical(as.data.frame(scanned_orders(file, new_reading())), general(file))
  }
  writeLines(c("order,what,on,amount", append(lines, "9,5\" slab,2026-01-01,1", n %/% 2L)), file)
  expect_null(scanned_orders(file, new_reading()))
})

test_that("columns are read when they are needed, and a file that changes is told", {
  file <- withr::local_tempfile(fileext = ".csv")
  writeLines(c("order,depot,on,amount", "1,Skelby,2026-01-01,10", "2,Garrick,2026-01-02,20"), file)
  orders <- orders_as_needed(file, new_reading(), function(names) c("on", "amount"))
  expect_named(orders, c("order", "depot", "on", "amount"))
  expect_setequal(ls(late(orders)$held), c("3", "4"))
  book <- daybook(orders, on)
  expect_identical(plain(rollup(book, month, s = sum(amount)))$s, 30)
  expect_setequal(ls(late(orders)$held), c("3", "4"))
  expect_identical(plain(rollup(only(book, depot == "Skelby"), depot, s = sum(amount)))$s, 10)
  expect_length(ls(late(orders)$held), 4L)
  again <- daybook(orders_as_needed(file, new_reading(), function(names) "on"), on)
  writeLines(c("order,depot,on,amount", "1,Skelby,2026-01-01,10"), file)
  expect_raised(rollup(again, depot, s = sum(amount)), "file", "changed while it was read")
})

test_that("a path in R is read in one pass, but for texts that hardly come back", {
  file <- withr::local_tempfile(fileext = ".csv")
  set.seed(4)
  orders <- data.frame(no = paste0("SO-", 1e5 + seq_len(3000L) %/% 2L), on = as.Date("2026-01-01") + 0:29,
    customer = paste0("C", sample.int(20000L, 3000L, TRUE)), paid = seq_len(3000L) / 4)
  utils::write.csv(orders, file, row.names = FALSE, quote = FALSE)
  held <- function() late(taken)$names[sort(as.integer(ls(late(taken)$held)))]
  taken <- as_orders(file, "on")
  expect_identical(held(), c("on", "customer", "paid"))
  whole <- daybook(orders, on)
  expect_identical(plain(rollup(daybook(file, on), no, s = sum(paid)))$s,
    plain(rollup(whole, no, s = sum(paid)))$s)
  taken <- as_orders(file, "no")
  expect_identical(held(), names(orders))
  # A file of few lines is read whole.
  utils::write.csv(orders[1:1500, ], file, row.names = FALSE, quote = FALSE)
  taken <- as_orders(file, "on")
  expect_identical(held(), names(orders))
})

test_that("a condition on texts is that of each line, missing texts too", {
  file <- withr::local_tempfile(fileext = ".csv")
  orders <- data.frame(on = as.Date("2026-01-01") + 0:5,
    depot = c("Skelby", NA, "Garrick", "Skelby", NA, "Moor"), amount = 1:6)
  utils::write.csv(orders, file, row.names = FALSE, na = "")
  late <- daybook(orders_as_needed(file, new_reading(), names), on)
  whole <- daybook(orders, on)
  for (book in list(late, whole)) {
    expect_identical(plain(rollup(only(book, depot != "Skelby"), s = sum(amount)))$s, 9)
    expect_identical(plain(rollup(only(book, is.na(depot)), s = sum(amount)))$s, 7)
    expect_identical(plain(rollup(work_out(book, big = toupper(depot)), big, n = count()))$big,
      c("GARRICK", "MOOR", "SKELBY", "(none)"))
  }
})
