book <- daybook(untidy_orders(1200L, 21), on, calendars = list(fiscal = fiscal_calendar("July"),
  civil = civil_calendar())) |>
  work_out(both = amount + 1)

asked <- list(
  rollup(book, c(depot, quarter), s = sum(amount), totals = "all"),
  rollup(book, c(depot, month), s = ytd(sum(amount))),
  rollup(book, quarter, s = prior(ytd(sum(amount)), year)),
  rollup(book, c(channel, month), s = moving(sum(amount), 3)),
  rollup(book, c(channel, month), s = running(sum(amount))),
  rollup(only(book, paid), c(customer, year), s = only(sum(amount), quantity > 5),
    keep = keep_top(4, count())),
  rollup(only(book, paid), depot, s = regardless(sum(amount), paid), totals = "grand"),
  rollup(book, depot, s = running(sum(amount), along = depot), sort = largest_first(count())),
  rollup(within_dates(book, latest(2, quarter)), c(depot, month), s = ytd(sum(amount), civil))
)

test_that("the order lines behind a figure reproduce it, for any measure and row", {
  set.seed(4)
  for (x in asked) {
    data <- plain(x)
    for (row in sample.int(nrow(data), min(8L, nrow(data)))) {
      lines <- behind(x, row)
      expected <- if (is.na(data$s[row])) 0 else data$s[row]
      expect_equal(sum(lines$amount, na.rm = TRUE), expected, tolerance = 1e-12)
      expect_false(anyDuplicated(lines$.line) > 0L)
    }
  }
})

test_that("lines with a missing amount are among them, and a cross-tab's cells have their own", {
  x <- crosstab(book, depot, channel, n = count(), known = count(amount), totals = "grand")
  data <- plain(x)
  for (column in c("web n", "Total n")) for (row in 1:5) expect_identical(nrow(behind(x, row, column)) + 0,
    data[row, column])
  expect_true(anyNA(behind(x, 5L, "Total n")$amount))
})

test_that("a figure of several parts gives the lines of each", {
  x <- rollup(book, quarter, s = sum(amount), change = s - prior(s, year))
  lines <- behind(x, 9L, "change")
  parts <- split(lines$amount, lines$.part)
  expect_length(parts, 2L)
  expect_equal(abs(diff(vapply(parts, sum, 0, na.rm = TRUE)))[[1L]],
    abs(plain(x)$change[9L]), tolerance = 1e-12)
})

test_that(
  "an explanation names the days, the members, the scope and the lines, with the numbers of its parts", {
  x <- rollup(only(book, paid), c(depot, quarter), s = sum(amount), ratio = s / prior(s, year))
  row <- which(plain(x)$depot == "Skelby")[8L]
  told <- explain(x, row, "ratio")
  text <- gsub(" +", " ", paste(format(told, width = 200L), collapse = "\n"))
  expect_match(text, "ratio: depot Skelby, quarter FY2025 Q1")
  expect_match(text, "lines from 1 July 2024 to 30 September 2024, depot Skelby, where paid", fixed = TRUE)
  expect_match(text, "1 year earlier", fixed = TRUE)
  expect_match(text, "lines from 1 July 2023 to 30 September 2023", fixed = TRUE)
  expect_identical(told$steps$value[1L], plain(x)$ratio[row])
  leaves <- told$steps$value[grepl("^s: |sum", told$steps$expression)]
  expect_equal(leaves[1L] / leaves[2L], plain(x)$ratio[row])
  counts <- as.numeric(sub(",", "", sub(" lines.*", "", grep("lines from", told$steps$words, value = TRUE))))
  expect_identical(sum(counts), nrow(behind(x, row, "ratio")) + 0)
})

test_that("every kind of measure can be explained, on every kind of table", {
  measures <- c(
    "overall(sum(amount), within = depot)", "share(sum(amount))",
    "rank(sum(amount))", "max(each(day, sum(amount)))", "mean(each(customer, sum(amount)))",
    "growth(sum(amount), year)", "moving(sum(amount), 3, using = mean)", "index(sum(amount), \"2024-01\")",
    "current(count(), quarter)", "last(channel)", "weighted_mean(amount, quantity)", "on(count(), on)",
    "regardless(count(), dates)", "2 * count()"
  )
  for (text in measures) {
    measure <- list(m = said(str2lang(text), environment()))
    x <- make_table(new_request("rollup", rows = list(said("depot"), said("month")),
      measures = measure), book)
    told <- format(explain(x, 20L))
    expect_match(told[1L], "^m: depot ")
    expect_gt(length(told), 1L)
  }
  h <- headlines(book, a = mtd(sum(amount)))
  expect_match(format(explain(h, 1L, "before"))[1L], "before a")
})

test_that("tables tie out, and one that does not fails loudly with the figures", {
  for (x in asked) expect_true(all(tie_out(x)$ok %in% c(TRUE, NA)))
  x <- crosstab(book, c(depot, channel), quarter, n = count(),
    s = sum(amount) - 2 * count(), m = mean(amount), totals = "all")
  done <- as.data.frame(tie_out(x))
  expect_identical(sum(done$ok, na.rm = TRUE), 5L)
  expect_match(done$why[done$measure == "m"], "do not add up")
  x$rows$figures$n[3L] <- x$rows$figures$n[3L] + 1
  x$figures$n <- x$rows$figures$n
  expect_raised(tie_out(x), "tie_out", "does not tie out", "\"n\"")
  changed <- rollup(book, depot, s = sum(amount))
  other <- work_out(book, amount = amount + 1)
  changed$book <- changed$source <- other
  changed$ask$measures$s$tree$args[[1L]]$id <- other$columns[["amount"]]
  expect_raised(tie_out(changed), "tie_out", "build it again")
})

test_that("rows and figures that are not there are errors", {
  x <- asked[[1L]]
  expect_raised(behind(x, 0L), "argument", "from 1 to")
  expect_raised(behind(x, 1e6), "argument", "`row`")
  expect_raised(explain(x, 1L, "sales"), "argument", "no figure \"sales\"")
  expect_raised(explain(rollup(book, depot, a = count(), b2 = count()), 1L), "argument", "which figure")
  expect_raised(explain(plain(x), 1L), "argument", "must be a table")
  expect_raised(tie_out(1), "argument", "must be a table")
})

test_that("right tables near the limits of a double tie out, wrong ones do not", {
  orders <- data.frame(
    on = as.Date("2026-01-05") + 0:3, huge = c(1e308, 1e308, -1e308, 1), apart = c(1e300, 1, -1e300, 1e-300),
    tiny = c(1e-300, 2e-300, -1e-300, 5e-301), spread = c(1e155, -1e155, 1, 2)
  )
  book <- daybook(orders, date = on)
  whole <- rollup(book, by = month, h = sum(huge), a = sum(apart),
    t = sum(tiny), v = var(spread), totals = "grand")
  expect_identical(as.data.frame(whole)$h, c(1e308, 1e308))
  expect_identical(as.data.frame(whole)$a, c(1, 1))
  expect_identical(as.data.frame(whole)$v, c(NA_real_, NA_real_))
  expect_match(all_notes(whole), "beyond what a number can hold", all = FALSE)
  expect_true(all(tie_out(whole)$ok %in% c(TRUE, NA)))
  days <- rollup(book, by = day, h = sum(huge), t = sum(tiny), totals = "grand")
  expect_true(all(tie_out(days)$ok %in% c(TRUE, NA)))
  for (factor in c(1 + 1e-12, 1 + 1e-9, 0.5)) {
    wrong <- days
    wrong$figures$t[1L] <- wrong$rows$figures$t[1L] <- factor * wrong$figures$t[1L]
    expect_raised(tie_out(wrong), "tie_out", "\"t\"")
  }
})
