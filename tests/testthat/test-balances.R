# What is open at a day, like for like, the longest run, conditions on the order of a line: against base R.

open_orders <- function(seed = 1L) {
  set.seed(seed)
  n <- 260L
  orders <- data.frame(order = sample(1:110, n, TRUE), on = as.Date("2025-01-01") + sample(0:420, n, TRUE),
    shop = sample(c("p", "q", "r", "s"), n, TRUE), item = sample(c("A", "B", "C"), n, TRUE),
      v = sample(1:90, n, TRUE))
  orders$paid <- orders$on + sample(c(NA, -2:70), n, TRUE)
  orders$on[1:2] <- NA
  orders
}

test_that("what is open at a day is what began by then and has not ended, however old, whatever is shown", {
  orders <- open_orders()
  book <- within_dates(daybook(orders, on), "2025-06-01", "2026-01-31")
  x <- as.data.frame(rollup(book, by = c(shop, month), open = open_at(sum(v), from = on, until = paid),
    lines = open_at(count(), on, paid), old = open_at(sum(v), on, paid, older = 14), totals = "all"))
  open <- function(day, shop, older = 0L) {
    here <- !is.na(orders$on) & orders$on + older <= day & (is.na(orders$paid) |
      orders$paid > day & orders$paid >= orders$on)
    if (!is.na(shop)) here <- here & orders$shop == shop
    orders$v[here]
  }
  day <- pmin(end_of(x$month), as.Date("2026-01-31"))
  day[is.na(day)] <- as.Date("2026-01-31")
  for (row in seq_len(nrow(x))) {
    shop <- as.character(x$shop[row])
    expect_equal(c(x$open[row], x$lines[row], x$old[row]),
      c(sum(open(day[row], shop)), length(open(day[row], shop)), sum(open(day[row], shop, 14L))))
  }
  plain <- as.data.frame(rollup(daybook(orders, on), by = month, run = running(sum(v), from = "record")))
  later <- as.data.frame(rollup(book, by = month, run = running(sum(v), from = "record")))
  expect_equal(later$run, plain$run[format(plain$month) %in% format(later$month)])
  expect_raised(rollup(book, by = month, o = open_at(mean(v), on, paid)), "expression", "what adds up")
  expect_raised(rollup(book, by = month, o = open_at(sum(v), on)), "expression", "two dates")
  expect_raised(rollup(book, by = month, o = open_at(sum(v), on, payed)), "column", "paid")
})

test_that("like for like counts members with orders in both periods alone", {
  orders <- open_orders(2L)
  orders <- orders[!(orders$shop == "s" & orders$on < as.Date("2026-01-10")), ]
  book <- daybook(orders, on) |> as_of("2026-02-20")
  x <- as.data.frame(rollup(book, by = month, now = alike(sum(v), shop, year), ly = alike(prior(sum(v),
    year), shop, year)))
  month <- format(orders$on, "%Y-%m")
  for (row in which(format(x$month, "key") >= "2026-01")) {
    to <- min(end_of(x$month[row]), as.Date("2026-02-20"))
    now <- !is.na(orders$on) & orders$on >= start_of(x$month[row]) & orders$on <= to
    back <- as.POSIXlt(c(start_of(x$month[row]), to))
    back$year <- back$year - 1L
    back <- as.Date(back)
    then <- !is.na(orders$on) & orders$on >= back[1L] & orders$on <= back[2L]
    both <- intersect(orders$shop[now], orders$shop[then])
    expect_equal(x$now[row], sum(orders$v[now & orders$shop %in% both]))
    expect_equal(x$ly[row], sum(orders$v[then & orders$shop %in% both]))
  }
  expect_raised(rollup(book, by = month, a = alike(sum(v), shop)), "expression", "a column and a unit")
  expect_raised(rollup(book, by = month, a = alike(distinct(order), shop, year)), "expression", "adds up")
})

test_that("the longest run of periods, and what is bought with something else", {
  orders <- open_orders(3L)
  book <- daybook(orders, on)
  dated <- orders[!is.na(orders$on), ]
  x <- as.data.frame(rollup(book, by = shop, run = longest(each(month, sum(v) > 200)),
    weeks = longest(each(week, count() > 0))))
  months <- format(seq(as.Date("2025-01-01"), max(dated$on), by = "month"), "%Y-%m")
  for (row in seq_len(nrow(x))) {
    own <- dated[dated$shop == x$shop[row], ]
    sums <- tapply(own$v, factor(format(own$on, "%Y-%m"), months), sum)
    runs <- rle((sums > 200) %in% TRUE)
    expect_equal(x$run[row], max(0, runs$lengths[runs$values]))
  }
  with_a <- dated$order[dated$item == "A"]
  y <- as.data.frame(rollup(only(book, any_in(order, item == "A")), by = item, s = sum(v)))
  expect_equal(y$s, as.numeric(tapply(dated$v[dated$order %in% with_a], dated$item[dated$order %in% with_a],
    sum)))
  z <- as.data.frame(rollup(book, by = item, s = only(sum(v), any_in(order, item == "A"))))
  expect_equal(z$s, y$s)
  expect_raised(rollup(book, by = shop, r = longest(sum(v) > 3)), "expression", "each period")
  expect_raised(only(book, any_in(order)), "expression", "a column and a condition")
})

test_that("a condition on members is read where others were read before it", {
  orders <- open_orders(4L)
  book <- daybook(orders, on)
  invisible(rollup(work_out(book, first = of_each(shop, min(on))), by = first, n = count()))
  x <- as.data.frame(rollup(only(book, any_in(order, v > 80)), n = count()))
  expect_equal(x$n,
    sum(!is.na(orders$on) & orders$order %in% orders$order[!is.na(orders$on) & orders$v > 80]))
  expect_raised(rollup(book, by = axis(month_of_year, label = "{Mon}"), n = count()), "argument",
    "Only the labels of periods")
})

test_that("days among figures stay days, and the as-of date is one", {
  orders <- open_orders(4L)
  book <- daybook(orders, on) |> as_of("2026-02-01")
  x <- as.data.frame(rollup(book, by = shop, away = as_of - max(on), due = max(on) + 30,
    first = overall(min(on)),
    late = max(each(month, max(on))), sooner = least(max(on), as_of),
      recent = max(on) >= as.Date("2026-01-20")))
  seen <- orders[!is.na(orders$on) & orders$on <= as.Date("2026-02-01"), ]
  last <- as.Date(vapply(split(as.numeric(seen$on), seen$shop), max, 0), origin = "1970-01-01")
  last <- unname(last[x$shop])
  expect_equal(x$away, as.numeric(as.Date("2026-02-01") - last))
  expect_equal(x$due, last + 30)
  expect_equal(x$first, rep(min(seen$on), 4L))
  expect_equal(x$late, last)
  expect_equal(x$sooner, last)
  expect_equal(x$recent, as.numeric(last >= as.Date("2026-01-20")))
  for (wrong in expression(max(on) > 5, or_zero(max(on)), if_known(max(on), 0), least(max(on), 5), max(on) * 2,
    max(on) + max(on), -max(on))) {
    expect_raised(rlang::inject(rollup(book, by = shop, w = !!wrong)), "expression", "cannot be used with a day")
  }
  for (wrong in expression(median(gaps(v)), median(gaps(shop)))) {
    expect_raised(rlang::inject(rollup(book, by = shop, w = !!wrong)), "expression", "a column of dates")
  }
  expect_raised(rollup(book, by = shop, w = gaps(on)), "expression", "median(gaps(on))")
  expect_raised(rollup(book, by = shop, w = sum(gaps(on))), "expression", "median")
})

test_that("like for like tells who stands outside, by orders or by the days of a column", {
  orders <- data.frame(shop = c("a", "a", "b", "c"), on = as.Date(c("2025-02-01", "2026-02-03", "2026-02-05",
    "2025-02-07")), v = c(10, 20, 40, 80), opened = as.Date(c("2024-01-01", "2024-01-01", "2025-06-01",
      "2024-01-01")), closed = as.Date(c(NA, NA, NA, "2025-09-30")))
  book <- within_dates(daybook(orders, on), "2026-02-01", "2026-02-28") |> as_of("2026-02-28") |>
    covered_to("2026-02-28")
  told <- function(...) grep("Like for like", table_notes(rollup(book, by = month, ...)), value = TRUE)
  expect_identical(told(a = alike(sum(v), shop, year)),
    paste("Like for like by shop: 1 member (40) is there only",
    "in the days of a row and 1 member (80) is there only a year before; they are not counted."))
  x <- rollup(book, by = month, a = alike(sum(v), shop, year, from = opened, until = closed),
    ly = alike(prior(sum(v), year), shop, year, from = opened, until = closed))
  expect_identical(c(x$figures$a, x$figures$ly), c(20, 10))
  expect_match(told(a = alike(sum(v), shop, year, from = opened)), "1 member (40) is there only in",
    fixed = TRUE)
  expect_match(told(a = alike(only(sum(v), shop == "a"), shop, year)), "(0) is there only in the days",
    fixed = TRUE)
  expect_raised(rollup(book, by = month, a = alike(sum(v), shop, year, until = closed)), "expression", "from")
  expect_raised(rollup(book, by = month, a = alike(sum(v), shop, year, from = openned)), "column", "opened")
})
