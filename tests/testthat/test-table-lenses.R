# Lenses on the table: running along any axis, shares of parents, ranks, and what they refuse.

sold <- function() {
  data.frame(
    on = as.Date(c("2026-01-05", "2026-01-20", "2026-02-03", "2026-02-10", "2026-03-01", "2026-04-15")),
    grp = c("a", "b", "a", "c", "b", "c"), customer = c("x", "y", "x", "x", "z", "y"),
    v = c(1, 2, 4, 8, 16, 32)
  )
}

test_that("running along a period accumulates along it, in rollups and in columns, from either end", {
  book <- daybook(sold(), on)
  x <- plain(rollup(book, month, s = sum(v), along = running(s, along = month),
    back = running(s, along = month, from = "end")))
  expect_identical(x$along, cumsum(x$s))
  expect_identical(x$back, rev(cumsum(rev(x$s))))
  nested <- plain(rollup(book, c(quarter, month), s = sum(v), along = running(s, along = month)))
  expect_identical(nested$along, c(3, 15, 31, 32))
  whole <- plain(rollup(book, c(quarter, month), s = sum(v), along = running(s, along = month, within = all)))
  expect_identical(whole$along, c(3, 15, 31, 63))
  cross <- plain(crosstab(book, grp, month, s = running(sum(v), along = month), totals = "grand"))
  single <- plain(crosstab(book, grp, month, s = sum(v)))
  expect_identical(unname(as.matrix(cross[1:3, 2:5])), unname(t(apply(as.matrix(single[2:5]), 1L, cumsum))))
  lags <- plain(rollup(book, month, p = running(prior(sum(v), month), along = month)))
  expect_identical(lags$p[-1L], cumsum(x$s)[-4L])
  medians <- plain(rollup(book, month, m = running(median(v), along = month)))
  expect_identical(medians$m, c(median(c(1, 2)), median(c(1, 2, 4, 8)),
    median(c(1, 2, 4, 8, 16)), median(sold()$v)))
})

test_that("running along a dimension from the end is the whole less what comes before", {
  book <- daybook(sold(), on)
  x <- plain(rollup(book, grp, s = sum(v), up = running(s, along = grp),
    down = running(s, along = grp, from = "end")))
  expect_identical(x$up, cumsum(x$s))
  expect_identical(x$down, rev(cumsum(rev(x$s))))
  d <- plain(rollup(book, grp, d = running(distinct(customer), along = grp, from = "end"),
    sort = smallest_first(sum(v))))
  expect_identical(d$d, c(3, 3, 2))
  table <- rollup(book, grp, down = running(sum(v), along = grp, from = "end"))
  for (row in 1:3) expect_identical(sum(behind(table, row)$v), plain(table)$down[row])
})

test_that("a running figure over the values of a column accumulates like its parts", {
  book <- daybook(sold(), on)
  x <- rollup(book, grp, s = sum(v), run = running(sum(each(customer, sum(v))), along = grp),
    most = running(max(each(customer, sum(v))), along = grp))
  expect_identical(plain(x)$run, cumsum(plain(x)$s))
  expect_identical(plain(x)$most, c(5, 16, 34))
  for (row in 1:3) expect_identical(sum(behind(x, row, "run")$v), plain(x)$run[row])
  days <- plain(rollup(book, grp, run = running(sum(each(day, sum(v))), along = grp)))
  expect_identical(days$run, cumsum(plain(x)$s))
})

test_that("a share of the parent is, for a subtotal of the first level, its share of the grand total", {
  x <- plain(rollup(daybook(sold(), on), c(grp, customer), s = sum(v),
    p = share(s, of = "parent"), totals = "all"))
  first <- x$.role == "subtotal"
  expect_identical(x$p[first], x$s[first] / 63)
  expect_identical(x$p[x$.role == "total"], 1)
  line <- x[x$.role == "line", ]
  expect_identical(line$p, line$s / ave(line$s, line$grp, FUN = sum))
})

test_that("what looks at other rows cannot run along them, and says so by name", {
  book <- daybook(sold(), on)
  expect_raised(rollup(book, grp, x = running(overall(sum(v)), along = grp)), "expression", "overall(sum(v))",
    "looks at other rows")
  expect_raised(rollup(book, grp, x = running(rank(sum(v)), along = grp)), "expression", "rank(sum(v))")
  expect_raised(rollup(book, month, x = sum(each(month, running(sum(v), along = month)))),
    "expression", "inside")
  share <- plain(rollup(book, grp, s = sum(v), abc = running(share(s), along = grp)))
  expect_equal(share$abc, cumsum(share$s) / 63)
})

test_that("members put together have no rank, and no combination of lenses ends in a message of R's own", {
  book <- daybook(sold(), on, calendars = list(fiscal = fiscal_calendar("July"), civil = civil_calendar()))
  kept <- plain(rollup(book, grp, s = sum(v), r = rank(s), keep = keep_top(1, s)))
  expect_identical(kept$r, c(1, NA))
  leaves <- c("sum(v)", "count()", "median(v)", "distinct(customer)",
    "last(v)", "mean(each(customer, sum(v)))", "max(each(day, sum(v)))",
              "custom(max, v)", "weighted_mean(v, v)", "most_common(v)")
  around <- c(
    "running(%s, along = grp)", "running(%s, along = month)",
    "running(%s, along = grp, within = all, from = \"end\")", "ytd(%s)", "prior(%s, month)",
    "share(%s)", "share(%s, of = \"parent\")", "overall(%s, within = month)", "rank(%s, within = month)",
    "moving(%s, 2)", "moving(%s, 2, using = mean)", "on(%s, on)",
    "regardless(%s, all)", "only(%s, v > 2)", "growth(%s, month)", "index(%s, \"2026-02\")",
    "mean(each(month, %s))", "sum(each(customer, %s))", "or_zero(%s)", "running(%s)",
    "current(%s, quarter)"
  )
  withr::local_seed(6)
  outcome <- vapply(seq_len(trials(3000L)), function(i) {
    text <- sample(leaves, 1L)
    for (k in seq_len(sample(1:3, 1L))) text <- sprintf(sample(around, 1L), text)
    kind <- sample(c("rollup", "crosstab"), 1L)
    measures <- list(m = said(str2lang(text), environment()))
    across <- kind == "crosstab"
    rows <- sample(list(list(said("grp")), list(said("grp"), said("month")), list(said("month")),
      list(said("day_of_week"))), 1L)[[1L]]
    tryCatch(
      {
        x <- make_table(new_request(kind,
          rows = rows, cols = if (across) list(said("customer")) else list(), measures = measures,
          totals = sample(c("none", "all"), 1L),
          keep = if (!across && identical(rows[[1L]]$expr, "grp") && i %% 3L == 0L) keep_top(2, sum(v))
        ), book)
        told <- explain(x, 1L, if (across) names(plain(x))[length(rows) + 1L] else "m")
        shown <- utils::tail(strsplit(told$title, ":")[[1L]], 1L)
        same <- identical(as.numeric(told$value), as.numeric(told$steps$value[1L])) ||
          nzchar(told$steps$text[1L])
        if (same || isTRUE(all.equal(as.numeric(told$value), told$steps$value[1L])))
          "figure" else paste("told other:", text)
      },
      drystack_error = function(e) "told",
      error = function(e) paste("R:", text, conditionMessage(e))
    )
  }, "")
  expect_identical(utils::head(unique(setdiff(outcome, c("figure", "told"))), 8L), character())
  expect_gt(sum(outcome == "figure"), length(outcome) / 4)
})

test_that("a running figure within an axis goes on wherever that axis stands", {
  orders <- data.frame(on = as.Date("2026-01-05") + c(0, 0, 1, 1), g = c("A", "A", "B", "B"),
    ch = c("web", "tel", "web", "tel"), v = c(1, 2, 4, 8))
  book <- daybook(orders, on)
  expected <- c("A tel" = 2, "A web" = 1, "B tel" = 10, "B web" = 5)
  tables <- list(rollup(book, c(g, ch), r = running(sum(v), along = g, within = ch)),
    rollup(book, c(ch, g), r = running(sum(v), along = g, within = ch)))
  for (x in tables) {
    x <- plain(x)
    expect_identical(x$r[order(paste(x$g, x$ch))], unname(expected))
  }
  wide <- as.data.frame(crosstab(book, g, ch, x = running(sum(v), along = g, within = ch)), shape = "long")
  expect_identical(wide$x[order(paste(wide$g, wide$ch))], unname(expected))
})

test_that("a share without limits on dates is of the whole without limits", {
  book <- within_dates(daybook(harrowgill()$orders, ordered_on), latest(2, month))
  x <- plain(rollup(only(book, channel != "web"), channel, out = regardless(share(sum(amount)), dates),
    inside = share(regardless(sum(amount), dates)), all = regardless(overall(sum(amount)), all)))
  expect_equal(x$out, x$inside, tolerance = 1e-12)
  expect_equal(sum(x$out), 1, tolerance = 1e-12)
  expect_equal(x$all, rep(sum(harrowgill()$orders$amount[!is.na(harrowgill()$orders$ordered_on)],
    na.rm = TRUE), 2),
    tolerance = 1e-9)
})

test_that("what two calendars cut is whole without limits on dates, and the same where there are none", {
  book <- daybook(harrowgill()$orders, ordered_on,
    calendars = list(civil = civil_calendar(), iso = iso_week_calendar()))
  x <- plain(rollup(book, c(month, iso$week), s = sum(amount), r = regardless(s, dates)))
  expect_identical(x$r, x$s)
  cut <- plain(rollup(within_dates(book, "2026-01-10", "2026-02-10"), c(month, iso$week), s = sum(amount),
    r = regardless(s, dates)))
  whole <- x$s[match(paste(cut$month, cut$iso_week), paste(x$month, x$iso_week))]
  expect_identical(cut$r, whole)
  expect_lt(cut$s[1L], cut$r[1L])
})

test_that("the row of an index's base is 100, whatever is indexed, and no other is for its first day", {
  book <- within_dates(daybook(harrowgill()$orders, ordered_on), "2025-01-10", "2025-12-31")
  x <- plain(rollup(book, c(quarter, month), s = sum(amount), i = index(s, "2025-01"),
    sh = index(share(s), "2025-01"),
    ov = index(overall(s, within = month), "2025-01"), rk = index(rank(s), "2025-01"), totals = "all"))
  first <- which(!is.na(x$month) & format(x$month, "key") == "2025-01")
  for (name in c("i", "sh", "ov", "rk")) expect_equal(x[[name]][first], 100)
  expect_equal(x$i, 100 * x$s / x$s[first], tolerance = 1e-12)
  outside <- rollup(book, month, i = index(sum(amount), "2019-01"))
  expect_true(all(is.na(plain(outside)$i)))
  expect_match(all_notes(outside), "2019-01, which stands for 100, lies outside the record", all = FALSE)
})

test_that("occurrences run along parts of time", {
  x <- plain(rollup(daybook(harrowgill()$orders, ordered_on), day_of_week, o = occurrences(),
    r = running(occurrences(), along = day_of_week)))
  expect_identical(x$r, cumsum(x$o))
  # Months with a Monday or a Tuesday are counted once, and days come round no oftener for more depots.
  book <- daybook(harrowgill()$orders, ordered_on)
  x <- plain(rollup(book, day_of_week, o = running(occurrences(month), along = day_of_week)))
  expect_length(unique(x$o), 1L)
  x <- plain(rollup(book, depot, o = occurrences(day), r = running(occurrences(day), along = depot)))
  expect_identical(x$r, x$o)
})

test_that("ranks count the periods that are kept, running figures all, and totals have none", {
  book <- daybook(harrowgill()$orders, ordered_on)
  kept <- rollup(book, month, s = sum(amount), r = rank(s), t = running(s), keep = keep_top(3, s),
    totals = "grand")
  x <- plain(kept)
  all <- plain(rollup(book, month, s = sum(amount), t = running(s)))
  expect_identical(sort(x$r[!is.na(x$month)]), c(1, 2, 3))
  expect_true(is.na(x$r[is.na(x$month)]))
  expect_identical(x$t[!is.na(x$month)], all$t[match(x$month[!is.na(x$month)], all$month)])
  expect_match(all_notes(kept), "counts all periods to date", all = FALSE)
})

test_that("a member whose figure is unknown is never kept, and the note says how many are", {
  orders <- data.frame(on = as.Date(c("2025-01-05", "2026-01-05", "2026-01-05", "2025-02-01")),
    who = c("a", "a", "b", "c"), v = c(1, 3, 50, 7))
  book <- daybook(orders, on)
  x <- rollup(book, who, s = sum(v), keep = keep_top(3, growth(sum(v), year), others = NULL))
  expect_identical(plain(x)$who, "a")
  expect_match(all_notes(x), "1 of 3 members of who shown; 2 have an unknown figure", all = FALSE)
  y <- rollup(book, who, s = sum(v), keep = keep_top(3, growth(sum(v), year)), totals = "grand")
  expect_identical(plain(y)$s, c(4, 57, 61))
  none <- rollup(book, who, s = sum(v), keep = keep_top(2, prior(sum(v), year, 9), others = NULL))
  expect_identical(nrow(plain(none)), 0L)
})

test_that("what two periods share is never part-way for that, and is said in a sheet", {
  calendars <- list(fiscal = fiscal_calendar("July"), civil = civil_calendar())
  book <- daybook(harrowgill()$orders, ordered_on, calendars)
  x <- crosstab(within_dates(book, "2026-01-01"), rows = month, cols = civil$week, s = sum(amount))
  expect_false(any(x$part_way))
  expect_match(format(x), "2026-01 Jan", all = FALSE)
})

test_that("overall(using = ) combines the figures of the rows shown, on lines and totals alike", {
  long <- daybook(few_orders(), on)
  for (fn in c("mean", "max", "median", "count", "sum")) {
    x <- plain(rlang::inject(rollup(long, by = c(depot, quarter), s = sum(amount), w = overall(s,
      using = !!as.name(fn)),
      g = overall(s, within = depot, using = !!as.name(fn)), totals = "all")))
    lines <- x[x$.role == "line", ]
    combine <- if (fn == "count") length else get(fn)
    expect_equal(x$w, rep(combine(lines$s), nrow(x)))
    own <- vapply(split(lines$s, lines$depot), combine, 0)
    expect_equal(x$g, ifelse(is.na(x$depot), combine(lines$s), unname(own[as.character(x$depot)])))
  }
  kept <- plain(rollup(long, by = depot, s = sum(amount), w = overall(s, using = max), keep = keep_top(1,
    -s, others = NULL)))
  expect_identical(kept$w, kept$s)
  cells <- as.data.frame(crosstab(long, depot, quarter, s = sum(amount), w = overall(s, within = quarter,
    using = mean)),
    shape = "long")
  expect_equal(cells$w, stats::ave(cells$s, format(cells$quarter)))
  expect_raised(rollup(long, by = depot, m = mean(each(month, overall(sum(amount), using = mean)))),
    "expression",
    "rows of the table")
  expect_raised(rollup(long, by = depot, m = overall(sum(amount), using = best)), "expression", "using")
  table <- rollup(long, by = depot, s = sum(amount), w = overall(s, using = mean))
  expect_identical(nrow(behind(table, row = 1L, measure = "w")), nrow(few_orders()[!is.na(few_orders()$on),
    ]))
})
