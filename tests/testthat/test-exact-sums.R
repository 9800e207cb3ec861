sum_by <- function(x, group = rep("a", length(x)), threads = 2L) {
  withr::local_options(drystack.threads = threads)
  orders <- data.frame(on = as.Date("2026-01-01") + seq_along(x) %% 90L, x = x, group = group)
  plain(rollup(daybook(orders, on), c(group, month), s = sum(x), m = mean(x), y = ytd(s), totals = "all"))
}

test_that("neither the order of the rows nor the number of threads changes one bit", {
  withr::local_seed(3L)
  n <- 60000L
  x <- stats::rnorm(n) * 10^sample(-3:6, n, TRUE)
  group <- sample(letters[1:5], n, TRUE)
  orders <- data.frame(on = as.Date("2026-01-01") + sample.int(300L, n, TRUE), x = x, group = group)
  ask <- function(orders, threads) {
    withr::local_options(drystack.threads = threads)
    plain(
      rollup(daybook(orders, on), c(group, month), s = sum(x),
        m = mean(x), lo = min(x), y = ytd(s), totals = "all")
    )
  }
  reference <- ask(orders, 1L)
  for (threads in 2:5) expect_identical(ask(orders, threads), reference)
  for (i in 1:3) expect_identical(ask(orders[sample.int(n), ], 3L), reference)
})

test_that("sums of cents are the decimal sums, to the last digit", {
  withr::local_seed(4L)
  cents <- sample.int(1e7L, 50000L, TRUE) - 5e6
  rows <- sum_by(cents / 100)
  expect_identical(rows$s[rows$.role == "total"], sum(cents) / 100)
  expect_identical(kernel_total(rep(0.1, 30L)), 3)
  expect_identical(kernel_total(c(1722, -1721.99) + c(0.07, -0.07)), 0.01)
})

test_that("sums of other numbers are the exact sum of the doubles, rounded once", {
  thirds <- rep(1 / 3, 3e4)
  expect_identical(sum_by(thirds)$s[sum_by(thirds)$.role == "total"], 3e4 * (1 / 3))
  expect_identical(kernel_total(c(1e16, 1.234567, -1e16)), 1.234567)
})

test_that("values too far apart for 106 bits are still summed exactly, in any order", {
  x <- c(1e300, 1, -1e300, 2^-1060, 1e-20, -1, 3)
  for (i in 1:5) {
    shuffled <- withr::with_seed(i, sample(x))
    expect_identical(kernel_total(shuffled), 3)
  }
  expect_identical(kernel_total(c(2^60, 2^-60, 2^-60, -2^60)), 2^-59)
  expect_identical(kernel_total(c(1 + 2^-30, 2^-53, 2^-200)), 1 + 2^-30 + 2^-52)
  expect_identical(kernel_total(c(-1 - 2^-30, -2^-53, -2^-200)), -1 - 2^-30 - 2^-52)
  expect_identical(kernel_total(c(5e-324, 5e-324, 1e308, -1e308)), 1e-323)
})

test_that("large amounts with cents, integers and logicals sum exactly", {
  expect_identical(kernel_total(rep(9007199254740.11, 10L)), 90071992547401.1)
  expect_identical(kernel_total(rep(.Machine$integer.max, 5L)), 5 * .Machine$integer.max)
  expect_identical(kernel_total(c(TRUE, NA, TRUE, FALSE)), 2)
  expect_identical(kernel_total(c(-0, -0)), 0)
})

test_that("64-bit integers are read as such", {
  skip_if_not_installed("bit64")
  big <- bit64::as.integer64(c("9007199254740993", "-9007199254740992", NA))
  expect_identical(kernel_total(big), 1)
})
