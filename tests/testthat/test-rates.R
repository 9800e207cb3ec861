# Amounts in another currency by the rates of their days, against sums worked out line by line.

rate_table <- function() {
  data.frame(
    currency = rep(c("GBP", "USD"), each = 4L),
    date = rep(as.Date(c("2025-01-05", "2025-02-15", "2025-04-01", "2025-05-20")), 2L),
    rate = c(1.19, 1.2, 1.18, 1.17, 0.92, 0.9, 0.91, 0.89)
  )
}

orders_of_currencies <- function(n = 300L) {
  set.seed(7L)
  data.frame(
    on = as.Date("2025-01-01") + sort(sample.int(200L, n, TRUE)),
    ccy = sample(c("GBP", "EUR", "USD"), n, TRUE),
    net = round(stats::runif(n, 1, 500), 2)
  )
}

# What one unit of each currency is worth in EUR on each day, NA before the first rate.
worth_of <- function(ccy, days, rates = rate_table()) {
  mapply(function(code, day) {
    own <- rates[rates$currency == code & rates$date <= day, ]
    if (code == "EUR") 1 else if (nrow(own) == 0L) NA else own$rate[which.max(own$date)]
  }, ccy, days)
}

by_month <- function(orders, worth) {
  known <- !is.na(worth)
  c(tapply(ifelse(known, orders$net * worth, 0), format(orders$on, "%Y-%m"), sum))
}

test_that("amounts in a currency are those of the rate of each order's day, on every engine", {
  orders <- orders_of_currencies()
  in_euro <- by_month(orders, worth_of(orders$ccy, orders$on))
  in_dollars <- by_month(orders, ifelse(orders$ccy == "USD", 1,
    worth_of(orders$ccy, orders$on) / worth_of(rep("USD", 300L), orders$on)))
  ends <- as.Date(vapply(split(seq(as.Date("2025-01-01"), as.Date("2025-12-31"), 1),
    format(seq(as.Date("2025-01-01"), as.Date("2025-12-31"), 1), "%Y-%m")),
    function(d) format(max(d)), ""))
  at_ends <- by_month(orders, worth_of(orders$ccy, ends[format(orders$on, "%Y-%m")]))
  path <- withr::local_tempfile(fileext = ".csv")
  utils::write.csv(transform(orders, on = format(on, "%d/%m/%Y")), path, row.names = FALSE)
  con <- DBI::dbConnect(RSQLite::SQLite(), ":memory:")
  withr::defer(DBI::dbDisconnect(con))
  DBI::dbWriteTable(con, "o", transform(orders, on = format(on)))
  folder <- withr::local_tempdir()
  for (part in 0:2) utils::write.csv(orders[seq_len(300L) %% 3L == part, ],
    file.path(folder, paste0(part, ".csv")),
    row.names = FALSE)
  for (source in list(orders, path, orders_in(con, "o"), folder)) {
    book <- daybook(source, on, currency = ccy, rates = rate_table())
    made <- as.data.frame(rollup(book, by = month, euro = sum(in_currency(net, "EUR")),
      dollars = sum(in_currency(net, "USD")), ends = sum(
        in_currency(net, "EUR", at = "month end"))))
    expect_equal(made$euro, unname(in_euro), tolerance = 1e-12)
    expect_equal(made$dollars, unname(in_dollars), tolerance = 1e-12)
    expect_equal(made$ends, unname(at_ends), tolerance = 1e-12)
  }
})

test_that("explain() names the rates in force on the days of a figure", {
  book <- daybook(orders_of_currencies(), on, currency = ccy, rates = rate_table())
  table <- rollup(book, by = month, s = sum(in_currency(net, "EUR")))
  told <- paste(format(explain(table, row = 2L, measure = "s"), width = 200L), collapse = " ")
  expect_match(told, "GBP 1.19 from 5 January 2025 on, 1.2 from 15 February 2025 on; USD 0.92",
    fixed = TRUE)
  whole <- explain(rollup(book, s = sum(in_currency(net, "EUR"))), row = 1L)
  expect_match(paste(format(whole, width = 200L), collapse = " "),
    "GBP 1.19 from 5 January 2025 on, 1.2 from")
})

test_that("days before the first rate are unknown, counted and named; nothing is added as it stands", {
  book <- daybook(orders_of_currencies(), on, currency = ccy, rates = rate_table())
  told <- paste(format(rollup(book, by = ccy, s = sum(in_currency(net, "EUR")))), collapse = " ")
  expect_match(told, "is unknown on [0-9]+ lines")
  expect_match(told, "have no match \\(\"2025-01-0[12]\"")
  expect_no_match(told, "added together")
})

test_that("rates are said on the command line and in reports as in R", {
  folder <- withr::local_tempdir()
  orders <- orders_of_currencies()
  withr::local_dir(folder)
  utils::write.csv(orders, "o.csv", row.names = FALSE)
  utils::write.csv(rate_table(), "rates.csv", row.names = FALSE)
  truth <- sum(by_month(orders, worth_of(orders$ccy, orders$on)))
  book <- daybook(read_orders("o.csv"), on, currency = ccy, rates = "rates.csv")
  table <- rollup(book, s = sum(in_currency(net, "EUR")))
  expect_equal(as.data.frame(table)$s, truth, tolerance = 1e-12)
  told <- utils::capture.output(status <- run_command(
    c("rollup", "--orders", "o.csv", "--date", "on", "--currency", "ccy",
    "--rates", "rates.csv", "--show", "s = sum(in_currency(net, \"EUR\"))", "--format", "csv")))
  expect_identical(status, 0L)
  expect_equal(as.numeric(sub(",.*", "", told[2L])), truth, tolerance = 1e-9)
  as_standing(table, "report.yml")
  expect_match(readLines("report.yml"), "rates: \"rates.csv\"", fixed = TRUE, all = FALSE)
  built <- withr::local_tempdir()
  build_report("report.yml", out = built, formats = "csv")
  made <- utils::read.csv(list.files(built, "[.]csv$", full.names = TRUE, recursive = TRUE)[1L])
  expect_equal(made[[1L]][1L], truth, tolerance = 1e-9)
})

test_that("rates that cannot be used are errors that say why", {
  orders <- orders_of_currencies()
  rates <- rate_table()
  expect_raised(daybook(orders, on, rates = rates), "rates", "currency")
  expect_raised(daybook(orders, on, currency = ccy, rates = rbind(rates, rates[1L, ])), "rates",
    "two rates", "GBP")
  expect_raised(daybook(orders, on, currency = ccy,
    rates = transform(rates, rate = -rate)), "rates", "above zero")
  expect_raised(daybook(orders, on, currency = ccy, rates = rates[1:2]), "rates",
    "no column \"rate\"")
  expect_raised(daybook(orders, on, currency = ccy, rates = rates[0L, ]), "rates", "no rows")
  book <- daybook(orders, on, currency = ccy, rates = rates)
  expect_raised(rollup(book, s = sum(in_currency(net, "CHF"))), "rates", "CHF", "EUR")
  few <- daybook(orders, on, currency = ccy, rates = rates[rates$currency == "GBP", ])
  expect_raised(rollup(few, s = sum(in_currency(net, "GBP"))), "rates", "EUR, USD")
  expect_raised(rollup(daybook(orders, on), s = sum(in_currency(net, "EUR"))),
    "expression", "needs rates")
})

test_that("a figure in a text or an expectation of a report adds no two currencies together", {
  folder <- withr::local_tempdir()
  orders <- data.frame(on = as.Date("2025-01-01") + 0:3, currency = c("GBP", "EUR"), v = 1:4)
  utils::write.csv(orders, file.path(folder, "orders.csv"), row.names = FALSE)
  file <- file.path(folder, "r.yml")
  build <- function(...) {
    writeLines(c("drystack: 1", "title: Sales", "orders: {file: orders.csv, date: on}",
      "measures: {sales: sum(v)}", ...), file)
    build_report(file, out = file.path(folder, "out"), formats = "md")
  }
  text <- "page: [{text: \"Sales are {sales}.\"}]"
  expect_raised(build(text), "standing", "2 currencies")
  expect_raised(build("expect: {sales: \"> 0\"}", "page: [{text: Nothing.}]"), "standing",
    "2 currencies")
  built <- build("only: ['currency == \"GBP\"']", text)
  expect_match(readLines(built$files[1L]), "Sales are 4", all = FALSE, fixed = TRUE)
})
