orders <- data.frame(on = as.Date("2024-01-01") + 0:730, amount = rep(c(1, 2, 3), length.out = 731))
orders$shop <- rep(c("Skelby", "Thornmoor"), length.out = 731)
orders$shipped <- orders$on + 31
orders$paid <- orders$on < as.Date("2025-12-01")
orders$order_id <- rep(seq_len(366), each = 2L)[seq_len(731)]
book <- daybook(orders, on, calendars = list(fiscal = fiscal_calendar("July"), civil = civil_calendar()))
rows <- function(...) plain(rollup(book, ...))

test_that("running ends at the total, from either end, and starts again where it is said", {
  x <- rows(
    month, s = sum(amount), up = running(s), down = running(s, from = "end"),
    year_up = running(s, restart = year)
  )
  expect_identical(x$up, cumsum(x$s))
  expect_identical(x$down, rev(cumsum(rev(x$s))))
  expect_identical(x$year_up, stats::ave(x$s, format(as_period(x$month, year)), FUN = cumsum))
  grand <- rows(s = sum(amount), up = running(s))
  expect_identical(grand$up, grand$s)
})

test_that("a moving figure covers whole windows, or part of one when asked; moving 1 is the figure itself", {
  x <- rows(
    month, s = sum(amount), m1 = moving(s, 1), m3 = moving(s, 3),
    p3 = moving(s, 3, partial = TRUE), avg = moving(
      s, 3, using = mean
    )
  )
  expect_identical(x$m1, x$s)
  n <- nrow(x)
  expect_identical(x$m3, c(NA, NA, x$s[3:n] + x$s[2:(n - 1L)] + x$s[1:(n - 2L)]))
  expect_identical(x$p3[1:2], cumsum(x$s[1:2]))
  expect_equal(x$avg, x$m3 / 3)
  expect_raised(rows(month, m = moving(sum(amount))), "expression", "needs a number of periods")
  expect_raised(rows(month, m = moving(sum(amount), 3, using = mode)), "expression", "mean")
})

test_that("current looks at the whole period, change and growth at the one before, index at a base", {
  x <- rows(
    month, s = sum(amount), q = current(s, quarter), d = change(s, year),
    g = growth(s, year), i = index(s, "2024-03")
  )
  quarter <- format(as_period(x$month, quarter))
  expect_identical(x$q, stats::ave(x$s, quarter, FUN = sum))
  expect_identical(x$d[13:24], x$s[13:24] - x$s[1:12])
  expect_identical(x$g[13:24], x$s[13:24] / x$s[1:12] - 1)
  expect_identical(x$i, 100 * (x$s / x$s[3L]))
  expect_raised(rows(month, i = index(sum(amount), "2024-13")), "period", "not the name of a month")
  expect_raised(rows(month, i = index(sum(amount))), "expression", "the period that is 100")
})

test_that("growth on a base that is zero or negative is unknown, and noted", {
  few <- daybook(
    data.frame(on = as.Date(c("2024-01-05", "2024-02-05", "2025-01-05", "2025-02-05")),
      amount = c(-5, 5, 5, 10)), on
  )
  table <- rollup(few, month, g = growth(sum(amount), year))
  expect_identical(plain(table)$g[13:14], c(NA, 1))
  expect_output(print(table), "Growth on a base that is zero or negative is unknown")
})

test_that("only adds a condition, regardless drops some, each for its own figure", {
  limited <- only(book, paid, shop == "Skelby")
  x <- plain(
    rollup(limited, shop,
      n = count(), big = only(n, amount > 2), all = regardless(n, all),
      paid = regardless(n, shop), members = "seen"
    )
  )
  skelby <- orders$shop == "Skelby"
  expect_identical(x$n[1L], sum(skelby & orders$paid) + 0)
  expect_identical(x$big[1L], sum(skelby & orders$paid & orders$amount > 2) + 0)
  expect_identical(x$all, c(sum(skelby), sum(!skelby)) + 0)
  expect_identical(x$paid, c(sum(skelby & orders$paid), sum(!skelby & orders$paid)) + 0)
  dated <- plain(rollup(only(book, on >= "2025-06-01"), n = count(), all = regardless(n, dates)))
  expect_identical(dated$all, 731)
  shown <- plain(rollup(within_dates(book, "2025-06-01"), n = count(), all = regardless(n, dates)))
  expect_identical(c(shown$n, shown$all), c(214, 731))
  expect_raised(rows(n = regardless(count(), shp)), "column", "Did you mean \"shop\"?")
  expect_raised(rows(n = only(count(), shp == 1)), "column", "Did you mean \"shop\"?")
})

test_that("on reads the periods off another date", {
  x <- rows(month, n = count(), shipped = on(n, shipped))
  expect_identical(x$shipped[1L], 0)
  expect_identical(sum(x$shipped), sum(orders$shipped <= as.Date("2025-12-31")) + 0)
  expect_identical(x$shipped[12L], sum(format(orders$shipped, "%Y-%m") == "2024-12") + 0)
  expect_raised(rows(month, n = on(count(), shop)), "date", "holds no dates")
})

test_that("shares and wholes release the row's own values", {
  x <- rows(
    c(shop, year),
    s = sum(amount), t = overall(s), y = overall(s, within = year),
    sh = share(s), ys = share(s, within = year), ps = share(s, of = "parent"), totals = "all"
  )
  line <- x$.role == "line"
  expect_identical(x$t, rep(sum(orders$amount), nrow(x)))
  expect_identical(x$sh, x$s / sum(orders$amount))
  by_year <- stats::ave(x$s[line], format(x$year[line]), FUN = sum)
  expect_identical(x$y[line], by_year)
  expect_identical(x$ys[line], x$s[line] / by_year)
  by_shop <- stats::ave(x$s[line], x$shop[line], FUN = sum)
  expect_identical(x$ps[line], x$s[line] / by_shop)
  expect_raised(rows(shop, sh = share(sum(amount), within = depot)), "expression", "not an axis of this table")
  share_ly <- rows(
    c(shop, month),
    s = share(prior(sum(amount), year)), p = prior(share(sum(amount), within = month), year),
    q = prior(sum(amount), year), o = prior(overall(sum(amount), within = month), year)
  )
  expect_identical(share_ly$p, share_ly$q / share_ly$o)
})

test_that("rank puts the largest first, ties share the smaller number, unknown has none", {
  few <- daybook(data.frame(on = as.Date("2025-01-01") + 0:4, who = letters[1:5],
    amount = c(5, 9, 5, NA, 1)), on)
  x <- plain(rollup(few, who, m = mean(amount), r = rank(m), low = rank(m, from = "smallest")))
  expect_identical(x$r, c(2, 1, 2, NA, 4))
  expect_identical(x$low, c(2, 4, 2, NA, 1))
  y <- rows(c(year, shop), s = sum(amount), r = rank(s, within = year))
  expect_identical(y$r, as.vector(stats::ave(-y$s, format(y$year),
    FUN = function(v) rank(v, ties.method = "min"))))
})

test_that("running along a dimension goes on in the order shown, for sums, counts and means", {
  few <- daybook(
    data.frame(
      on = as.Date("2025-01-01") + 0:5, who = rep(letters[1:3], 2L),
      kind = rep(c("x", "y"), each = 3L), amount = 1:6
    ),
    on
  )
  x <- plain(
    rollup(
      few, who, s = running(sum(amount), along = who), m = running(mean(amount), along = who), n = running(
        count(), along = who
      )
    )
  )
  expect_identical(x$s, c(5, 12, 21))
  expect_identical(x$m, c(2.5, 3, 3.5))
  expect_identical(x$n, c(2, 4, 6))
  y <- plain(rollup(few, c(kind, who), s = running(sum(amount), along = who), totals = "all"))
  expect_identical(y$s, c(1, 3, 6, 6, 4, 9, 15, 15, 21))
})

test_that("finer figures come first: per day, per order, per trading day", {
  daily <- tapply(orders$amount, orders$on, sum)
  x <- rows(
    avg = mean(each(day, sum(amount))), best = max(each(day, sum(amount))),
    days = count(each(day, count())), mid = median(
      each(month, sum(amount))
    )
  )
  expect_identical(x$avg, mean(daily))
  expect_identical(x$best, max(daily))
  expect_identical(x$days, 731)
  expect_identical(x$mid, stats::median(tapply(orders$amount, format(orders$on, "%Y-%m"), sum)))
  per_order <- as.vector(tapply(orders$amount, orders$order_id, sum))
  y <- rows(shop, a = mean(each(order_id, sum(amount))), totals = "grand")
  by_shop <- tapply(orders$amount, list(orders$order_id, orders$shop), sum)
  expect_equal(y$a, c(colMeans(by_shop, na.rm = TRUE), mean(per_order)), ignore_attr = TRUE)
  months <- rows(month, a = mean(each(order_id, sum(amount))), y = ytd(mean(each(day, sum(amount)))))
  by_month <- tapply(orders$amount, list(orders$order_id, format(orders$on, "%Y-%m")), sum)
  expect_equal(months$a, unname(colMeans(by_month, na.rm = TRUE)))
  expect_identical(months$y[2L], mean(daily[1:60]))
})

test_that("days without orders count when asked, and trading days are those of the calendar", {
  sparse <- data.frame(on = as.Date(c("2026-01-01", "2026-01-05", "2026-01-09")), amount = c(3, 6, 9))
  open <- daybook(sparse, on, trading(civil_calendar(), closed = c("Saturday", "Sunday"))) |>
    as_of("2026-01-10")
  x <- plain(
    rollup(
      open, sold = mean(each(day, sum(amount))), all = mean(each(day, sum(amount), days = "all")),
      trading = mean(
        each(day, sum(amount), days = "trading")
      )
    )
  )
  expect_identical(unlist(x[1:3]), c(sold = 6, all = 1.8, trading = 18 / 7))
})

test_that("first, last, most common and extremes of dates give what they stand for", {
  few <- data.frame(
    on = as.Date(c("2025-01-03", "2025-01-01", "2025-01-03", "2025-01-02")), what = c("b", "a", "c", "b"),
    due = as.Date(c("2025-02-01", NA, "2025-01-20", "2025-03-01")), amount = c(1, 2, 3, 4), grade = factor(
      c("x", "y", "y", NA), levels = c("y", "x")
    )
  )
  table <- rollup(
    daybook(few, on),
    f = first(what), l = last(what), n = last(amount), mc = most_common(what),
    g = most_common(grade), lo = min(due), hi = max(on), d = last(due)
  )
  x <- plain(table)
  expect_identical(x$f, "a")
  expect_identical(x$l, "c")
  expect_identical(x$n, 3)
  expect_identical(x$mc, "b")
  expect_identical(x$g, "y")
  expect_identical(c(x$lo, x$hi, x$d), as.Date(c("2025-01-20", "2025-01-03", "2025-01-20")))
  expect_raised(rollup(daybook(few, on), x = 2 * first(what)), "expression", "cannot be used in arithmetic")
  expect_identical(plain(rollup(daybook(few, on), gap = max(due) - min(due)))$gap, 40)
})

test_that("R functions work on the rows of a cell, in R only", {
  x <- rows(
    shop, iqr = custom(stats::IQR, amount), n = custom(function(a, b) sum(a > 2 & b), amount, paid),
    totals = "grand"
  )
  expect_identical(x$iqr, c(tapply(orders$amount, orders$shop, stats::IQR),
    stats::IQR(orders$amount)) |> unname())
  expect_identical(x$n[3L], sum(orders$amount > 2 & orders$paid) + 0)
  expect_raised(rows(shop, x = custom(range, amount)), "expression", "one number for each cell")
  expect_raised(rows(shop, x = custom(stop, amount)), "expression", "cannot be worked out")
})

test_that("codes are refused as amounts unless forced", {
  expect_raised(rows(x = sum(order_id)), "amount", "looks like a code",
    "distinct(order_id)", "as_amount(order_id)")
  expect_raised(rows(x = mean(order_id)), "amount", "looks like a code")
  expect_identical(rows(x = sum(as_amount(order_id)))$x, sum(orders$order_id) + 0)
  expect_identical(rows(x = distinct(order_id))$x, 366)
  long <- data.frame(on = as.Date("2026-01-01") + 0:199, ticket = 100000 + 7 * 0:199)
  expect_raised(rollup(daybook(long, on), x = sum(ticket)), "amount", "looks like a code")
})

test_that("measures keep labels, formats and rules for totals, and can be kept in a set", {
  kpis <- measures(
    sales = measure(sum(amount), label = "Net sales", format = money("\u00a3", digits = 0)), half = sales / 2
  )
  table <- rollup(
    book, shop, kpis, mean_line = measure(sales / 1, total = of_shown(mean),
      description = "Mean of the shops."), totals = "grand"
  )
  x <- plain(table)
  expect_named(x, c("shop", "sales", "half", "mean_line", ".role"))
  expect_identical(x$mean_line[3L], mean(x$sales[1:2]))
  lines <- format(table, width = 100L)
  expect_match(lines[1L], "Net sales")
  expect_true(any(grepl("\u00a31,461", lines)))
  expect_true(any(grepl("Totals of mean line are the mean of the lines shown", lines)))
  expect_true(any(grepl("Mean line: Mean of the shops.", lines)))
  expect_output(print(kpis), "half  = sales/2")
  expect_identical(format_by(c(0.1234, -0.5, NA), percentage()), c("12.3%", "\u221250.0%", "\u2013"))
  expect_identical(format_by(-0.001, money("\u00a3")), "\u00a30.00")
  expect_raised(measure(sum(amount)), "argument", "stands inside a table")
  expect_raised(rollup(book, x = measure(sum(amount), total = of_shown(range))), "argument", "of_shown")
  expect_raised(rollup(book, x = measure(sum(amount), format = "pounds")), "argument", "percentage()")
  expect_raised(percentage(99), "argument", "from 0 to 10")
})

test_that("several currencies in one figure are refused, unless the table tells them apart", {
  mixed <- transform(orders, currency = rep(c("GBP", "EUR"), length.out = 731))
  money_book <- daybook(mixed, on, currency = currency)
  expect_raised(rollup(money_book, s = sum(amount)), "currencies", "EUR and GBP")
  expect_no_match(format(rollup(money_book, currency, s = sum(amount)), width = 100L)[6L], "added together")
})

test_that("a plan says what will be folded, and too large a request fails before any work", {
  plan <- explain_plan(book, c(shop, month), s = sum(amount), y = ytd(s),
    p = only(s, paid), d = distinct(order_id))
  text <- paste(format(plan), collapse = "\n")
  expect_match(text, "731 lines, read 2 times")
  expect_match(text, "amount: sum")
  expect_match(text, "order_id: rows")
  expect_match(text, "2 shop")
  withr::local_options(drystack.memory = 1000)
  expect_raised(rollup(book, c(order_id, day), s = sum(amount)), "memory", "are allowed", "coarser periods")
})

test_that(
  "amounts too far apart for the memory allowed end in an error of ours; a few of them fit", {
  cells <- 20000L
  orders <- data.frame(on = as.Date("2026-01-01"), k = rep(seq_len(cells), 3L),
    x = rep(c(1e300, 1 / 3, 1e-300), each = cells))
  ask <- function(orders) rollup(daybook(orders, on), k, s = sum(as_amount(x)))$figures$s
  withr::local_options(drystack.memory = 8e6)
  expect_raised(ask(orders), "memory", "too far apart", "fewer dimensions")
  orders$x[orders$k > 3L] <- 1 / 3
  expect_identical(ask(orders), c(1e300, 1e300, 1e300, rep(1, cells - 3L)))
})

test_that("one pass serves every lens and total over the same conditions", {
  plan <- explain_plan(
    book, c(shop, month), s = sum(amount), ly = prior(s, year),
    y = ytd(s), yl = prior(ytd(s), year), r = running(s), m = moving(
      s, 12
    ),
    sh = share(s), totals = "all"
  )
  expect_length(plan$jobs, 1L)
})

test_that("medians and quantiles of many values agree with base R, ties and infinities among them", {
  withr::local_seed(5L)
  draws <- list(
    stats::rnorm(9001L), sample.int(7L, 9000L, TRUE) + 0, c(rep(1e6, 5000L), stats::runif(4001L)),
    rexp(5000L)^9
  )
  for (x in draws) {
    many <- daybook(data.frame(on = as.Date("2026-01-01"), x = c(x, NA, Inf)), on)
    row <- plain(
      rollup(
        many, m = median(x), q1 = quantile(x, 0.1), q9 = quantile(x, 0.999),
        lo = quantile(x, 0), hi = quantile(x, 1)
      )
    )
    expect_identical(row$m, stats::median(x))
    expect_equal(unlist(row[2:5]), stats::quantile(x, c(0.1, 0.999, 0, 1)),
      ignore_attr = TRUE, tolerance = 1e-15)
  }
})

test_that("constants stand as measures, under lenses on the table and in windows too", {
  x <- rows(month, five = 5, r = rank(five), w = moving(five, 2, using = mean), g = growth(five, year))
  expect_identical(unlist(unique(x[c("five", "r", "w", "g")])), c(five = 5, r = 1, w = 5, g = 0))
})

test_that("totals of text or dates cannot be combined from the lines shown", {
  expect_raised(rows(shop, f = measure(min(on), total = of_shown(min)), totals = "grand"),
    "expression", "gives no numbers")
  expect_raised(rows(shop, f = measure(first(shop), total = of_shown(mean)), totals = "grand"),
    "expression", "gives no numbers")
})

test_that("running along an axis takes any aggregate, row lists too", {
  orders <- untidy_orders(400L, 31L)
  book <- daybook(orders, on)
  x <- plain(rollup(book, c(channel, depot),
    buyers = running(
      distinct(customer), along = depot
    ), mid = running(median(amount), along = depot), total = running(sum(amount), along = depot)
  ))
  dated <- orders[!is.na(orders$on), ]
  for (i in seq_len(nrow(x))) {
    up_to <- x$depot[x$channel == x$channel[i] & seq_len(nrow(x)) <= i]
    here <- dated[dated$channel == x$channel[i] & ifelse(is.na(dated$depot),
      "(none)", dated$depot) %in% up_to, ]
    expect_identical(x$buyers[i], length(unique(here$customer)) + 0)
    expect_identical(x$mid[i], stats::median(here$amount, na.rm = TRUE))
    expect_equal(x$total[i], sum(here$amount, na.rm = TRUE))
  }
})

test_that("regardless drops the daybook's conditions, not those of lenses", {
  book <- only(daybook(few_orders(), on), amount > 15)
  x <- rollup(book, sent = only(regardless(count(), amount), amount > 25), all = regardless(count(), amount))
  expect_identical(c(x$figures$sent, x$figures$all), c(3, 6))
})
