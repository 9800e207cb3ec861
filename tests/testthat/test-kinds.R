# Every kind of vector that R has, as dimension, amount, key, condition and date: an answer or an
# error of ours, never a message of R's own or of another package.

kinds_of_columns <- function() {
  latin <- c("caf\xe9", "b", "c", "d")
  Encoding(latin) <- "latin1"
  list(
    complex = 1:4 + 1i, raw = as.raw(1:4), list = I(list(1, 2, 3, 4)),
    whole64 = bit64::as.integer64(c(1, 2, 3, NA)), invalid = c("a\xff", "b", "c", "d"),
    no_character = c("\ufffe", "b", "c", "d"), latin = latin, duration = as.difftime(1:4, units = "days"),
    time = as.POSIXct("2026-01-01", tz = "UTC") + 0:3, parts_of_time = as.POSIXlt("2026-01-01",
      tz = "UTC") + 0:3, digits = c("1", "2", "3", "4"), mixed = c("1", "x", "3", "4"),
    logical = c(TRUE, FALSE, NA, TRUE), factor = factor(c("a", "b", "a", NA)),
    ordered = factor(c("a", "b", "a", NA), ordered = TRUE),
    endless = c(Inf, -Inf, NaN, 1), large = rep(1e308, 4L), small = c(5e-324, 1e-310, 0, -0),
    matrix = matrix(1:4, 4L), unknown = c(NA, NA, NA, NA), missing = c(NA, 1L, 2L, 3L),
    as_is = I(1:4), dates = as.Date("2026-01-01") + 0:3, named = c(a = 1, b = 2, c = 3, d = 4),
    of_class = structure(c(1, 2, 3, 4), class = "made_up")
  )
}

# What is asked of a column `k`, each by itself.
asks_of_columns <- function() {
  list(
    sum = function(book) rollup(book, s = sum(k)),
    by = function(book) rollup(book, k, s = sum(v), totals = "grand"),
    count = function(book) {
      rollup(book, s = count(k), d = distinct(k), m = most_common(k), l = last(k), f = first(k))
    },
    ends = function(book) rollup(book, s = min(k), m = max(k)),
    middle = function(book) rollup(book, s = median(k), d = sd(k)),
    print = function(book) format(rollup(book, k, s = sum(v))),
    each = function(book) rollup(book, s = sum(each(k, sum(v)))),
    cross = function(book) as.data.frame(crosstab(book, k, month, s = sum(v))),
    listing = function(book) format(listing(book, groups = k, lines = on, s = sum(v))),
    check = function(book) format(check(book)),
    condition = function(book) rollup(only(book, k > 1), s = sum(v)),
    row = function(book) rollup(book, s = sum(k * 2 + v)),
    texts = function(book) rollup(work_out(book, t = tolower(k)), t, s = sum(v)),
    behind = function(book) behind(rollup(book, k, s = sum(v)), 1L),
    tie = function(book) tie_out(rollup(book, k, s = sum(v), totals = "grand")),
    date = function(book) rollup(book, s = on(sum(v), k)),
    sorted = function(book) rollup(book, k, s = sum(v), sort = largest_first(max(k)))
  )
}

test_that(
  "every kind of column, in every kind of ask, gives an answer or an error of ours, without a warning", {
  kinds <- kinds_of_columns()
  asks <- asks_of_columns()
  for (kind in names(kinds)) {
    orders <- data.frame(on = as.Date("2026-01-01") + 0:3, v = 1:4)
    orders$k <- kinds[[kind]]
    book <- rlang::try_fetch(daybook(orders, on), drystack_error = function(e) NULL)
    if (is.null(book)) next
    for (ask in names(asks)) {
      told <- tryCatch({
        asks[[ask]](book)
        "answer"
      }, drystack_error = function(e) "error of ours", error = conditionMessage, warning = conditionMessage)
      expect_in_set(told, c("answer", "error of ours"))
    }
    for (ending in c("csv", "json", "xlsx", "html", "parquet")) {
      path <- withr::local_tempfile(fileext = paste0(".", ending))
      told <- tryCatch({
        write_report(rollup(book, k, s = sum(v)), path)
        "written"
      }, drystack_error = function(e) "error of ours", error = conditionMessage, warning = conditionMessage)
      expect_in_set(told, c("written", "error of ours"))
    }
    expect_in_set(tryCatch({
      format(look_at(orders))
      "answer"
    }, drystack_error = function(e) "error of ours", error = conditionMessage), c("answer", "error of ours"))
  }
})

test_that("numbers at the ends of what doubles hold are added for what they are", {
  total <- function(x) {
    rollup(daybook(data.frame(on = as.Date("2026-01-01"), x = x), on), s = sum(x))$figures$s
  }
  expect_identical(total(c(5e-324, 5e-324)), 1e-323)
  expect_identical(total(c(1e308, -1e308, 1)), 1)
  expect_identical(total(c(1e308, 1e308)), NA_real_)
  expect_identical(total(c(0, -0)), 0)
  expect_identical(total(c(Inf, NaN, NA, 2.5)), 2.5)
})
