# Comparisons are of one kind, and one with an unknown value is not met, nor is its contrary.

lines_of <- function(book, condition) {
  plain(rollup(only(book, !!condition), lines = count()))$lines
}

mixed_orders <- function() {
  data.frame(on = as.Date("2026-01-05") + 0:5, region = c("North", "South", NA, "North", NA, "(none)x"),
    amount = c(1, NA, 3, 4, 5, 6), paid = c(TRUE, FALSE, NA, TRUE, TRUE, FALSE),
    shipped = c("05/01/2026", "06/01/2026", "31/01/2026", "08/01/2026", NA, "09/01/2026"),
    iso = c("2026-01-05", "2026-01-06 10:00", "2026-01-31", NA, "2026-02-01", "2026-02-02"))
}

on_engines <- function(orders, env = parent.frame()) {
  file <- withr::local_tempfile(fileext = ".csv", .local_envir = env)
  utils::write.csv(orders, file, row.names = FALSE, na = "")
  folder <- withr::local_tempdir(.local_envir = env)
  for (i in 1:2) utils::write.csv(orders[1:3 + 3L * (i - 1L), ], file.path(folder, paste0(i, ".csv")),
    row.names = FALSE, na = "")
  list(memory = daybook(orders, on), file = daybook(file, on), parts = daybook(folder, on),
    sqlite = daybook(sqlite_orders(orders, env), on))
}

test_that("a comparison with an unknown value and its contrary are both not met, on every engine", {
  books <- on_engines(mixed_orders())
  asks <- list(
    list(quote(region == "North"), 2), list(quote(region != "North"), 2),
    list(quote(!(region == "North")), 2),
    list(quote(region %in% c("North")), 2), list(quote(!(region %in% c("North"))), 2),
    list(quote(region %in% c("North", "(none)")), 4), list(quote(!(region %in% c("North", "(none)"))), 2),
    list(quote(region %in% c("(none)")), 2), list(quote(!(region %in% c("(none)"))), 4),
    list(quote(region %in% c("South", NA)), 3), list(quote(amount > 3), 3), list(quote(!(amount > 3)), 2),
    list(quote(amount %in% c(1, 3)), 2), list(quote(!(amount %in% c(1, 3))), 3),
    list(quote(amount %in% c(1, "(none)")), 2), list(quote(startsWith(region, "N")), 2),
    list(quote(!startsWith(region, "N")), 2), list(quote(!endsWith(region, "h")), 1),
    list(quote(paid), 3), list(quote(!paid), 2), list(quote(on %in% c("2026-01-05", "2026-01-07")), 2),
    list(quote(is.na(region)), 2), list(quote(!is.na(region)), 4))
  for (engine in names(books)) {
    for (ask in asks) expect_identical(lines_of(books[[engine]], ask[[1L]]), ask[[2L]],
      info = paste(engine, deparse(ask[[1L]])))
  }
})

test_that("a list that names what is unknown is told so, without a word of R", {
  for (book in on_engines(mixed_orders())) {
    expect_silent(book <- only(book, amount %in% c(1, "(none)"), region %in% c("North", NA)))
    expect_identical(vapply(book$scope, `[[`, "", "text"),
      c("amount %in% c(1, NA)", "region %in% c(\"North\", NA)"))
    expect_identical(vapply(book$scope, `[[`, "", "words"), c("amount is 1 or (none)", "region is North or (none)"))
  }
})

test_that("the lines that meet neither are counted in a note, once for each condition", {
  for (book in on_engines(mixed_orders())) {
    notes <- all_notes(rollup(only(book, region != "North"), s = only(sum(amount), !(amount > 3))))
    expect_length(grep("2 lines whose region is unknown meet neither", notes, fixed = TRUE), 1L)
    expect_length(grep("1 line whose amount is unknown meets neither", notes, fixed = TRUE), 1L)
    notes <- all_notes(rollup(only(book, region %in% c("North", "(none)"), is.na(amount)), n = count()))
    expect_length(grep("meet neither|meets neither", notes), 0L)
  }
})

test_that("text compares with text, amounts with amounts, days with days; anything else is refused by kind", {
  for (book in on_engines(mixed_orders())) {
    for (condition in list(quote(amount > "x"), quote(amount == "3"), quote("3" == amount),
      quote(region == 3),
      quote(region %in% c(1, 2)), quote(amount %in% c("1", "2")), quote(on > 3), quote(on == amount),
      quote(paid == "TRUE"), quote(amount > on), quote(on > TRUE))) {
      expect_raised(only(book, !!condition), "expression", "compares")
    }
    expect_raised(rollup(book, s = only(sum(amount), amount > "x")), "expression",
      "compares a number with text")
    expect_identical(lines_of(book, quote(paid == 1)), 3)
  }
  expect_raised(only(daybook(mixed_orders(), on), amount == "3"), "expression", "Write it as a number: 3")
  expect_raised(only(daybook(mixed_orders(), on), region == 3), "expression", "Write it as text: \"3\"")
})

test_that("text that stands for dates is compared as dates, or not at all", {
  for (book in on_engines(mixed_orders())) {
    for (condition in list(quote(shipped >= "2026-01-08"), quote(shipped == "2026-01-08"),
      quote(shipped %in% c("2026-01-08")), quote(shipped > "08/01/2026"), quote(shipped < on))) {
      expect_raised(only(book, !!condition), "expression", "text that is not a date")
    }
    expect_identical(lines_of(book, quote(shipped == "08/01/2026")), 1)
    expect_identical(lines_of(book, quote(iso >= "2026-01-06")), 4)
    expect_identical(lines_of(book, quote(iso == "2026-01-06")), 1)
    expect_identical(lines_of(book, quote(iso < "2026-02-01")), 3)
  }
})

test_that("an argument that a word does not have is refused by name, in both languages", {
  book <- daybook(mixed_orders(), on)
  for (said in list(quote(paste(region, amount, sep = "|")), quote(abs(y = amount)), quote(c(a = 1) + amount),
    quote(ifelse(test = paid, yes = 1, no = 2)), quote(start_of(on, period = month)),
    quote(day_of_week(date = on)),
    quote(greatest(amount, na.rm = TRUE)), quote(round(amount, digit = 1)),
    quote(substr(region, 1, stop = 2)))) {
    expect_raised(work_out(book, x = !!said), "expression", "does not take these arguments")
  }
  for (said in list(quote(or_zero(x = sum(amount))), quote(least(sum(amount), na.rm = TRUE)),
    quote(round(sum(amount), digit = 1)), quote(share(sum(amount), by = region)),
    quote(ytd(sum(amount), period = year)))) {
    expect_raised(rollup(book, region, x = !!said), "expression", "does not take these arguments")
  }
  expect_raised(rollup(book, region, x = regardless(sum(amount), what = region)), "expression",
    "unnamed columns")
  expect_identical(as.data.frame(work_out(book, x = substr(region, to = 2, from = 1)))$x,
    substr(mixed_orders()$region, 1, 2))
  expect_identical(plain(rollup(book, x = round(digits = -1, m = sum(amount))))$x, 20)
})
