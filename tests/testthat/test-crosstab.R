book <- daybook(untidy_orders(2000L, 11), on, calendars = fiscal_calendar("July"))

# Sums of cents by base R, a missing member as "(none)", in the order of the table.
base_sums <- function(orders, rows, cols) {
  with_none <- function(x) ifelse(is.na(x), "(none)", as.character(x))
  known <- !is.na(orders$on)
  tapply(
    ifelse(is.na(orders$amount), 0, round(orders$amount * 100))[known],
    list(with_none(rows)[known], with_none(cols)[known]), sum, default = 0
  ) / 100
}

test_that("every row meets every column, with 0 for sums of nothing", {
  orders <- untidy_orders(2000L, 11)
  orders <- orders[!(orders$depot %in% "Skelby" & orders$channel == "web"), ]
  wide <- plain(crosstab(daybook(orders, on), depot, channel, sales = sum(amount)))
  expected <- base_sums(orders, orders$depot, orders$channel)
  expect_named(wide, c("depot", "web", "counter", "phone", ".role"))
  for (channel in c("web", "counter", "phone")) {
    expect_identical(wide[[channel]], unname(expected[match(wide$depot, rownames(expected)), channel]))
  }
  expect_identical(wide$web[wide$depot == "Skelby"], 0)
  expect_identical(plain(crosstab(daybook(orders, on), depot, channel, m = mean(amount)))$web[2L], NA_real_)
})

test_that("columns by period are complete and in the order of time", {
  late <- daybook(few_orders(), on)
  wide <- plain(crosstab(late, depot, quarter, sales = sum(amount)))
  expect_named(wide, c("depot", paste0("2024 Q", 1:4), "2025 Q1", ".role"))
  expect_identical(wide[["2024 Q2"]], c(0, 0, 0))
})

test_that("totals meet on both sides and are what a rollup gives", {
  wide <- crosstab(book, c(depot, channel), c(year, quarter), sales = sum(amount), totals = "all")
  long <- as.data.frame(wide, shape = "long")
  rolled <- plain(rollup(book, c(depot, channel, year, quarter), sales = sum(amount), totals = "all"))
  key <- function(t) paste(t$depot, t$channel, format(t$year), format(t$quarter))
  both <- match(key(rolled), key(long))
  expect_false(anyNA(both))
  expect_identical(long$sales[both], rolled$sales)
  of <- long[is.na(long$depot) & !is.na(long$quarter), ]
  expect_identical(of$sales, plain(rollup(book, quarter, sales = sum(amount)))$sales)
  expect_setequal(unique(long$.role), c("line", "subtotal", "total"))
})

test_that("totals are said for each side, and stand at the end or the start", {
  shape <- function(...) plain(crosstab(book, depot, channel, n = count(), ...))
  expect_identical(shape(totals = c(rows = "grand"))$.role, c(rep("line", 4L), "total"))
  expect_true("Total" %in% names(shape(totals = c(cols = "grand"))))
  expect_false("Total" %in% names(shape(totals = c(rows = "grand"))))
  start <- shape(totals = "grand", totals_at = "start")
  expect_identical(start$.role[1L], "total")
  expect_identical(names(start)[2L], "Total")
  end <- shape(totals = "grand")
  expect_identical(start[[2L]][1L], end$Total[nrow(end)])
})

test_that("several measures stand side by side or one under the other, with the same figures", {
  side <- plain(crosstab(book, depot, channel, n = count(), sales = sum(amount)))
  under <- plain(crosstab(book, depot, channel, n = count(), sales = sum(amount), measures_at = "rows"))
  expect_identical(under$.measure, rep(c("n", "sales"), nrow(side)))
  expect_identical(under$web[under$.measure == "sales"], side[["web sales"]])
  expect_identical(under$phone[under$.measure == "n"], side[["phone n"]])
})

test_that("shares are of the row, the column, the parent group and the total", {
  x <- crosstab(book, c(depot, channel), year,
    sales = count(), of_row = share(sales, of = "row"), column = share(
      sales, of = "column"
    ), parent = share(sales, of = "parent"),
    all = share(sales), totals = "all"
  )
  long <- as.data.frame(x, shape = "long")
  whole <- function(same) long$sales[same][1L]
  line <- which(long$.role == "line")[c(1L, 9L, 20L)]
  for (i in line) {
    at <- long[i, ]
    is <- function(depot, channel, year) {
      (long$depot %in% depot | (is.na(depot) & is.na(long$depot))) & (
        long$channel %in% channel | (is.na(channel) & is.na(long$channel))
      ) &
        (if (is.na(year)) is.na(long$year) else !is.na(long$year) & long$year == year)
    }
    expect_identical(at$of_row, at$sales / whole(is(at$depot, at$channel, NA)))
    expect_identical(at$column, at$sales / whole(is(NA, NA, at$year)))
    expect_identical(at$parent, at$sales / whole(is(at$depot, NA, at$year)))
    expect_identical(at$all, at$sales / whole(is(NA, NA, NA)))
  }
})

test_that("a share of a whole that is zero is unknown, and the table says so", {
  x <- rollup(daybook(few_orders(), on), depot, s = share(sum(amount * 0)))
  expect_true(all(is.na(x$figures$s)))
  expect_match(paste(format(x), collapse = "\n"), "A share of a whole that is zero is unknown")
})

test_that("the law of members holds across columns: a member is the same ask limited to it", {
  whole <- as.data.frame(crosstab(book, depot, quarter, ytd_ly = prior(ytd(sum(amount)), year)),
    shape = "long")
  for (member in c("Skelby", "Garrick")) {
    limited <- as.data.frame(
      crosstab(only(book, depot == !!member), depot, quarter, ytd_ly = prior(ytd(sum(amount)), year)),
      shape = "long"
    )
    expect_identical(whole$ytd_ly[whole$depot == member], limited$ytd_ly)
  }
})

test_that("what cannot be a cross-tab is an error", {
  expect_raised(crosstab(book, depot, c(depot, month), n = count()),
    "argument", "\"depot\"", "both down and across")
  many <- daybook(data.frame(on = as.Date("2024-01-01"), code = sprintf("c%03d", 1:501), amount = 1), on)
  expect_raised(crosstab(many, cols = code, n = count()), "argument", "more than 500 columns", "keep_top()")
  expect_s3_class(crosstab(many, cols = code, n = count(), keep = keep_top(400, n)), "drystack_crosstab")
  expect_raised(crosstab(book, depot, channel, n = count(), totals = c(up = "all")),
    "argument", "rows", "cols")
  expect_raised(crosstab(book, depot, channel, n = count(), totals = "every"), "argument", "none")
  expect_raised(crosstab(book, depot, channel), "argument", "no measure")
  expect_raised(crosstab(book, depot, channel, row = count()), "argument", "`row`", "`rows`")
  expect_raised(rollup(book, depot, s = share(count(), of = "row")), "expression", "needs a cross-tab")
})

test_that("it prints with heads over their columns, in labelled blocks where it is too wide", {
  x <- crosstab(within_dates(book, latest(4, quarter)), depot,
    c(year, quarter), n = count(), sales = sum(amount), totals = "all")
  lines <- format(x, width = 100L)
  expect_lte(max(nchar(lines)), 100L)
  expect_gt(sum(grepl("^\\[[0-9]+ of [0-9]+: columns [0-9]+ to [0-9]+ of [0-9]+\\]", lines)), 1L)
  heads <- grep("FY2026", lines, value = TRUE)[1L]
  expect_identical(lengths(regmatches(heads, gregexpr("FY2026", heads))), 1L)
  one <- format(crosstab(book, depot, channel, n = count()), width = 100L)
  expect_false(any(grepl("columns", one)))
})

test_that("HTML heads span their columns and add up to the width of the table", {
  x <- crosstab(book, depot, c(year, quarter), n = count(), sales = sum(amount), totals = "all")
  file <- withr::local_tempfile(fileext = ".html")
  write_report(x, file)
  page <- page_rows(file)
  expect_length(unique(page$widths), 1L)
  expect_true(any(grepl("scope=\"colgroup\"", page$lines)))
})

test_that("a cross-tab without any row is a table of none, in every form", {
  none <- crosstab(only(book, amount > 1e9), depot, channel, n = count(), totals = "grand")
  empty <- crosstab(only(daybook(few_orders()[1L, ], on), amount > 1e9), depot, status, n = count())
  expect_identical(sum(plain(none)[[2L]]), 0)
  expect_identical(nrow(plain(empty)), 0L)
  expect_true(any(grepl("(no rows)", format(empty), fixed = TRUE)))
  expect_s3_class(tie_out(empty), "drystack_tie_out")
})
