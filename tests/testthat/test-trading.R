yard <- trading(
  fiscal_calendar("July"), closed = c("Sunday", "Sat"), holidays = c("2026-12-25", "2026-12-26", "2027-01-01")
)

count_by_hand <- function(from, to, holidays) {
  days <- seq(as.Date(from), as.Date(to), by = 1L)
  sum(!as.POSIXlt(days)$wday %in% c(0L, 6L) & !days %in% as.Date(holidays))
}

test_that("trading days are the days that are neither closed nor holidays", {
  holidays <- c("2026-12-25", "2026-12-26", "2027-01-01")
  expect_identical(
    trading_days(as_period("2026-12-01", month, yard)), count_by_hand("2026-12-01", "2026-12-31", holidays)
  )
  expect_identical(trading_days(as_period("FY2027", year, yard)),
    count_by_hand("2026-07-01", "2027-06-30", holidays))
  expect_identical(
    trading_days(as.Date(c("2026-12-21", "2026-12-25")), as.Date(c("2027-01-03", "2026-12-27")), yard),
    c(count_by_hand("2026-12-21", "2027-01-03", holidays), 0L)
  )
})

test_that("months add up to their year, and without a rule every day counts", {
  months <- as_period("2026-07-01", month, yard) + 0:11
  expect_identical(sum(trading_days(months)), trading_days(as_period("FY2027", year, yard)))
  expect_identical(trading_days(as_period("2026-02-01", month)), 28L)
})

test_that("trading days do not change what the periods are", {
  plain_year <- as_period("FY2027", year, fiscal_calendar("July"))
  expect_identical(as_period("FY2027", year, yard) == plain_year, TRUE)
})

test_that("holidays may be a file, and must be dates", {
  path <- withr::local_tempfile(
    fileext = ".csv", lines = c("day,name", "2026-12-25,Christmas Day", "2026-12-28,Boxing Day")
  )
  calendar <- trading(civil_calendar(), holidays = path)
  expect_identical(trading_days(as_period("2026-12", month, calendar)), 29L)
  expect_raised(
    trading(civil_calendar(), holidays = c("2026-12-25", "Boxing Day")),
    "date", "\"Boxing Day\" at 1 place", "2"
  )
  expect_raised(trading(civil_calendar(), holidays = "no-such-file.csv"),
    "date", "name a CSV file that is there")
  expect_raised(trading(civil_calendar(), closed = "Sundey"), "calendar", "Did you mean \"Sunday\"?")
  expect_raised(trading_days(as.Date("2026-01-01")), "argument", "first days and last days")
})

test_that("prior and moving go by trading days where that is said", {
  calendar <- trading(civil_calendar(), closed = c("Saturday", "Sunday"), holidays = "2026-08-31")
  days <- as.Date("2026-08-03") + 0:34
  shop <- !format(days, "%u") %in% 6:7 & days != as.Date("2026-08-31")
  book <- daybook(data.frame(on = days[shop], v = seq_along(days)[shop]), on, calendar)
  open <- days[shop]
  amount <- seq_along(days)[shop]
  table <- rollup(book, day, s = sum(v), p = prior(s, day, trading = TRUE),
    p2 = prior(s, day, 2, trading = TRUE), m = moving(s, 3, day, trading = TRUE),
    mm = moving(s, 3, day, using = mean, trading = TRUE), c = change(s, day, trading = TRUE),
    totals = "grand")
  rows <- plain(table)
  at <- match(open, start_of(rows$day))
  back <- function(n) c(rep(NA, n), utils::head(amount, -n))
  expect_identical(rows$p[at], as.numeric(back(1L)))
  expect_identical(rows$p2[at], as.numeric(back(2L)))
  expect_identical(rows$m[at], as.numeric(amount + back(1L) + back(2L)))
  expect_equal(rows$mm[at], (amount + back(1L) + back(2L)) / 3)
  expect_identical(rows$c[at], as.numeric(amount - back(1L)))
  expect_true(all(tie_out(table)$ok %in% c(TRUE, NA)))
  expect_match(paste(format(explain(table, at[20L], "p")), collapse = " "), "1 trading day earlier")
  expect_raised(rollup(book, month, p = prior(sum(v), month, trading = TRUE)), "expression", "goes by days")
  expect_raised(rollup(book, day, p = prior(sum(v), day, trading = 2)), "expression", "trading")
})

test_that("sold = TRUE goes by the days with orders of the scope, whatever lies between", {
  set.seed(5)
  orders <- data.frame(on = as.Date("2026-01-01") + sample(0:60, 45, TRUE), place = sample(c("p", "q"), 45,
    TRUE),
    v = sample(1:90, 45))
  book <- daybook(orders, on) |> only(place == "p") |> as_of("2026-03-05") |> within_dates("2026-01-20",
    "2026-02-25")
  x <- as.data.frame(rollup(book, by = day, s = sum(v), before = prior(s, day, sold = TRUE),
    third = prior(s, day, 3, sold = TRUE), after = prior(s, day, -1, sold = TRUE), three = moving(s, 3, day,
      sold = TRUE),
    mean = moving(s, 3, day, using = mean, sold = TRUE)))
  own <- orders[orders$place == "p", ]
  sums <- tapply(own$v, own$on, sum)
  sold <- as.Date(names(sums))
  day <- start_of(x$day)
  back <- function(n) vapply(day, function(d) c(rev(sums[sold < d]), rep(NA, 9L))[n], 1)
  expect_equal(x$before, unname(back(1L)))
  expect_equal(x$third, unname(back(3L)))
  expect_equal(x$after, unname(vapply(day, function(d) c(sums[sold > d], NA)[1L], 1)))
  window <- lapply(day, function(d) utils::tail(sums[sold <= d], 3L))
  expect_equal(x$three, vapply(window, function(w) if (length(w) < 3L) NA else sum(w), 1))
  expect_equal(x$mean, vapply(window, function(w) if (length(w) < 3L) NA else mean(w), 1))
  expect_raised(rollup(book, by = month, m = prior(sum(v), day, sold = TRUE)), "expression", "goes by days")
  expect_raised(rollup(book, by = day, m = prior(sum(v), day, sold = TRUE, trading = TRUE)), "expression",
    "trading")
})
