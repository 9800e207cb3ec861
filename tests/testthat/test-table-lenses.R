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
