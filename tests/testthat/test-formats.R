shown <- function(values, format) format_by(values, format)

test_that("formats give thousands, decimals, signs, brackets, faces and marks of other locales", {
  expect_identical(shown(c(-1234.5, 0, NA, 1e6), decimal(1)),
    c("\u22121,234.5", "0.0", "\u2013", "1,000,000.0"))
  expect_identical(shown(c(-0.5, 0.123), percentage()), c("\u221250.0%", "12.3%"))
  expect_identical(shown(c(-2, 3), money("\u20ac", 2, negative = "brackets", sign = TRUE)),
    c("(\u20ac2.00)", "+\u20ac3.00"))
  expect_identical(shown(1234567.891, decimal(2, thousands = ".", decimal = ",")), "1.234.567,89")
  expect_identical(shown(c(0, NA), decimal(0, unknown = "n/a", zero = "nil")), c("nil", "n/a"))
  expect_identical(shown(c(12400, 999, 999950, 3.14e6, -2e9), compact()),
    c("12.4k", "999", "1.0M", "3.1M", "\u22122.0bn"))
  expect_identical(shown(c(1234567.25, 0.1), drystack::plain()), c("1234567.25", "0.1"))
  expect_identical(shown(c(-0.001, 0.004), decimal(1)), c("0.0", "0.0"))
})

test_that("numbers of any size agree with R's own formatting", {
  withr::local_seed(6)
  x <- c(stats::rnorm(300) * 10^sample(-2:12, 300, TRUE), 999.995, 1e15, 123456)
  expect_identical(shown(abs(x), decimal(2)),
    trimws(formatC(abs(x), format = "f", digits = 2, big.mark = ",")))
})

test_that("formats travel with their measure to every output", {
  x <- rollup(daybook(few_orders(), on), depot,
    s = measure(sum(amount), label = "Sales", format = money("\u20ac", 0)))
  expect_true(any(grepl("\u20ac80", format(x))))
  html <- withr::local_tempfile(fileext = ".html")
  write_report(x, html)
  expect_true(any(grepl("\u20ac80", readLines(html, encoding = "UTF-8"))))
  xlsx <- withr::local_tempfile(fileext = ".xlsx")
  write_report(x, xlsx)
  styles <- openxlsx::loadWorkbook(xlsx)$styleObjects
  codes <- vapply(styles, function(s) paste(unlist(s$style$numFmt), collapse = " "), "")
  expect_true(any(grepl("\u20ac.*#,##0", codes)))
})

test_that("formats that make no sense are errors", {
  expect_raised(decimal(11), "argument", "from 0 to 10")
  expect_raised(money(5), "argument", "symbol")
  expect_raised(decimal(thousands = ",", decimal = ","), "argument", "different marks")
  expect_raised(percentage(negative = "red"), "argument", "brackets")
})

test_that(
  "a measure without a format looks like what it is worked out from; shares and growth are percentages", {
  book <- daybook(few_orders(), on)
  x <- rollup(book, depot,
    s = measure(sum(amount), format = money("$", digits = 0)),
    ly = prior(s, year), part = share(s), g = growth(s, year),
    gap = s - ly, run = running(s, along = depot), per = mean(each(on, s)), scaled = 2 * s, half = s / 2,
    own = measure(s - ly, format = drystack::plain()), ratio = s / ly,
    change = s / ly - 1, over = 2 / s, n = count(), mixed = s + part,
    hundredfold = 100 * part, points = (s / ly - 1) * 100, days = count(each(on, s))
  )
  formats <- lapply(x$ask$measures, `[[`, "format")
  of_money <- c("ly", "gap", "run", "per", "scaled", "half")
  for (name in of_money) expect_identical(formats[[name]], money("$", digits = 0), label = name)
  for (name in c("part", "g", "change")) expect_identical(formats[[name]], percentage(), label = name)
  expect_identical(formats$own, drystack::plain())
  for (name in c("ratio", "over", "n", "mixed", "days", "hundredfold",
    "points")) expect_null(formats[[name]], label = name)
})

test_that("figures are rounded half away from zero on their decimal digits, in every format", {
  expect_identical(format_by(c(0.5, 1.5, 2.5, -0.5, -2.5, 5642.5), money("£", digits = 0)),
    c("£1", "£2", "£3", "\u2212£1", "\u2212£3", "£5,643"))
  expect_identical(format_by(c(1.005, 0.615, 2.675, -1.005, 1.0049999), decimal(2)),
    c("1.01", "0.62", "2.68", "\u22121.01", "1.00"))
  expect_identical(format_by(c(0.285, 0.125, 0.005), percentage(digits = 0)), c("29%", "13%", "1%"))
  expect_identical(format_by(c(1250, 1350000, 999950), compact(digits = 1)), c("1.3k", "1.4M", "1.0M"))
  # By long division of the digits as they stand.
  withr::local_seed(1)
  digits <- sample(0:3, 400L, TRUE)
  units <- sample.int(1e6L, 400L)
  halves <- vapply(seq_along(units), function(i) as.numeric(paste0(units[i], "5e-", digits[i] + 1L)), 0)
  shown <- vapply(seq_along(units), function(i) format_by(halves[i], decimal(digits[i], thousands = "")), "")
  expect_identical(as.numeric(shown), as.numeric(paste0(units + 1L, "e-", digits)))
})

test_that("figures of zero are left blank where a table says so, on every surface and in every file", {
  orders <- data.frame(on = as.Date(c("2026-01-05", "2026-03-05")), depot = "a", amount = c(5, -2))
  book <- daybook(orders, date = on)
  asked <- function(...) rollup(book, month, s = sum(amount), n = measure(count(),
    format = decimal(zero = "none")), ...)
  shown <- vapply(as_sheet(asked(zeros = "blank"))$columns[-1L], function(column) column$text[2L], "")
  expect_identical(shown, c("", "none"))
  expect_identical(as_sheet(asked())$columns[[2L]]$text[2L], "0")
  expect_identical(as.data.frame(asked(zeros = "blank")), as.data.frame(asked()))
  wide <- crosstab(book, depot, month, s = sum(amount), zeros = "blank")
  expect_identical(as_sheet(wide)$columns[[3L]]$text, "")
  expect_match(xlsx_codes(as_sheet(asked(zeros = "blank"))$columns[[2L]])[1L], ";\"\"$")
  expect_raised(asked(zeros = "none"), "argument", "zeros", "shown")
  file <- withr::local_tempfile(fileext = ".yml")
  as_standing(asked(zeros = "blank"), file, orders = "orders.csv")
  expect_match(readLines(file), "zeros: \"blank\"", all = FALSE)
})
