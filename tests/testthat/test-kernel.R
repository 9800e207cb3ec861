test_that("the fold puts each row into the cell of its span and its members", {
  days <- c(10L, 11L, 12L, 13L, 14L, NA)
  span_of <- c(0L, 0L, -1L, 1L) # days 10 to 13
  a <- c(1L, 2L, 1L, NA, 1L, 1L)
  b <- c(2L, 1L, 1L, 1L, 1L, 1L)
  wanted <- list(c("sum", "extremes"))
  found <- kernel_fold(days, 10L, span_of, 2L, list(a, b), c(2L, 2L),
    NULL, list(as.numeric(1:6)), wanted, FALSE, 1L, NULL, 2)
  # groups run over the members of a (1, 2, missing), then of b (1, 2, missing), the last fastest
  lines <- matrix(0, 9L, 2L)
  lines[2L, 1L] <- 1 # a 1, b 2
  lines[4L, 1L] <- 1 # a 2, b 1
  lines[7L, 2L] <- 1 # a missing, b 1
  expect_identical(kernel_finish(found$lines, "count"), lines)
  expect_identical(found$occurs, c(2L, 4L, 7L))
  expect_identical(kernel_finish(found$columns[[1L]]$sum, "sum")[lines == 1], c(1, 2, 4))
  expect_identical(kernel_finish(found$columns[[1L]]$extremes, "least")[lines == 0], rep(NA_real_, 15L))
})

test_that("days may be doubles, and rows may be masked", {
  found <- kernel_fold(
    c(0, 0.9, 1, NaN, -1), 0L, c(0L, 1L), 2L, list(), integer(),
    c(TRUE, TRUE, NA, TRUE, TRUE), list(), list(), FALSE, 1L, NULL, 2
  )
  expect_identical(kernel_finish(found$lines, "count"), matrix(c(2, 0), 1L))
})

test_that("spans merge into intervals, prolonged or not, and a missing interval stays missing", {
  days <- rep(0:3, each = 2L)
  states <- folded(list(c(1, 10, 2, 20, 4, 40, 8, 80)), list(rep(1:2, 4L)),
    2L, days, 4L, states = c("sum", "extremes"))
  merge <- function(state, figure) {
    merged <- kernel_merge_spans(states$columns[[1L]][[state]],
      c(0L, 0L, 0L, 2L, NA, 1L), c(1L, 3L, 2L, 4L, NA, 1L))
    kernel_finish(merged, figure)[1:2, ]
  }
  expect_identical(merge("sum", "sum"), matrix(c(1, 10, 7, 70, 3, 30, 12, 120, NA, NA, 0, 0), 2L))
  expect_identical(merge("extremes", "least")[1L, ], c(1, 1, 1, 4, NA, NA))
})

test_that("groups merge into coarser groups, and may be left out", {
  states <- folded(list(1:8 + 0), list(rep(1:4, 2L)), 4L, rep(0:1, each = 4L), 2L)$columns[[1L]]$sum
  merged <- kernel_merge_groups(states, c(2L, 1L, NA, 2L, NA), 2L)
  expect_identical(kernel_finish(merged, "sum"), matrix(c(2, 5, 6, 13), 2L))
})

test_that("more cells than can be numbered are refused before any is made", {
  expect_error(
    folded(list(1), list(1L, 1L), c(60000L, 60000L), 0L), "more than 2 billion cells"
  )
})

test_that("codes go by first appearance, for every type", {
  expect_identical(kernel_encode(c("b", NA, "a", "b"))$codes, c(1L, NA, 2L, 1L))
  expect_identical(kernel_encode(c(0, -0, NaN, NA, 1))$codes, c(1L, 1L, NA, NA, 2L))
  expect_identical(kernel_encode(c(TRUE, NA, FALSE))$first, c(1, 3))
  many <- withr::with_seed(1L, sample.int(1e5L, 3e5L, TRUE))
  coded <- kernel_encode(many)
  expect_identical(many[coded$first][coded$codes], many)
  expect_identical(coded$codes, match(many, unique(many)))
  pair <- kernel_encode_pair(c(1L, 1L, NA, NA), c(1L, 2L, 2L, NA))
  expect_identical(pair$codes, 1:4)
})

test_that("a key space too large to address directly gives the same table", {
  orders <- untidy_orders(3000L, 11L)
  ask <- function() {
    plain(rollup(daybook(orders, on), c(depot, customer, month),
      s = sum(amount), n = count(), totals = "all"))
  }
  direct <- ask()
  local_constant("most_direct_cells", 1)
  expect_identical(ask(), direct)
})

test_that("the number of threads is checked", {
  withr::local_options(drystack.threads = "many")
  expect_raised(rollup(daybook(few_orders(), on), n = count()), "argument", "drystack.threads")
})

test_that("many different values are coded as well as few: one code for each, whatever the threads", {
  withr::local_seed(3)
  x <- sample.int(4e5L, 6e5L, TRUE)
  x[c(5L, 77L)] <- NA
  for (threads in 1:3) {
    coded <- kernel_encode(x, threads)
    expect_identical(is.na(coded$codes), is.na(x))
    expect_identical(x[coded$first][coded$codes], x)
    expect_length(coded$first, length(unique(x[!is.na(x)])))
    pair <- kernel_encode_pair(x, rev(x), threads)
    expect_identical(x[pair$first][pair$codes], x)
    expect_identical(rev(x)[pair$first][pair$codes], rev(x))
  }
})

test_that("combinations too many to address directly give the same sums", {
  withr::local_seed(4)
  n <- 4e5L
  orders <- data.frame(
    on = as.Date("2024-01-01") + sample.int(300L, n, TRUE), a = sample.int(3000L, n, TRUE),
    b = sample.int(3000L, n, TRUE), amount = sample.int(100L, n, TRUE)
  )
  x <- plain(rollup(daybook(orders, on), c(a, b), s = sum(as_amount(amount)), n = count()))
  key <- orders$a * 10000 + orders$b
  sums <- rowsum(orders$amount, key)
  expect_identical(x$s, as.vector(sums[, 1L]) + 0)
  expect_identical(as.numeric(x$a) * 10000 + as.numeric(x$b), as.numeric(rownames(sums)))
})
