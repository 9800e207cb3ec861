# Laws that hold whatever the orders are.

orders <- untidy_orders(4000L, 31L)
book <- as_of(daybook(orders, on, calendars = fiscal_calendar("July")), "2025-06-30")

test_that("parts add up to totals for additive measures", {
  x <- plain(rollup(book, c(depot, channel, quarter), s = sum(amount), n = count(), q = sum(quantity), totals = "all"))
  line <- x$.role == "line"
  total <- x$.role == "total"
  for (measure in c("s", "n", "q")) expect_equal(sum(x[[measure]][line]), x[[measure]][total], tolerance = 1e-14)
  for (member in unique(x$depot[line])) {
    subtotal <- x$depot %in% member & is.na(x$channel)
    expect_equal(sum(x$s[line & x$depot %in% member]), x$s[subtotal], tolerance = 1e-12)
  }
})

test_that("year to date at the year's end is the year, and running at the end is the total", {
  years <- plain(rollup(book, c(depot, year), s = sum(amount)))
  months <- plain(rollup(book, c(depot, month), y = ytd(sum(amount)), r = running(sum(amount)), totals = "all"))
  line <- months$.role == "line"
  last <- line & end_of(as_period(months$month, year)) == end_of(months$month)
  key <- function(x, period) paste(x$depot, format(as_period(period, year)))
  at <- match(key(months, months$month)[last], key(years, years$year))
  expect_identical(months$y[last], years$s[at])
  ends <- line & months$month == max(months$month, na.rm = TRUE)
  expect_identical(months$r[ends], plain(rollup(book, depot, s = sum(amount)))$s)
})

test_that("prior of a shown period is that period's own figure", {
  x <- plain(
    rollup(
      book, c(channel, month), s = sum(amount), m = mean(amount), d = distinct(customer), p = prior(s, year),
      pm = prior(m, year), pd = prior(d, year)
    )
  )
  own <- match(paste(x$channel, format(x$month - 12L)), paste(x$channel, format(x$month)))
  known <- !is.na(own)
  expect_identical(x$p[known], x$s[own[known]])
  expect_identical(x$pm[known], x$m[own[known]])
  expect_identical(x$pd[known], x$d[own[known]])
})

test_that("splitting the orders into chunks changes not one bit", {
  days <- as.integer(orders$on)
  span_of <- rep(0:9, each = 120L)
  depot <- match(orders$depot, c("Garrick", "Skelby", "Thornmoor"))
  noisy <- withr::with_seed(8L, orders$amount * stats::runif(nrow(orders)))
  fold <- function(rows, x) {
    kernel_fold(
      days[rows], 19316L, span_of, 10L, list(depot[rows]), 3L, NULL, list(x[rows]), TRUE, TRUE, TRUE, FALSE, 2L, NULL, 2
    )
  }
  whole <- fold(seq_along(days), noisy)
  chunks <- lapply(split(seq_along(days), rep(1:5, length.out = length(days))), fold, x = noisy)
  # Chunks side by side as groups, then merged as groups are.
  merge <- function(kind, state) {
    parts <- lapply(
      names(state(whole)), function(part) do.call(rbind, lapply(chunks, function(chunk) state(chunk)[[part]]))
    )
    kernel_merge_groups(stats::setNames(parts, names(state(whole))), kind, rep(1:4, 5L), 4L)
  }
  expect_identical(merge("lines", function(f) f$lines), whole$lines)
  expect_identical(merge("square", function(f) f$columns[[1L]]$square)$a, whole$columns[[1L]]$square$a)
  for (kind in c("sum", "least", "greatest", "missing")) {
    expect_identical(merge(kind, function(f) f$columns[[1L]][[kind]]), whole$columns[[1L]][[kind]], label = kind)
  }
})

test_that("no measure depends on the order of the rows or the number of threads", {
  ask <- function(orders, threads) {
    withr::local_options(drystack.threads = threads)
    book <- daybook(orders, on)
    plain(rollup(book, c(depot, quarter),
      d = distinct(customer), m = median(amount), s = sd(amount), mc = most_common(channel), sh = share(sum(amount)),
      o = mean(each(customer, sum(amount))), e = max(each(day, sum(amount))), totals = "all"
    ))
  }
  many <- orders[rep(seq_len(nrow(orders)), 12L), ]
  reference <- ask(many, 1L)
  expect_identical(ask(many, 3L), reference)
  shuffled <- withr::with_seed(9L, many[sample.int(nrow(many)), ])
  expect_identical(ask(shuffled, 2L), reference)
})

test_that("64-bit integers, date-times and negative zeros are amounts and members as any other", {
  skip_if_not_installed("bit64")
  few <- data.frame(on = as.Date("2026-01-01") + 0:3, zero = c(-0, -0, -0, -0))
  few$big <- bit64::as.integer64(c("9007199254740993", "1", NA, "9007199254740993"))
  few$at <- as.POSIXct("2026-03-28 23:30", tz = "Europe/London") + 3600 * 0:3
  book <- daybook(few, on)
  x <- plain(
    rollup(book, s = sum(big), d = distinct(big), z = sum(zero), first = min(at), last = max(at), n = count(big))
  )
  expect_identical(x$s, 2 * 9007199254740992 + 3)
  expect_identical(c(x$d, x$z, x$n), c(2, 0, 3))
  expect_identical(c(x$first, x$last), few$at[c(1L, 4L)])
  expect_identical(plain(rollup(book, big, n = count()))$n, c(1, 2, 1))
})
