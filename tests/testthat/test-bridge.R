# bridge(): a figure before and now and what lies between, held against a plain reckoning
# by members.

bridged_orders <- function(seed) {
  set.seed(seed)
  n <- 160L
  data.frame(d = as.Date("2024-01-01") + sample(0:730, n, TRUE), depot = sample(c("N", "S"), n, TRUE),
    product = sample(c("a", "b", "c", "d", NA), n, TRUE, c(4, 3, 2, 1, 1)), qty = sample(c(-2:9, NA), n,
      TRUE),
    amt = round(stats::rnorm(n, 80, 50), 2))
}

# The parts by hand: list by name, before they are rounded.
parts_by_hand <- function(then, now, class = NULL) {
  then$product <- ifelse(is.na(then$product), "-", then$product)
  now$product <- ifelse(is.na(now$product), "-", now$product)
  both <- intersect(then$product, now$product)
  of <- function(x, p, what) sum(x[[what]][x$product == p], na.rm = TRUE)
  a0 <- vapply(both, of, 0, x = then, what = "amt")
  a1 <- vapply(both, of, 0, x = now, what = "amt")
  q0 <- vapply(both, of, 0, x = then, what = "qty")
  q1 <- vapply(both, of, 0, x = now, what = "qty")
  priced <- q0 != 0
  mean <- if (sum(q0[priced]) != 0) sum(a0[priced]) / sum(q0[priced]) else 0
  p0 <- a0[priced] / q0[priced]
  more <- q1[priced] - q0[priced]
  list(volume = sum(more) * mean, mix = sum(more * (p0 - mean)),
    price = sum(a1[priced] - p0 * q1[priced]) + sum(a1[!priced] - a0[!priced]),
    new = sum(now$amt[!now$product %in% both]), gone = -sum(then$amt[!then$product %in% both]))
}

test_that("the parts are those reckoned by hand, in whole cents, and close in every row", {
  for (seed in 1:6) {
    orders <- bridged_orders(seed)
    book <- as_of(daybook(orders, d), "2025-12-31") |> within_dates("2025-01-01")
    x <- rollup(book, c(depot, half), bridge(sum(amt), sum(qty), over = product, to = year), totals = "all")
    rows <- plain(x)
    within <- function(row, year) {
      half <- format(as.data.frame(x)$half[row])
      first <- if (is.na(rows$half[row]) || grepl("H1", half)) "01-01" else "07-01"
      last <- if (is.na(rows$half[row]) || grepl("H2", half)) "12-31" else "06-30"
      own <- is.na(rows$depot[row]) | orders$depot == rows$depot[row]
      orders[own & orders$d >= as.Date(paste0(year, "-", first)) & orders$d <= as.Date(paste0(year, "-",
        last)), ]
    }
    for (row in seq_along(rows$before)) {
      hand <- unlist(parts_by_hand(within(row, 2024), within(row, 2025)))
      found <- vapply(names(hand), function(part) rows[[part]][row], 0)
      expect_true(all(abs(found - hand) < 0.011), info = paste(seed, row))
      expect_equal(unname(round(found, 2)), unname(found), tolerance = 1e-12)
      expect_equal(rows$before[row] + sum(found), rows$now[row])
    }
    expect_no_error(tie_out(x))
  }
})

test_that("every engine gives the same, and without quantities there is one change", {
  skip_if_not_installed("RSQLite")
  orders <- bridged_orders(7)
  file <- withr::local_tempfile(fileext = ".csv")
  utils::write.csv(orders, file, row.names = FALSE, na = "")
  ask <- function(orders) plain(rollup(within_dates(as_of(daybook(orders, d), "2025-12-31"), "2025-01-01"),
    depot,
    bridge(sum(amt), sum(qty), over = product, to = year), customers = bridge(sum(amt), over = product,
      to = year),
    totals = "grand"))
  memory <- ask(orders)
  expect_equal(memory$customers_change, memory$volume + memory$mix + memory$price)
  expect_equal(ask(file), memory)
  expect_equal(ask(sqlite_orders(orders)), memory)
})

test_that("from a target to the actual figure, member by member of both records", {
  orders <- data.frame(d = as.Date("2026-01-10"), product = c("a", "b"), qty = c(10, 5), amt = c(110, 45))
  plan <- data.frame(m = "2026-01", product = c("a", "c"), units = c(8, 4), value = c(80, 20))
  book <- as_of(alongside(daybook(orders, d), plan = plan, date = m), "2026-01-31")
  rows <- plain(rollup(book, month, bridge(sum(amt), sum(qty), over = product, from = of(plan, sum(value)),
    from_quantity = of(plan, sum(units)))))
  expect_identical(unlist(rows[c("before", "volume", "mix", "price", "new", "gone", "now")],
    use.names = FALSE),
    c(100, 20, 0, 10, 45, -20, 155))
})

test_that("quantities of several units are named, or counted within each", {
  orders <- data.frame(d = as.Date(c("2025-01-10", "2025-01-10", "2026-01-10", "2026-01-10")),
    product = c("a", "b", "a", "b"), unit = c("t", "bag", "t", "bag"), qty = c(1, 100, 2, 100), amt = c(100,
      50, 200, 50))
  book <- as_of(daybook(orders, d), "2026-01-31") |> within_dates("2026-01-01")
  x <- rollup(book, month, bridge(sum(amt), sum(qty), over = product, to = year))
  expect_match(gsub("\\s+", " ", paste(format(x), collapse = " ")), "Quantities are of 2 units")
  within <- plain(rollup(book, month, bridge(sum(amt), sum(qty), over = product, to = year, units = unit)))
  expect_identical(c(within$volume, within$mix, within$price), c(100, 0, 0))
  mixed <- orders
  mixed$unit[3L] <- "bag"
  expect_error(rollup(within_dates(as_of(daybook(mixed, d), "2026-01-31"), "2026-01-01"), month,
    bridge(sum(amt), sum(qty), over = product, to = year, units = unit)), "several values",
    class = "drystack_error_expression")
})

test_that("it is said in commands and reports too, drawn as steps, and what is wrong is told", {
  folder <- yard_folder()
  withr::local_dir(folder)
  book <- daybook("orders.csv", ordered_on) |> within_dates("2025-01-01", "2025-12-31")
  x <- rollup(book, depot, move = bridge(sum(amount), sum(quantity), over = product_id, to = year),
    totals = "grand")
  expect_identical(attr(suppressMessages(figure(x)), "drystack")$kind, "steps")
  as_standing(x, "bridge.yml")
  built <- build_report("bridge.yml", out = "out", formats = "csv")
  again <- utils::read.csv(list.files("out", "csv$", full.names = TRUE)[1L])
  expect_equal(again$move_price, plain(x)$move_price)
  writeLines(c("drystack: 1", "orders: {file: orders.csv, date: ordered_on}",
    "shown: {from: 2025-01-01, to: 2025-12-31}",
    "measures: {move: 'bridge(sum(amount), sum(quantity), over = product_id, to = year)'}",
    "page:", "- rollup: {by: depot, show: move, totals: grand}",
    "- figure: {by: depot, show: move, kind: bars}"), "said.yml")
  said <- build_report("said.yml", out = "said", formats = "csv")
  expect_equal(utils::read.csv(list.files("said", "csv$", full.names = TRUE)[1L])$move_price,
    plain(x)$move_price)
  expect_length(plain(rollup(book, bridge(sum(amount), over = product_id, to = year)))$now, 1L)
  expect_error(rollup(book, depot, bridge(sum(amount))), class = "drystack_error_expression")
  expect_error(rollup(book, depot, p = effect(mean(amount), over = product_id, to = year, part = "new")),
    class = "drystack_error_expression")
  expect_error(rollup(book, depot, p = effect(sum(amount), over = product_id, to = year, part = "volume")),
    "change",
    class = "drystack_error_expression")
})

test_that("the explorer offers it, and takes it typed, as its measures", {
  base <- explored_orders()
  seen <- seen_after(base, list(do = "add_measure", text = "bridge(sum(amount), over = depot, to = year)"))
  expect_null(seen$error)
  expect_identical(utils::tail(names(seen$table$figures), 5L), c("before", "change", "new", "gone", "now"))
  menu <- explored_menu(seen_after(base), list(menu = "measure", search = "volume, mix and price"))
  offered <- vapply(items_of(menu), function(item) item$act$text, "")
  expect_match(offered, "bridge\\(.*over = product_id, to = year\\)")
})

test_that("without rows there are no parts, and figures it does not lie between are no bridge", {
  orders <- data.frame(d = as.Date(c("2025-01-10", "2026-01-10")), product = "a", qty = 1, amt = c(10, 12))
  book <- within_dates(as_of(daybook(orders, d), "2026-01-31"), "2026-01-01")
  none <- rollup(only(book, amt > 1e6), product, bridge(sum(amt), sum(qty), over = product, to = year))
  expect_identical(nrow(as.data.frame(none)), 0L)
  between <- rollup(book, month, x = count(), change = effect(sum(amt), over = product, to = year,
    part = "change"),
    new = effect(sum(amt), over = product, to = year, part = "new"),
    gone = effect(sum(amt), over = product, to = year, part = "gone"), z = count())
  expect_no_error(tie_out(between))
  listed <- listing(book, product, d, bridge(sum(amt), over = product, to = year))
  expect_no_error(tie_out(listed))
})
