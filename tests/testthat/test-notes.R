# What a table tells beside its figures: that nothing is wrong without a word.

noted <- function(table, words) testthat::expect_match(all_notes(table), words, all = FALSE, fixed = TRUE)
not_noted <- function(table, words) testthat::expect_false(any(grepl(words, all_notes(table), fixed = TRUE)))

test_that("from which day figures to date count is told, and which days stand beside which", {
  book <- as_of(daybook(harrowgill()$orders, ordered_on, calendars = fiscal_calendar("July")), "2026-08-31")
  noted(rollup(book, channel, y = ytd(sum(amount))), "On 31 August 2026 y counts from 1 July 2026.")
  noted(rollup(book, month, y = ytd(sum(amount))), "counts from 1 July 2026")
  x <- rollup(book, channel, y = ytd(sum(amount)), ly = prior(y, year))
  noted(x, "Y a year before compares 1 July 2026 to 31 August 2026 with 1 July 2025 to 31 August 2025.")
  noted(rollup(within_dates(book, "2026-08-31"), day, p = prior(sum(amount), day)),
    "compares 31 August 2026 with 30 August 2026.")
})

test_that("keys of a lookup without a row are told wherever a column of it stands", {
  orders <- data.frame(on = as.Date("2026-01-05") + 0:3, who = c("a", "b", "zz", "yy"), v = 1:4)
  book <- enrich(daybook(orders, on), data.frame(who = c("a", "b"), kind = c("Builder", "House")), by = "who",
    name = "customers")
  words <- "Customers by who: 2 keys have no match (\"yy\", \"zz\"), on 2 lines."
  for (table in list(
    rollup(book, kind, s = sum(v)), rollup(book, s = only(sum(v), kind == "Builder")),
    rollup(only(book, kind == "Builder"), s = sum(v)),
    rollup(work_out(book, k = toupper(kind)), k, s = sum(v)),
    rollup(book, s = sum(each(kind, sum(v)))), listing(book, lines = c(kind, v)),
    rollup(book, who, s = sum(v), sort = largest_first(only(sum(v), kind == "House"))))) noted(table, words)
  not_noted(rollup(book, month, s = sum(v)), "no match")
  # A listing for some names no key of others.
  not_noted(listing(only(book, who == "a"), lines = c(kind, v)), "zz")
  own <- listing(only(book, kind == "Builder"), lines = c(kind, v))
  noted(own, "2 keys have no match, on 2 lines.")
  not_noted(own, "zz")
})

test_that("a listing says how many lines it shows, and how many only comparisons see", {
  orders <- data.frame(on = as.Date(c("2026-01-05", "2026-01-06", "2026-02-05")), v = c(1, 2, 4))
  book <- within_dates(daybook(orders, on), "2026-02-01")
  noted(listing(book, lines = c(on, v), s = sum(v), p = prior(s, month)),
    "1 line shown; 2 more seen by comparisons only.")
  noted(listing(book, lines = c(on, v)), "1 line shown; 2 more outside the dates shown.")
  not_noted(listing(daybook(orders, on), lines = c(on, v)), "shown;")
})

test_that("orders of closed days that a figure leaves out are told with their amount", {
  orders <- data.frame(on = as.Date("2026-01-01") + 0:3, v = c(10, 20, 30, 40))
  book <- daybook(orders, on, calendars = trading(civil_calendar(), closed = c("Saturday", "Sunday")))
  x <- rollup(book, month, m = mean(each(day, sum(v), days = "trading")), g = growth(m, month))
  noted(x, "leave out 2 lines on closed days (70 of 100); days = \"sold\" counts every day with orders")
  not_noted(rollup(book, month, m = mean(each(day, sum(v)))), "closed days")
  expect_identical(plain(x)$m, 15)
})

test_that("amounts of several currencies are told where they are added, and only there", {
  orders <- data.frame(on = as.Date("2026-01-05") + 0:3, cur = c("GBP", "EUR", "GBP", "EUR"),
    v = c(1, 2, 4, 8),
    quantity = 1:4)
  book <- work_out(daybook(orders, on, currency = cur), gbp = ifelse(cur == "EUR", v * 0.85, v))
  words <- "Amounts of 2 currencies are added together: EUR and GBP, in totals over \"cur\"."
  for (table in list(rollup(book, cur, s = sum(v), totals = "grand"),
    crosstab(book, month, cur, s = sum(v), totals = "all"),
    rollup(book, cur, s = share(sum(v))))) noted(table, words)
  refused <- list(function(k) rollup(k, s = sum(v)), function(k) rollup(k, month, m = ytd(mean(v))),
    function(k) headlines(k, x = sum(v)), function(k) listing(k, lines = on, s = sum(v)))
  for (ask in refused) {
    expect_raised(ask(book), "currencies", "Amounts of 2 currencies would be added together: EUR and GBP",
      "only(cur == \"EUR\")", "currency = \"none\"")
    not_noted(ask(daybook(orders, on, currency = "none")), "currencies")
  }
  for (table in list(rollup(book, cur, s = sum(v)), rollup(book, n = count(), d = distinct(cur)),
    rollup(book, s = sum(gbp)), rollup(book, s = only(sum(v), cur == "EUR")), rollup(book, q = sum(quantity)),
    rollup(only(book, cur == "GBP"), s = sum(v)))) not_noted(table, "currencies")
})

test_that("whole numbers beyond those a double holds, and files cut within a line, are told", {
  orders <- data.frame(on = as.Date("2026-01-05") + 0:1, v = c(2^53, 3))
  noted(rollup(daybook(orders, on), s = sum(v)), "more digits than a number holds here")
  not_noted(rollup(daybook(transform(orders, v = 2^52), on), s = sum(v)), "more digits")
  file <- withr::local_tempfile(fileext = ".csv")
  text <- "on,v\n2026-01-05,1\n2026-01-06,20"
  for (end in c("", "\n")) {
    for (head in c("", "a title\n\n")) {
      writeBin(charToRaw(paste0(head, text, end)), file)
      table <- rollup(daybook(file, on), s = sum(v))
      if (end == "") noted(table, "the last line has no line end") else not_noted(table, "line end")
    }
  }
})

test_that("members that only a lens sees are in the lines that tie out", {
  orders <- data.frame(on = as.Date(c("2025-06-01", "2026-01-05", "2026-01-06")), g = c("A", "B", "B"),
    shipped = as.Date(c("2026-01-05", "2026-01-06", "2026-01-09")), v = c(4, 1, 2))
  book <- within_dates(daybook(orders, on), "2026-01-01")
  x <- rollup(book, g, s = on(sum(v), shipped), totals = "grand")
  expect_identical(plain(x)$s, c(1, 5))
  expect_true(all(tie_out(x)$ok))
  noted(rollup(only(daybook(orders, on), g == "B"), g, s = regardless(sum(v), g)),
    "outside the dates shown or the conditions")
})
