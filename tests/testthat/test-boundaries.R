test_that("what is nested deeper than a hundred levels is refused, whatever wraps it", {
  wraps <- list(
    function(x) bquote(only(.(x), amount > 0)), function(x) bquote(prior(.(x), year)),
    function(x) bquote(mean(each(customer, .(x)))), function(x) bquote(or_zero(.(x))),
    function(x) bquote(.(x) + 1), function(x) bquote(overall(.(x)))
  )
  nested <- function(wrap, inner) Reduce(function(inner, i) wrap(inner), seq_len(300L), inner)
  book <- daybook(untidy_orders(20L, 1L), on)
  for (wrap in wraps) {
    expect_raised(eval(bquote(rollup(book, month, s = .(nested(wrap, quote(sum(amount))))))),
      "expression", "nested too deeply")
  }
  for (wrap in list(function(x) bquote(abs(.(x))),
    function(x) bquote(ifelse(amount > 1, .(x), 0)))) {
    for (say in list(quote(work_out), quote(only))) {
      expect_raised(eval(bquote(.(say)(book, s = .(nested(wrap, quote(amount)))))), "expression",
        "nested too deeply")
    }
  }
  # A long sum is as deep as it has parts: it is worked out, or refused where the stack
  # is too short.
  long <- Reduce(function(sum, i) bquote(.(sum) + amount), seq_len(98L), quote(amount))
  asked <- tryCatch(rollup(work_out(book, s = !!long), year, s = sum(s)),
    drystack_error_expression = identity)
  if (inherits(asked, "drystack_table")) {
    expect_equal(asked$figures$s, 99 * rollup(book, year, s = sum(amount))$figures$s)
  } else {
    expect_match(conditionMessage(asked), "nested too deeply")
  }
})

test_that("a few orders dated more than a month ahead, a year after all others, are left out", {
  ends <- function(ahead, many, rows = 200L) {
    days <- Sys.Date() - seq_len(rows)
    days[seq_len(many)] <- Sys.Date() + ahead
    as.integer(daybook(data.frame(on = days, v = 1), on)$as_of - as.integer(Sys.Date()))
  }
  expect_identical(ends(400L, 1L), -2L)
  expect_identical(ends(400L, 2L), -3L)
  # More than one in a hundred are meant, as are those soon after the others.
  expect_identical(ends(400L, 3L), 400L)
  expect_identical(ends(300L, 1L), 300L)
  expect_identical(ends(31L, 1L), 31L)
  expect_identical(ends(400L, 1L, 99L), 400L)
})

test_that("orders dated years apart from all others are told, where the record is short without them", {
  told <- function(first, rows = 60L, last = "2025-12-31") {
    days <- as.Date(last) - seq_len(rows)
    days[1L] <- as.Date(first)
    paste(all_notes(rollup(daybook(data.frame(on = days, v = 1), on), year, n = count())),
      collapse = " ")
  }
  expect_match(told("1900-01-01"),
    "1 order line dated years apart from the others (\"1900-01-01\")", fixed = TRUE)
  expect_match(told("2015-10-01"), "dated years apart")
  # Within ten years it may be an old order.
  expect_no_match(told("2016-06-01"), "dated years apart")
  expect_no_match(told("1900-01-01", rows = 19L), "dated years apart")
})

test_that("amounts of two currencies that a total adds up are told", {
  orders <- data.frame(on = as.Date("2025-01-05") + 0:5, ccy = c("GBP", "EUR"), amount = 1:6)
  book <- daybook(orders, on, currency = ccy)
  expect_match(all_notes(rollup(book, ccy, s = sum(amount), totals = "all")),
    "Amounts of 2 currencies are added together: EUR and GBP, in totals over \"ccy\"", all = FALSE)
})

test_that("periods are neither infinite nor no number, and missing ones are not finite", {
  periods <- as_period(c("2025-01", NA), "month")
  expect_identical(is.nan(periods), c(FALSE, FALSE))
  expect_identical(is.infinite(periods), c(FALSE, FALSE))
  expect_identical(is.finite(periods), c(TRUE, FALSE))
  expect_raised(exp(periods), "period", "cannot be used with periods")
})

test_that("weeks of a retail calendar run to the day its year ends on", {
  for (i in seq_len(7L)) {
    days <- c("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
    words <- format(week_calendar("4-4-5", ends = paste("last", days[i], "of January")))
    expect_match(paste(words, collapse = " "), paste(days[i %% 7L + 1L], "to",
      days[i]), fixed = TRUE)
  }
})

test_that("orders by another date in a database are those up to the as-of date of their own", {
  orders <- data.frame(id = 1:40, on = as.Date("2025-01-01") + 0:39,
    shipped = as.Date("2025-01-01") + 0:39 - rep(c(0L, 20L), 20L), v = 1:40)
  asked <- function(source) {
    book <- as_of(daybook(source, on), "2025-01-25")
    as.data.frame(rollup(book, month, s = sum(v), t = on(sum(v), shipped)))
  }
  here <- asked(orders)
  expect_equal(asked(sqlite_orders(orders)), here, ignore_attr = TRUE)
  known <- orders$on <= as.Date("2025-01-25") & orders$shipped >= as.Date("2025-01-01")
  expect_identical(sum(here$t), sum(orders$v[known]) + 0)
})

test_that("a month that ends on the day of the first order can be the last one closed", {
  orders <- data.frame(on = as.Date(c("2025-01-31", "2025-02-10")), v = 1)
  book <- as_of(closing(daybook(orders, on), after = 5L), "2025-02-10")
  expect_identical(format(closed_period(book, month)), "2025-01 Jan")
})

test_that("the age of a month is reached on its first day", {
  orders <- data.frame(on = as.Date(c("2025-01-15", "2025-02-10", "2025-02-20")),
    who = c("a", "a", "b"),
    v = 1:3)
  second_month_of_b <- function(day) {
    book <- work_out(as_of(daybook(orders, on), day), first_on = of_each(who, min(on)))
    book <- work_out(book, age = periods_between(first_on, on, month))
    crossed <- as.data.frame(crosstab(book, who, age, s = sum(v), totals = "none"))
    crossed[crossed$who == "b", ncol(crossed) - 1L]
  }
  expect_identical(second_month_of_b("2025-02-28"), NA_real_)
  expect_identical(second_month_of_b("2025-03-01"), 0)
})

test_that("a fifth of the dates may be of another form, and is told; more is an error", {
  mixed <- function(odd) {
    days <- as.Date("2025-01-01") + 0:19
    texts <- ifelse(seq_along(days) <= odd, format(days), format(days, "%d/%m/%Y"))
    daybook(data.frame(on = texts, v = 1), on)
  }
  expect_identical(rollup(mixed(4L), n = count())$figures$n, 16)
  expect_match(all_notes(rollup(mixed(4L), n = count())),
    "written otherwise than the other dates", all = FALSE)
  expect_raised(mixed(5L), "date", "several forms", "day, month, year")
})

test_that("records beside the orders may have their periods, and orders their members, as factors",
  {
  orders <- data.frame(on = as.Date(c("2025-01-15", "2025-02-10")), v = 1:2,
    who = factor(c("a", "b"), levels = c("b", "a")))
  plan <- data.frame(month = factor(c("2025-01", "2025-02")), who = c("z", "a"), target = c(5, 6))
  book <- alongside(as_of(daybook(orders, on), "2025-02-28"), plan = plan, date = month)
  x <- rollup(book, who, s = sum(v), t = of(plan, sum(target)))
  expect_identical(as.character(x$axes$who), c("b", "a", "z"))
  expect_identical(x$figures$t, c(0, 6, 5))
  expect_identical(rollup(book, month, t = of(plan, sum(target)))$figures$t, c(5, 6))
})

test_that("files that are no tables are told by what they are, whatever they are called", {
  begins <- list(
    "a PDF document" = list("%PDF-1.4"), "a text document (RTF" = list("{\\rtf1"),
    "a picture" = list(as.raw(c(0x89, 0x50, 0x4e, 0x47)),
      as.raw(c(0xff, 0xd8, 0xff, 0xe0)), "GIF89a"),
    "a database (SQLite" = list("SQLite format 3"),
    "not read (7z or RAR" = list(as.raw(c(0x37, 0x7a, 0xbc, 0xaf)), "Rar!"),
    "a workbook of XML" = list("<?xml version=\"1.0\"?>\n<?mso", "<?xml version=\"1.0\"?>\r\n<?mso")
  )
  for (words in names(begins)) {
    for (begin in begins[[words]]) {
      file <- withr::local_tempfile(fileext = ".csv")
      writeBin(c(if (is.raw(begin)) begin else charToRaw(begin),
        as.raw(rep(c(1, 44, 10), 20))), file)
      expect_raised(read_orders(file), "file", words)
    }
  }
})

test_that("a first line of a text and one whole number may be names; with two numbers or a date it is not", {
  names_of <- function(first, below) {
    file <- withr::local_tempfile(fileext = ".csv")
    writeLines(c(first, below), file)
    tryCatch(names(read_orders(file)), drystack_error = function(e) "none")
  }
  expect_identical(names_of("Skelby,5", c("Thornmoor,6", "Abbot,7")), c("Skelby", "5"))
  expect_identical(names_of("Skelby,5.20", c("Thornmoor,6.10", "Abbot,7.00")), "none")
  expect_identical(names_of("Skelby,5,12", c("Thornmoor,6,14", "Abbot,7,11")), "none")
  expect_identical(names_of("Skelby,2025-01-03",
    c("Thornmoor,2025-01-04", "Abbot,2025-01-05")), "none")
  expect_identical(names_of("Skelby,2024,2025", c("Thornmoor,6,14", "Abbot,7,11")),
    c("Skelby", "2024", "2025"))
})
