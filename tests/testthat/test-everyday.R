# Requests as people say them, each in at most six lines of R and one command;
# both must give the same file.

yard <- harrowgill()
file <- harrowgill_path("orders.csv")
base <- c("--orders", file, "--date", "ordered_on", "--calendar",
  "fiscal:July", "--only", "status != \"cancelled\"")
book <- daybook(yard$orders, ordered_on, fiscal_calendar("July")) |> only(status != "cancelled")

expect_same <- function(code, command) {
  expr <- rlang::enexpr(code)
  expect_lte(length(deparse(expr, width.cutoff = 100L)), 6L)
  ours <- withr::local_tempfile(fileext = ".csv")
  theirs <- withr::local_tempfile(fileext = ".csv")
  table <- code
  write_report(table, ours)
  utils::capture.output(status <- run_command(c(command, "--out", theirs)), type = "message")
  expect_identical(status, 0L)
  expect_identical(readLines(theirs), readLines(ours))
  expect_gt(length(readLines(ours)), 1L)
  table
}

test_that("monthly sales of this fiscal year by depot, with the year to date", {
  x <- expect_same(
    rollup(within_dates(book, "2026-07-01"), c(depot, month), sales = sum(amount), ytd = ytd(sales)),
    c(
      "rollup", base, "--from", "2026-07-01", "--by", "depot,month",
      "--show", "sales = sum(amount)", "--show", "ytd = ytd(sales)"
    )
  )
  expect_identical(format(unique(x$axes$month), "key"), c("FY2027-P01", "FY2027-P02", "FY2027-P03"))
})

test_that("sales by channel down and the last four quarters across, with totals on both sides", {
  expect_same(
    crosstab(within_dates(book, latest(4, quarter)), channel, quarter, sales = sum(amount), totals = "grand"),
    c(
      "crosstab", base, "--latest", "4 quarter", "--rows", "channel",
      "--cols", "quarter", "--show", "sales = sum(amount)", "--totals", "grand"
    )
  )
})

test_that("each channel's share of its region", {
  expect_same(
    crosstab(book, region, channel, part = share(sum(amount), of = "row")),
    c("crosstab", base, "--rows", "region", "--cols", "channel",
      "--show", "part = share(sum(amount), of = \"row\")")
  )
})

test_that("the ten customers who bought most, and all the others in one line", {
  x <- expect_same(
    rollup(book, customer_id, sales = sum(amount), keep = keep_top(10, sales), totals = "grand"),
    c(
      "rollup", base, "--by", "customer_id", "--show", "sales = sum(amount)",
      "--keep", "keep_top(10, sales)", "--totals", "grand"
    )
  )
  expect_identical(x$role, c(rep("line", 10L), "others", "total"))
})

test_that("which products make 80 % of sales", {
  x <- expect_same(
    rollup(book, product_id, sales = sum(amount), part = running(share(sales), along = product_id),
      sort = largest_first(sales)),
    c(
      "rollup", base, "--by", "product_id", "--show", "sales = sum(amount)", "--show",
      "part = running(share(sales), along = product_id)",
      "--sort", "largest_first(sales)"
    )
  )
  expect_equal(x$figures$part, cumsum(x$figures$sales) / sum(x$figures$sales))
  plot <- figure(x, kind = "shares")
  drawn <- ggplot2::ggplot_build(plot)$data
  expect_equal(drawn[[3L]]$y / max(drawn[[1L]]$y), x$figures$part)
})

test_that("this month so far and the last 30 days, against last year, and what is unpaid", {
  expect_same(
    headlines(book, month = mtd(sum(amount)), days_30 = moving(sum(amount), 30, day),
      unpaid = only(sum(amount), !paid)),
    c(
      "headlines", base, "--show", "month = mtd(sum(amount))",
      "--show", "days_30 = moving(sum(amount), 30, day)", "--show", "unpaid = only(sum(amount), !paid)"
    )
  )
})

test_that("how many orders are small, middling and large, by depot", {
  expect_same(
    crosstab(work_out(book, size = banded(amount, c(0, 100, 1000))),
      depot, size, orders = distinct(order_id)),
    c(
      "crosstab", base, "--work-out", "size = banded(amount, c(0, 100, 1000))",
      "--rows", "depot", "--cols", "size", "--show", "orders = distinct(order_id)"
    )
  )
})

test_that("sales by kind of customer and by category, from the lookups", {
  expect_same(
    crosstab(
      book |> enrich(yard$customers, "customer_id") |> enrich(yard$products, "product_id"),
      kind, category, sales = sum(amount)
    ),
    c(
      "crosstab", base, "--lookup", paste0(
        harrowgill_path("customers.csv"), ":customer_id"
      ), "--lookup", paste0(harrowgill_path("products.csv"), ":product_id"),
      "--rows", "kind", "--cols", "category", "--show", "sales = sum(amount)"
    )
  )
})

test_that("quarters against the year before, the best depot of the last quarter first", {
  expect_same(
    crosstab(
      within_dates(book, latest(2, quarter)), depot, quarter, sales = sum(amount), ly = prior(sales, year),
      sort = largest_first(sales, at = "FY2027 Q1")
    ),
    c(
      "crosstab", base, "--latest", "2 quarter", "--rows", "depot",
      "--cols", "quarter", "--show", "sales = sum(amount)", "--show",
      "ly = prior(sales, year)", "--sort", "largest_first(sales, at = \"FY2027 Q1\")"
    )
  )
})

test_that("the order lines behind one figure", {
  x <- rollup(book, c(depot, year), sales = sum(amount))
  theirs <- withr::local_tempfile(fileext = ".csv")
  status <- suppressMessages(run_command(c(
    "rollup", base, "--by", "depot,year", "--show", "sales = sum(amount)",
    "--behind", "4,sales", "--out", theirs
  )))
  expect_identical(status, 0L)
  expect_identical(nrow(utils::read.csv(theirs)), nrow(behind(x, 4L)))
  expect_identical(utils::read.csv(theirs)$.line, behind(x, 4L)$.line)
})
