# outlook(): what is known carried on by a rule, held against sums of lines worked out here, and
# against what the same daybook gave on the same day of earlier periods.

sold_daily <- function(seed, days = 800L) {
  set.seed(seed)
  data.frame(d = as.Date("2024-01-01") + sort(sample(0:days, 300L, TRUE)), who = sample(c("a", "b"), 300L,
    TRUE),
    v = round(stats::runif(300L, 1, 50), 2))
}

test_that("by days, trading days and the year before it is the figure known times what is said", {
  for (seed in 1:3) {
    orders <- sold_daily(seed)
    as_of_day <- as.Date("2026-02-17")
    book <- daybook(orders, d, calendars = trading(civil_calendar(), closed = c("Saturday", "Sunday"))) |>
      as_of(as_of_day)
    rows <- plain(rollup(within_dates(book, "2025-11-01"), c(who, month), s = sum(v), o = outlook(s, month),
      t = outlook(s, month, by = "trading days"), y = outlook(sum(v), by = "last year")))
    complete <- format(rows$month) != "2026-02 Feb"
    expect_identical(rows$o[complete], rows$s[complete])
    sum_of <- function(who, from, to) sum(orders$v[orders$who == who & orders$d >= from & orders$d <= to])
    for (who in c("a", "b")) {
      here <- !complete & rows$who == who
      known <- sum_of(who, as.Date("2026-02-01"), as_of_day)
      weekdays <- function(to) sum(!format(seq(as.Date("2026-02-01"), to, by = "day"), "%u") %in% c("6", "7"))
      before <- sum_of(who, as.Date("2025-02-01"), as.Date("2025-02-28")) /
        sum_of(who, as.Date("2025-02-01"), as.Date("2025-02-17"))
      expect_equal(c(rows$o[here], rows$t[here], rows$y[here]),
        known * c(28 / 17, weekdays(as.Date("2026-02-28")) / weekdays(as_of_day), before))
    }
  }
})

test_that("prior() of it is what it was on that day, and the note tells by how much it was off", {
  orders <- sold_daily(4)
  book <- as_of(daybook(orders, d), "2026-02-17")
  x <- rollup(within_dates(book, "2026-02-01"), month, p = prior(outlook(sum(v), month), month, 1),
    o = outlook(sum(v), month))
  earlier <- function(day) plain(rollup(within_dates(as_of(book, day), day), NULL, o = outlook(sum(v),
    month)))$o
  expect_equal(plain(x)$p, earlier("2026-01-17"))
  ends <- seq(as.Date("2025-02-01"), by = "month", length.out = 12L)
  off <- vapply(ends, function(first) {
    last <- seq(first, by = "month", length.out = 2L)[2L] - 1
    day <- min(first + 16, last)
    earlier(format(day)) / sum(orders$v[orders$d >= first & orders$d <= last]) - 1
  }, 0)
  said <- gsub("\\s+", " ", paste(format(x), collapse = " "))
  expect_match(said, paste0("last 12 months it was within ", format_by(stats::median(abs(off)), percentage()),
    " half of the time, at most ", format_by(max(abs(off)), percentage()), " off"), fixed = TRUE)
})

test_that("an estimate is marked in the table and its files, and is never proven", {
  book <- as_of(daybook(sold_daily(5), d), "2026-02-17")
  x <- rollup(within_dates(book, "2025-12-01"), month, o = outlook(sum(v), month))
  expect_match(paste(format(x), collapse = " "), "≈ [0-9]")
  expect_identical(as.data.frame(x)$.estimated, c(FALSE, FALSE, TRUE))
  expect_false(".estimated" %in% names(as.data.frame(rollup(book, month, s = sum(v)))))
  proven <- as.data.frame(tie_out(x))
  expect_true(all(is.na(proven$ok[proven$measure == "o"])))
  file <- withr::local_tempfile(fileext = ".csv")
  write_report(x, file)
  expect_match(readLines(file)[1L], ".estimated", fixed = TRUE)
  wide <- crosstab(within_dates(book, "2025-12-01"), who, month, o = outlook(sum(v), month))
  expect_match(paste(format(wide), collapse = " "), "≈ [0-9]")
  said <- paste(format(explain(x, 3L, "o")), collapse = " ")
  expect_match(gsub("\\s+", " ", said), "for the rest of the month as much a day as so far")
})

test_that("what does not add up by day is no outlook, and a period that began before the orders has none", {
  book <- as_of(daybook(sold_daily(6), d), "2026-02-17")
  expect_error(rollup(book, month, o = outlook(mean(v), month)), class = "drystack_error_expression")
  expect_error(rollup(book, month, o = outlook(outlook(sum(v), month), month)),
    class = "drystack_error_expression")
  begun <- daybook(data.frame(d = as.Date("2026-02-10") + 0:9, v = 1), d, calendars = fiscal_calendar("July"))
  expect_identical(plain(rollup(begun, year, o = outlook(sum(v), year)))$o, NA_real_)
})

test_that("nothing is carried on in a period that the orders do not reach", {
  orders <- data.frame(d = as.Date("2026-01-01") + 0:40, v = 1)
  rows <- plain(rollup(as_of(daybook(orders, d), "2026-04-10"), month, o = outlook(sum(v), month)))
  expect_equal(rows$o, c(31, 28, NA, NA))
})
