test_that("days and civil dates agree with base R over the whole range", {
  days <- first_known_day:last_known_day
  dates <- as.POSIXlt(as.Date(days, origin = "1970-01-01"))
  parts <- civil_parts(days)
  expect_identical(parts$year, as.integer(dates$year + 1900L))
  expect_identical(parts$month, as.integer(dates$mon + 1L))
  expect_identical(parts$day, as.integer(dates$mday))
  expect_identical(day_of(parts$year, parts$month, parts$day), days)
  expect_identical(weekday_of(days), as.integer((dates$wday + 6L) %% 7L + 1L))
})

test_that("ISO text is read, with or without a time, and nothing else is", {
  expect_identical(iso_days(c("2026-08-31", "2026-08-31T23:59:00Z", " 2026-08-31 10:00 ")), rep(20696L, 3L))
  expect_identical(iso_days(c("2026-02-29", "2026-13-01", "31/08/2026", "2026-8-31", "", NA)),
    rep(NA_integer_, 6L))
})

test_that("date-times count on the local day of their own zone, around clock changes too", {
  utc <- seq(as.POSIXct("2026-03-28 20:00", tz = "UTC"), by = 1800, length.out = 120L)
  for (zone in c("UTC", "Europe/London", "America/New_York", "Asia/Kolkata", "Australia/Lord_Howe")) {
    local <- utc
    attr(local, "tzone") <- zone
    expect_identical(local_days(local), as.integer(as.Date(format(local, "%Y-%m-%d"))))
  }
})
