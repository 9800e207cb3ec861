book <- daybook(untidy_orders(3000L, 8), on, calendars = fiscal_calendar("July"))
orders <- untidy_orders(3000L, 8)
sum_between <- function(from, to, also = TRUE) {
  sum(round(100 * orders$amount[!is.na(orders$on) & orders$on >= from & orders$on <= to & also]),
    na.rm = TRUE) / 100
}
last <- max(orders$on, na.rm = TRUE)

test_that("figures and what they are compared with are those of their days", {
  x <- plain(headlines(book, days_30 = moving(sum(amount), 30, day),
    month = mtd(sum(amount)), against = list(month = month)))
  expect_equal(x[["figure"]][1L], sum_between(last - 29, last))
  expect_equal(x$figure[2L], sum_between(as.Date(format(last, "%Y-%m-01")), last))
  before <- as.Date(format(as.Date(format(last, "%Y-%m-01")) - 1, "%Y-%m-01"))
  expect_equal(x$before[2L], sum_between(before, base_match(last, 1L)))
  expect_equal(x$change, x$figure / x$before - 1)
  expect_identical(x$compared_with, c("a year before", "a month before"))
})

test_that("a share compares with another figure, NULL with none", {
  x <- plain(headlines(book, all = count(), unpaid = only(count(), !paid),
    against = list(unpaid = share(all))))
  expect_identical(x$compared_with, c(NA, "of all"))
  expect_equal(x$change[2L], x$figure[2L] / x$figure[1L])
})

test_that("text shows figure, direction and history; HTML draws the history", {
  x <- headlines(book, month = measure(mtd(sum(amount)), label = "This month", format = money(digits = 0)))
  text <- format(x, width = 100L)
  expect_match(paste(text, collapse = "\n"), "This month +\u00a3[0-9,]+ +[\u25b2\u25bc=]")
  expect_true(any(grepl("[\u2581-\u2588]{13}", text)))
  file <- withr::local_tempfile(fileext = ".html")
  write_report(x, file)
  page <- paste(readLines(file, encoding = "UTF-8"), collapse = "\n")
  expect_match(page, "<ul class=\"headlines\" style=\"--wide:[0-9]+\">")
  expect_identical(lengths(regmatches(page, gregexpr("<polyline points=", page))), 1L)
  expect_false(any(grepl("polyline points", format(headlines(book, n = count(), history = NULL)))))
})

test_that("a comparison that is none is an error", {
  expect_raised(headlines(book, n = mtd(count()), against = yaer),
    "argument", "\"yaer\"", "Did you mean \"year\"")
  expect_raised(headlines(book, n = mtd(count()), against = list(m = year)), "argument", "\"m\"")
})
