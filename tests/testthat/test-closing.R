book <- daybook(data.frame(on = as.Date(c("2026-03-10", "2026-08-15")), amount = 1), on)

test_that("the last closed period follows the rule", {
  after <- closing(book, after = 14)
  expect_identical(format(closed_period(as_of(after, "2026-08-14"), month)), "2026-07 Jul")
  expect_identical(format(closed_period(as_of(after, "2026-08-13"), month)), "2026-06 Jun")
  on_day <- closing(book, on = 10)
  expect_identical(format(closed_period(as_of(on_day, "2026-08-10"), month)), "2026-07 Jul")
  expect_identical(format(closed_period(as_of(on_day, "2026-08-09"), month)), "2026-06 Jun")
  expect_identical(format(closed_period(as_of(on_day, "2026-08-10"), quarter)), "2026 Q2")
  expect_identical(format(closed_period(after, month, "2026-05")), "2026-05 May")
})

test_that("what is not closed says which of the three it is", {
  rule <- closing(book, after = 14)
  expect_raised(
    closed_period(rule, month, "2026-08"), "closing", "August 2026 is not closed yet on 15 August 2026",
    "closes on 14 September 2026"
  )
  expect_raised(closed_period(rule, month, "2026-02"), "closing", "February 2026 lies before the first order")
  expect_raised(closed_period(rule, month, "2026-10"), "closing", "October 2026 lies after the last order")
  expect_raised(closed_period(as_of(rule, "2026-03-20"), month), "closing", "No month is closed yet")
})

test_that("a rule is one of two", {
  expect_raised(closing(book), "argument", "either")
  expect_raised(closing(book, after = 3, on = 4), "argument", "either")
  expect_raised(closing(book, on = 31), "argument", "from 1 to 28")
  expect_raised(closed_period(book, month), "argument", "no closing rule")
})
