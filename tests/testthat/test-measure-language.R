book <- daybook(few_orders(), on, calendars = list(fiscal = fiscal_calendar("July"),
  civil = civil_calendar()))
figures <- function(...) plain(rollup(book, ...))

test_that("aggregates are worked out over the orders of the cell", {
  row <- figures(
    sum = sum(amount), lines = count(), known = count(depot), mean = mean(amount),
    min = min(amount), max = max(amount)
  )
  expect_identical(row$sum, 145.5)
  expect_identical(row$lines, 6)
  expect_identical(row$known, 5)
  expect_identical(row$mean, 145.5 / 6)
  expect_identical(row$min, -5)
  expect_identical(row$max, 50.5)
})

test_that("a sum of nothing is 0, and everything else of nothing is unknown", {
  row <- plain(
    rollup(only(book, amount > 1000), sum = sum(amount), n = count(), mean = mean(amount), min = min(amount))
  )
  expect_identical(unlist(row[c("sum", "n")]), c(sum = 0, n = 0))
  expect_true(all(is.na(row[c("mean", "min")])))
})

test_that("a total of an average is the average of the orders, not of the lines", {
  rows <- figures(by = depot, mean = mean(amount), totals = "grand")
  expect_identical(rows$mean[rows$.role == "total"], mean(few_orders()$amount))
})

test_that("missing, infinite and not-a-number amounts are left out and counted", {
  orders <- few_orders()
  orders$amount[1:3] <- c(NA, Inf, NaN)
  table <- rollup(daybook(orders, on), sum = sum(amount), n = count(),
    known = count(amount), mean = mean(amount))
  row <- plain(table)
  expect_identical(row$sum, 40 + 50.5 - 5)
  expect_identical(row$n, 6)
  expect_identical(row$mean, 85.5 / 3)
  expect_output(print(table), "Amount is unknown on 3 lines")
})

test_that("measures refer to earlier ones, and arithmetic never gives infinity", {
  row <- figures(
    sales = sum(amount), twice = 2 * sales, none = sales / (sales - sales),
    p = round(sales / 7, 1), z = or_zero(none)
  )
  expect_identical(row$twice, 291)
  expect_identical(row$none, NA_real_)
  expect_identical(row$p, round(145.5 / 7, 1))
  expect_identical(row$z, 0)
})

test_that("in R a number may come from a variable", {
  target <- 200
  expect_identical(figures(gap = sum(amount) - target)$gap, 145.5 - 200)
})

test_that("an unnamed measure is named by its expression", {
  expect_named(figures(NULL, sum(amount)), c("sum(amount)", ".role"))
})

test_that("year to date by two calendars stands side by side", {
  row <- plain(rollup(as_of(book, "2024-08-15"), fiscal = ytd(sum(amount)), civil = ytd(sum(amount), civil)))
  expect_identical(row$fiscal, 30)
  expect_identical(row$civil, 60)
  by_unit <- plain(
    rollup(as_of(book, "2024-08-15"), x = so_far(sum(amount), civil$year),
      y = so_far(sum(amount), "year", "civil"))
  )
  expect_identical(unlist(by_unit[c("x", "y")]), c(x = 60, y = 60))
})

test_that("mistakes say what is wrong and how to mend it", {
  expect_raised(figures(), "argument", "no measure")
  expect_raised(figures(x = summ(amount)), "expression", "Did you mean \"sum\"?")
  expect_raised(figures(x = sum(amout)), "column", "Did you mean \"amount\"?")
  expect_raised(figures(x = amount), "expression", "is a column", "sum(amount)")
  expect_raised(figures(x = y), "expression", "no measure \"y\" before this one")
  expect_raised(figures(x = sum(sum(amount))), "expression", "An aggregate stands inside another")
  expect_raised(figures(s = sum(amount), x = mean(s)), "expression", "\"s\" is a figure already")
  expect_raised(figures(x = sum(amount, TRUE)), "expression", "takes one expression")
  expect_raised(figures(x = sum(depot)), "amount", "\"depot\" is text", "Skelby")
  expect_raised(figures(x = ytd(sum(amount), lunar)), "calendar", "no calendar \"lunar\"")
  expect_raised(figures(x = prior(sum(amount), decade)), "expression", "\"decade\"")
  expect_raised(figures(x = prior(sum(amount), year, 1.5)), "expression", "whole number")
  expect_raised(figures(x = prior(sum(amount))), "expression", "needs a unit")
  expect_raised(figures(x = ytd()), "expression", "needs a measure")
  expect_raised(figures(x = ytd(sum(amount), civil, 3)), "expression", "at most 2")
  expect_raised(figures(x = prior(sum(amount), unit = year, m2 = 2)), "expression", "m2")
  expect_raised(figures(x = system("true")), "expression", "\"system\" is not among the known words")
  expect_raised(figures(x = sum(system("true"))), "expression", "\"system\" is not among")
  expect_raised(figures(x = count() <- 3), "expression", "\"<-\" is not among")
  expect_raised(figures(sum(amount)), "column", "If it is a measure", "x = sum(amount)")
  expect_raised(figures(x = 1, x = 2), "argument", "More than one is named \"x\"")
})
