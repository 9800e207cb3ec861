# What an expression means is its structure, never its text; groups have ids made of what occurs.

test_that("a column worked out again is another one, in conditions given before and in lenses", {
  orders <- data.frame(on = as.Date("2026-01-05") + 0:5, v = c(1, 2, 4, 8, 16, 32), a = c(1, 1, -1, -1, 1, 1),
    b = c(1, -1, 1, 1, -1, 1))
  book <- daybook(orders, on) |> work_out(x = a) |> only(x > 0) |> work_out(x = b)
  alone <- plain(rollup(book, other = only(regardless(sum(v), x), x > 0)))$other
  both <- plain(rollup(book, plain = sum(v), other = only(regardless(sum(v), x), x > 0)))
  expect_identical(alone, sum(orders$v[orders$b > 0]))
  expect_identical(both$plain, sum(orders$v[orders$a > 0]))
  expect_identical(both$other, alone)
  again <- daybook(orders, on) |> work_out(w = v)
  x <- plain(rollup(again, first = sum(w), second = only(sum(w), w > 3)))
  y <- plain(rollup(work_out(again, w = 2 * v), first = sum(w), second = only(sum(w), w > 3)))
  expect_identical(c(y$first, y$second), c(2 * sum(orders$v), 2 * sum(orders$v[2 * orders$v > 3])))
  expect_identical(x$first, sum(orders$v))
})

test_that("R functions are told apart by themselves, constants by value and type", {
  book <- daybook(few_orders(), on)
  f <- function(x) max(x)
  first <- plain(rollup(book, m = custom(f, amount)))$m
  with_both <- local({
    g <- f
    f <- function(x) min(x)
    plain(rollup(book, low = custom(f, amount), high = custom(g, amount)))
  })
  expect_identical(c(first, with_both$low, with_both$high), c(50.5, -5, 50.5))
  makers <- lapply(1:2, function(k) {
    force(k)
    function(x) k * sum(x)
  })
  one <- makers[[1L]]
  two <- makers[[2L]]
  x <- plain(rollup(book, one = custom(one, amount), two = custom(two, amount)))
  expect_identical(x$two, 2 * x$one)
})

test_that("many members of many dimensions have rows of their own, with their own sums", {
  withr::local_seed(3)
  check <- function(dimensions, members, lines) {
    n <- lines
    orders <- data.frame(on = as.Date("2026-01-05"), v = sample.int(1000L, n, TRUE) / 4)
    names <- paste0("d", seq_len(dimensions))
    for (name in names) orders[[name]] <- sample.int(members, n, TRUE)
    # Every member occurs, so that key spaces are as large as they can be.
    for (name in names) orders[[name]][seq_len(min(members, n))] <- seq_len(min(members, n))
    orders <- orders[c(seq_len(n), seq_len(n %/% 4L)), ]
    by <- lapply(names, function(name) said(as.name(name)))
    x <- as.data.frame(make_table(new_request("rollup",
      rows = by, measures = list(s = said(quote(sum(v))), n = said(quote(count()))), totals = "grand"
    ), daybook(orders, on)))
    key <- function(data) do.call(paste, data[names])
    sums <- rowsum(cbind(orders$v, 1), key(orders))
    line <- x[x$.role == "line", ]
    expect_identical(nrow(line), nrow(sums))
    at <- match(key(line), rownames(sums))
    expect_false(anyNA(at))
    expect_identical(line$s, unname(sums[at, 1L]))
    expect_identical(line$n, unname(sums[at, 2L]))
  }
  # More members than 16 bits count, more combinations than a double does, and more than 64 bits do.
  check(2L, 70000L, 70000L)
  check(4L, 12000L, 24000L)
  check(5L, 8000L, 16000L)
})

test_that("many members are kept, shown and traced as few are", {
  withr::local_seed(4)
  n <- 30000L
  orders <- data.frame(on = as.Date("2026-01-05") + sample(0:50, n, TRUE), v = sample.int(1000L, n, TRUE))
  for (name in c("a", "b", "c", "d")) orders[[name]] <- sample.int(20000L, n, TRUE)
  book <- daybook(orders, on)
  x <- rollup(book, c(a, b, c, d), s = sum(v), keep = list(a = keep_top(3, s)), totals = "grand")
  top <- utils::head(sort(rowsum(orders$v, orders$a)[, 1L], decreasing = TRUE), 3L)
  line <- plain(x)[plain(x)$.role == "line", ]
  expect_setequal(unique(line$a), names(top))
  expect_identical(sum(line$s), sum(top) + 0)
  expect_true(all(tie_out(x)$ok %in% c(TRUE, NA)))
  row <- which(plain(x)$.role == "line")[2L]
  expect_identical(sum(behind(x, row, "s")$v) + 0, plain(x)$s[row])
  each <- plain(rollup(book, a, m = max(each(b, sum(v))), sort = largest_first(m)))[1L, ]
  own <- orders[orders$a == each$a, ]
  expect_identical(each$m, max(rowsum(own$v, own$b)) + 0)
})
