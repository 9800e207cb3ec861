# Laws that hold whatever the orders are.

orders <- untidy_orders(4000L, 31L)
book <- as_of(daybook(orders, on, calendars = fiscal_calendar("July")), "2025-06-30")

test_that("parts add up to totals for additive measures", {
  x <- plain(rollup(book, c(depot, channel, quarter), s = sum(amount),
    n = count(), q = sum(quantity), totals = "all"))
  line <- x$.role == "line"
  total <- x$.role == "total"
  for (measure in c("s", "n", "q")) expect_equal(sum(x[[measure]][line]),
    x[[measure]][total], tolerance = 1e-14)
  for (member in unique(x$depot[line])) {
    subtotal <- x$depot %in% member & is.na(x$channel)
    expect_equal(sum(x$s[line & x$depot %in% member]), x$s[subtotal], tolerance = 1e-12)
  }
})

test_that("year to date at the year's end is the year, and running at the end is the total", {
  years <- plain(rollup(book, c(depot, year), s = sum(amount)))
  months <- plain(rollup(book, c(depot, month), y = ytd(sum(amount)),
    r = running(sum(amount)), totals = "all"))
  line <- months$.role == "line"
  last <- line & end_of(as_period(months$month, year)) == end_of(months$month)
  key <- function(x, period) paste(x$depot, format(as_period(period, year)))
  at <- match(key(months, months$month)[last], key(years, years$year))
  expect_gt(length(at), 4L)
  expect_false(anyNA(at))
  expect_identical(months$y[last], years$s[at])
  ends <- line & months$month == max(months$month, na.rm = TRUE)
  expect_gt(sum(ends), 1L)
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
  expect_gt(sum(known), 20L)
  expect_identical(x$p[known], x$s[own[known]])
  expect_identical(x$pm[known], x$m[own[known]])
  expect_identical(x$pd[known], x$d[own[known]])
})

# Amounts of every kind that a part of the orders may hold.
kinds_of_amounts <- function(n) {
  list(
    cents = function() round(stats::rnorm(n, 80, 60), 2), quarters = function() sample(-9:40, n, TRUE) / 4,
    thirds = function() sample(100L, n, TRUE) / 3, whole = function() sample(-50:50, n, TRUE),
    dusty = function() {
      round(stats::runif(n, 0, 900), 2) - round(stats::runif(n, 0, 900), 2)
    },
    large = function() {
      bit64::as.integer64(sample(c("9007199254740993", "-3", NA, "4611686018427387904"), n, TRUE))
    },
    apart = function() sample(c(1e300, -1e300, 1e-300, 1, 0.1), n, TRUE), none = function() rep(NA_real_, n),
    odd = function() sample(c(Inf, NaN, NA, 2.5), n, TRUE),
    tiny = function() sample(c(1e-9, 3e-310, 0), n, TRUE)
  )
}

test_that("the fold of the parts, merged, is the fold of the whole, bit for bit, whatever the parts hold", {
  skip_if_not_installed("bit64")
  withr::local_seed(8)
  figures <- lapply(kernel_states(), `[[`, "figures")
  states <- names(figures)
  for (trial in seq_len(trials(600L))) {
    n <- sample(c(1L, 7L, 60L), 1L)
    names <- sample(names(kinds_of_amounts(n)), sample(2:4, 1L), TRUE)
    parts <- lapply(names, function(name) kinds_of_amounts(n)[[name]]())
    joined <- if (any(vapply(parts, inherits, NA, "integer64"))) NULL else unlist(lapply(parts, as.numeric))
    codes <- lapply(parts, function(part) sample(3L, n, TRUE))
    days <- lapply(parts, function(part) sample(0:3, n, TRUE))
    # The members of each part in an order of its own, one of them new in the last.
    orders <- lapply(parts, function(part) sample(3L))
    folds <- Map(function(part, code, day, order) {
      folded(list(part), list(match(code, order)), 3L, day, 4L, states = states)
    }, parts, codes, days, orders)
    maps <- lapply(orders, function(order) c(order, 4L))
    merged <- function(state) {
      of_parts <- lapply(folds, function(fold) {
        if (state == "lines") fold$lines else fold$columns[[1L]][[state]]
      })
      kernel_merge_parts(of_parts, maps, 4L)
    }
    # A column holds 64-bit whole numbers in all its parts or in none.
    if (is.null(joined)) {
      if (!all(vapply(parts, inherits, NA, "integer64"))) next
      joined <- do.call(c, parts)
    }
    whole <- folded(list(joined), list(unlist(codes)), 3L, unlist(days), 4L, states = states)
    expect_identical(kernel_finish(merged("lines"), "count"), kernel_finish(whole$lines, "count"))
    for (state in c(states, "missing")) {
      for (figure in figures[[state]] %||% "count") {
        expect_identical(
          kernel_finish(merged(state), figure), kernel_finish(whole$columns[[1L]][[state]], figure),
          label = paste(figure, "of", paste(names, collapse = ", "))
        )
      }
    }
  }
})

test_that("lists of rows merge to those of the whole, with members in other orders in each part", {
  withr::local_seed(9)
  lists <- function(group, day, x, coded) {
    fold <- kernel_fold(day, 0L, 0:2, 3L, list(group), 2L, NULL, list(), list(), TRUE, 1L, NULL, 2)
    kernel_sort_by_cell(fold$cells, c(1L, 2L, NA), 2L, 3L, x, coded, 1L)
  }
  first <- c(0L, 0L, 1L)
  end <- c(1L, 3L, 3L)
  for (trial in seq_len(trials(400L))) {
    n <- sample(c(1L, 5L, 40L), 3L, TRUE)
    group <- lapply(n, function(k) sample(2L, k, TRUE))
    day <- lapply(n, function(k) sample(0:2, k, TRUE))
    amount <- lapply(n, function(k) sample(c(1:5, NA), k, TRUE) + 0)
    member <- lapply(n, function(k) sample(c(letters[1:4], NA), k, TRUE))
    words <- lapply(seq_along(n), function(i) sample(letters[1:4]))
    same <- rep(list(1:2), 3L)
    amounts <- kernel_merge_lists(Map(lists, group, day, amount, FALSE), same, 2L, list())
    codes <- Map(function(x, w) match(x, w), member, words)
    coded <- kernel_merge_lists(Map(lists, group, day, codes, TRUE),
      same, 2L, lapply(words, match, letters[1:4]))
    whole <- function(x, is_coded) lists(unlist(group), unlist(day), x, is_coded)
    whole_coded <- whole(match(unlist(member), letters[1:4]), TRUE)
    for (p in c(0, 0.5, 0.9)) {
      expect_identical(
        kernel_quantile(amounts, first, end, p, 1L),
        kernel_quantile(whole(unlist(amount), FALSE), first, end, p, 1L)
      )
    }
    expect_identical(
      kernel_count_distinct(coded, first, end, 4L, 1L), kernel_count_distinct(whole_coded, first, end, 4L, 1L)
    )
    expect_identical(kernel_most_common(coded, first, end, 1:4, 1L),
      kernel_most_common(whole_coded, first, end, 1:4, 1L))
  }
})

test_that("cents of one part and thirds of another are added for what they are", {
  cents <- folded(list(c(10.5, 2.25, 3.08)))$columns[[1L]]$sum
  thirds <- folded(list(c(1 / 3, 2 / 3)))$columns[[1L]]$sum
  expect_identical(as.vector(kernel_finish(kernel_merge_parts(list(cents, thirds), list(1L, 1L), 1L),
    "sum")), 16.83)
  whole <- folded(list(c(3L, 4L)))$columns[[1L]]$sum
  expect_identical(as.vector(kernel_finish(kernel_merge_parts(list(whole, cents), list(1L, 1L), 1L),
    "sum")), 22.83)
})

test_that("no measure depends on the order of the rows or the number of threads", {
  ask <- function(orders, threads) {
    withr::local_options(drystack.threads = threads)
    book <- daybook(orders, on)
    plain(rollup(book, c(depot, quarter),
      d = distinct(customer), m = median(amount), s = sd(amount),
      mc = most_common(channel), sh = share(sum(amount)), o = mean(each(customer, sum(amount))),
      e = max(each(day, sum(amount))), totals = "all"
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
    rollup(book, s = sum(big), d = distinct(big), z = sum(zero),
      first = min(at), last = max(at), n = count(big))
  )
  expect_identical(x$s, 2 * 9007199254740992 + 3)
  expect_identical(c(x$d, x$z, x$n), c(2, 0, 3))
  expect_identical(c(x$first, x$last), few$at[c(1L, 4L)])
  expect_identical(plain(rollup(book, big, n = count()))$n, c(1, 2, 1))
})
