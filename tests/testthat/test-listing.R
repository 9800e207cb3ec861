orders <- untidy_orders(300L, 12)
orders$order <- rep(1:100, each = 3L)
orders$on <- rep(orders$on[seq(1L, 300L, 3L)], each = 3L)
orders$depot <- rep(orders$depot[seq(1L, 300L, 3L)], each = 3L)
book <- daybook(orders, on)
dated <- which(!is.na(orders$on))

test_that("every order line in scope stands once under its groups, in the order of dates", {
  x <- plain(listing(book, c(depot, channel), lines = c(on, customer), sales = sum(amount)))
  lines <- x[x$.role == "line", ]
  expect_identical(nrow(lines), length(dated))
  expect_named(x, c("depot", "channel", "on", "customer", "sales", ".role"))
  for (group in split(lines, paste(lines$depot, lines$channel))) expect_false(is.unsorted(group$on))
  base <- tapply(
    round(100 * ifelse(is.na(orders$amount), 0, orders$amount))[dated],
    ifelse(is.na(orders$depot), "(none)", orders$depot)[dated], sum
  ) / 100
  totals <- x[x$.role == "subtotal" & is.na(x$channel), ]
  expect_equal(totals$sales, as.vector(base[totals$depot]))
  expect_equal(x$sales[x$.role == "total"], sum(base))
})

test_that("running figures restart at the break that is said, and totals show how far they have come", {
  x <- plain(listing(book, c(depot, channel),
    lines = on, n = count(), inner = running(n, along = lines), depot_run = running(
      n, along = lines, within = depot
    ), report = running(n, along = lines, within = all)
  ))
  lines <- x[x$.role == "line", ]
  expect_identical(lines$report, as.numeric(seq_len(nrow(lines))))
  expect_identical(lines$depot_run, stats::ave(lines$n, lines$depot, FUN = cumsum))
  expect_identical(lines$inner, stats::ave(lines$n, paste(lines$depot, lines$channel), FUN = cumsum))
  group_totals <- which(x$.role == "subtotal" & !is.na(x$channel))
  expect_identical(x$report[group_totals], x$report[group_totals - 1L])
  expect_identical(x$depot_run[group_totals], x$depot_run[group_totals - 1L])
})

test_that("a line may be an order, whose columns must then have one value", {
  x <- plain(listing(book, depot, lines = on, per = order, sales = sum(amount),
    lines_of = count(), totals = "none"))
  expect_identical(nrow(x), length(unique(orders$order[dated])))
  expect_identical(x$lines_of, rep(3, nrow(x)))
  expect_identical(sort(x$order), sort(unique(orders$order[dated])))
  expect_raised(
    listing(book, depot, lines = channel, per = order, sales = sum(amount)),
    "argument", "\"channel\" differs", "\"order\""
  )
})

test_that("only lines on the days shown are listed; comparisons still see the others", {
  shown <- within_dates(book, "2024-01-01", "2024-06-30")
  x <- plain(listing(shown, depot, lines = on, sales = sum(amount), before = prior(sales, year)))
  expect_true(all(x$on[x$.role == "line"] >= "2024-01-01" & x$on[x$.role == "line"] <= "2024-06-30"))
  rolled <- plain(rollup(shown, depot, before = prior(sum(amount), year)))
  totals <- x[x$.role == "subtotal", ]
  expect_identical(totals$before, rolled$before[match(totals$depot, rolled$depot)])
})

test_that("groups by period hold those periods that have lines; empty groups are told when asked", {
  x <- plain(listing(book, month, lines = on, n = count()))
  expect_setequal(x$month[!is.na(x$month)], format(unique(as_period(orders$on[dated], month))))
  shown <- within_dates(only(book, channel == "web"), "2024-01-01", "2024-01-31")
  with_lines <- plain(listing(shown, depot, lines = on, n = count()))
  all <- plain(listing(shown, depot, lines = on, n = count(), empty = TRUE))
  expect_gt(sum(all$.role == "subtotal"), sum(with_lines$.role == "subtotal") - 1L)
  expect_identical(sum(all$.role == "line"), sum(with_lines$.role == "line"))
})

test_that("lines are numbered, headed, parted and put in another order", {
  text <- format(listing(book, depot, lines = on, n = count(), number = TRUE, after = "blank"), width = 100L)
  expect_true(any(grepl("No. +On +N$", text)))
  expect_gt(sum(text == ""), 4L)
  headed <- format(listing(book, c(depot, channel), lines = on, n = count(), layout = "indented"),
    width = 100L)
  expect_true("Garrick" %in% headed)
  expect_true(any(grepl("^  Total web", headed)))
  sorted <- plain(
    listing(book, depot, lines = on, sales = sum(amount), sort = list(lines = largest_first(sales)),
      totals = "none")
  )
  for (group in split(sorted$sales, sorted$depot)) expect_false(is.unsorted(-group[!is.na(group)]))
  page <- withr::local_tempfile(fileext = ".html")
  write_report(listing(book, depot, lines = on, n = count(), after = "page"), page)
  expect_identical(sum(grepl("page-end", readLines(page)[-(1:120)], fixed = TRUE)),
    length(unique(orders$depot[dated])) - 1L)
})

test_that("a listing ties out and its figures can be explained", {
  x <- listing(book, c(depot, channel), lines = on, sales = sum(amount),
    run = running(sales, along = lines, within = depot))
  expect_true(all(tie_out(x)$ok %in% c(TRUE, NA)))
  data <- plain(x)
  for (row in c(3L, 20L, nrow(data))) {
    expect_equal(sum(behind(x, row, "sales")$amount, na.rm = TRUE), data$sales[row])
    expect_equal(sum(behind(x, row, "run")$amount, na.rm = TRUE), data$run[row])
  }
  expect_match(format(explain(x, 3L, "run"))[1L], "row 3")
})

test_that("requests that make no sense are errors", {
  expect_raised(listing(book, depot, lines = depot, n = count()), "argument", "\"depot\"", "group")
  expect_raised(listing(book, lines = on, n = count(), most = 10),
    "argument", "would have", "10 are allowed", "per = order_id")
  expect_raised(listing(book, lines = on, n = count(), layout = "tree"), "argument", "indented")
  expect_raised(listing(book, lines = on, n = count(), after = 1), "argument", "blank")
  expect_identical(nrow(plain(listing(book, lines = on, totals = "none"))), length(dated))
})

test_that("lines show periods and parts of their date", {
  x <- plain(listing(book, lines = c(on, month, day_of_week), n = count()))
  lines <- x[x$.role == "line", ]
  expect_identical(format(lines$month, "key"), format(lines$on, "%Y-%m"))
  expect_identical(as.character(lines$day_of_week), weekdays_of(lines$on))
  per <- plain(listing(book, lines = month, per = order, n = count()))
  expect_identical(nrow(per), length(unique(orders$order[dated])) + 1L)
})
