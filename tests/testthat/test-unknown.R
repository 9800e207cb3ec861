# Unknown values: what is no finite number, R functions of known values, empty
# cells, days as constants.

test_that("infinite amounts and NaN are unknown in every aggregate", {
  orders <- data.frame(on = as.Date("2026-01-05") + 0:5, x = c(Inf, 1, NaN, 2, -Inf, 2),
    w = c(1, 1, 1, Inf, 1, 3))
  book <- daybook(orders, on)
  x <- rollup(book,
    s = sum(x), n = count(x), m = mean(x), md = median(x), lo = min(x),
    hi = max(x), sd = sd(x), d = distinct(x), f = first(x), l = last(x),
    mc = most_common(x), wm = weighted_mean(x, w), cu = custom(sum, x), q = quantile(x, 1)
  )
  known <- c(1, 2, 2)
  expect_equal(unlist(plain(x)[1:14], use.names = FALSE), c(
    5, 3, 5 / 3, 2, 1, 2, sd(known), 2, 1, 2, 2, (1 * 1 + 2 * 3) / 4, 5, 2
  ))
  last_line <- plain(rollup(daybook(orders[c(6L, 1L), ], on), f = first(x), l = last(x)))
  expect_identical(c(last_line$f, last_line$l), c(2, 2))
  file <- withr::local_tempfile(fileext = ".json")
  write_report(x, file)
  expect_false(any(grepl("Inf|NaN", readLines(file))))
})

test_that("an R function is given known values, and the whole of them when it asks", {
  orders <- data.frame(on = as.Date("2026-01-05") + 0:3, x = c(1, NA, 4, 9),
    y = c(1, 2, NA, 4), g = c("a", "a", "b", "b"))
  book <- daybook(orders, on)
  seen <- list()
  look <- function(...) {
    seen[[length(seen) + 1L]] <<- list(...)
    length(..1)
  }
  expect_identical(plain(rollup(book, n = custom(look, x)))$n, 3)
  expect_identical(plain(rollup(book, n = custom(look, x, y)))$n, 2)
  expect_identical(plain(rollup(book, n = custom(look, x, missing = TRUE)))$n, 4)
  expect_identical(seen, list(list(c(1, 4, 9)), list(c(1, 9), c(1, 4)), list(orders$x)))
  x <- rollup(book, q = custom(stats::IQR, x))
  expect_equal(plain(x)$q, IQR(orders$x, na.rm = TRUE))
  expect_match(all_notes(x), "X is unknown on 1 line, left out", all = FALSE)
  expect_length(grep("unknown on", all_notes(rollup(book, n = custom(look, x, missing = TRUE)))), 0L)
  seen <- list()
  cells <- plain(crosstab(book, g, day, n = custom(look, x)))
  expect_identical(unname(is.na(as.matrix(cells[2:5]))),
    rbind(c(FALSE, TRUE, TRUE, TRUE), c(TRUE, TRUE, FALSE, FALSE)))
  expect_length(seen, 3L)
  expect_raised(rollup(book, n = custom(look, x, missing = 1)), "expression", "missing", "TRUE or FALSE")
})

test_that("days are constants: written as such, and in R as a variable", {
  book <- daybook(few_orders(), on)
  n <- function(book) plain(rollup(book, n = count()))$n
  start <- as.Date("2024-07-01")
  expect_identical(n(only(book, on >= as.Date("2024-07-01"))), 4)
  expect_identical(n(only(book, on >= start)), 4)
  expect_identical(n(only(book, on %in% as.Date(c("2024-07-01", "2025-03-10")))), 2)
  expect_identical(plain(rollup(book, n = only(count(), on < as.Date("2024-07-01"))))$n, 2)
  expect_raised(only(book, on >= as.Date("1/7/2024")), "expression", "as.Date", "year-month-day")
  folder <- withr::local_tempdir()
  utils::write.csv(few_orders(), file.path(folder, "orders.csv"), row.names = FALSE, na = "")
  out <- file.path(folder, "n.json")
  run <- function(condition) {
    suppressMessages(run_command(c(
      "rollup", "--orders", file.path(folder, "orders.csv"), "--date", "on", "--only", condition, "--show",
      "n = count()", "--out", out
    )))
  }
  expect_identical(run("on >= as.Date(\"2024-07-01\")"), 0L)
  expect_equal(jsonlite::fromJSON(out)$tables$rows[[1L]]$n, 4)
  expect_identical(run("on >= as.Date(start)"), 1L)
  saved <- rollup(only(daybook(read_orders(file.path(folder, "orders.csv")), "on"), on >= start), n = count())
  as_standing(saved, file.path(folder, "r.yml"))
  built <- build_report(file.path(folder, "r.yml"), out = folder, formats = "json")
  expect_equal(jsonlite::fromJSON(built$files)$tables$rows[[1L]]$n, 4)
})

test_that("what compares two calendars names both, and explanations are English", {
  two <- daybook(few_orders(), on, calendars = list(civil = civil_calendar(),
    retail = week_calendar("4-4-5")))
  error <- expect_raised(rollup(two, month, p = prior(sum(amount), retail$quarter)), "period",
    "month of the civil calendar", "quarter of the 4-4-5 calendar")
  x <- rollup(daybook(few_orders(), on), month, m = moving(sum(amount), 12),
    q = moving(sum(amount), 2, quarter), h = prior(sum(amount), half, 2))
  words <- function(measure) paste(explain(x, 15L, measure)$steps$words, collapse = " ")
  expect_match(words("m"), "the last 12 periods of the table together", fixed = TRUE)
  expect_match(words("q"), "the last 2 quarters together", fixed = TRUE)
  expect_match(words("h"), "2 halves earlier", fixed = TRUE)
})
