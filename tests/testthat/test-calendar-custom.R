seasons <- data.frame(
  start = c("2025-03-01", "2025-11-01", "2026-03-01", "2026-11-01"),
  end = c("2025-10-31", "2026-02-28", "2026-10-31", "2027-02-28"),
  half = c("Summer 2025", "Winter 2025", "Summer 2026", "Winter 2026"), year = rep(
    c("Season 2025", "Season 2026"), each = 2L
  )
)

test_that("periods, labels, order and nesting come from the table", {
  calendar <- custom_calendar(seasons, name = "season")
  periods <- as_period(as.Date(c("2026-12-01", "2025-03-01", "2026-02-28")), half, calendar)
  expect_identical(format(sort(periods)), c("Summer 2025", "Winter 2025", "Winter 2026"))
  expect_identical(format(as_period(periods, year)), c("Season 2026", "Season 2025", "Season 2025"))
  expect_identical(end_of(as_period("Season 2025", year, calendar)), as.Date("2026-02-28"))
  keys <- format(as_period(seasons$half, half, calendar), "key")
  expect_identical(keys, seasons$start)
  expect_output(print(calendar), "season calendar, 1 March 2025 to 28 February 2027")
})

test_that("the table may be a CSV file", {
  path <- withr::local_tempfile(fileext = ".csv")
  utils::write.csv(seasons, path, row.names = FALSE)
  expect_identical(custom_calendar(path)$spec, custom_calendar(seasons)$spec)
  expect_raised(custom_calendar("nowhere.csv"), "file", "There is no file")
})

test_that("comparison goes by position in the table", {
  orders <- data.frame(on = as.Date("2025-03-01") + 0:600, amount = 1)
  book <- daybook(orders, on, list(season = custom_calendar(seasons)))
  rows <- plain(rollup(book, half, days = count(), ly = prior(days, year), ytd = ytd(days)))
  expect_identical(format(rows$half), seasons$half[1:3])
  expect_identical(rows$ly, c(NA, NA, 236)) # cut at the matching day, 22 October
  expect_identical(rows$ytd, c(245, 365, 236))
})

test_that("orders outside the table are counted and named, and no part of any total", {
  orders <- data.frame(on = as.Date(c("2025-01-01", "2025-04-01", "2026-04-01", "2027-05-01")),
    amount = c(1, 2, 4, 8))
  table <- rollup(daybook(orders, on, custom_calendar(seasons, "season")),
    year, sales = sum(amount), totals = "grand")
  expect_identical(plain(table)$sales, c(2, 4, 6))
  expect_output(print(table, width = 200),
    "2 lines outside the season calendar, 1 March 2025 to 28 February 2027")
  expect_warning(
    periods <- as_period(orders$on, year, custom_calendar(seasons)), "2 dates lie outside",
    class = "drystack_warning_outside"
  )
  expect_identical(is.na(periods), c(TRUE, FALSE, FALSE, TRUE))
  strict <- custom_calendar(seasons, "season", strict = TRUE)
  expect_raised(daybook(orders, on, strict), "calendar", "2 order lines lie outside the season calendar",
    "rows 1, 4")
  expect_raised(as_period(orders$on, year, strict), "calendar", "2 dates lie outside", "2025-01-01")
})

test_that("a table that makes no calendar is an error that names the rows", {
  broken <- function(...) {
    table <- seasons
    changes <- list(...)
    for (column in names(changes)) table[[column]][changes[[column]][[1L]]] <- changes[[column]][[2L]]
    table
  }
  expect_raised(custom_calendar(broken(start = list(3L, "2026-03-02"))), "calendar", "leave a gap", "row 3")
  expect_raised(custom_calendar(broken(start = list(2L, "2025-10-31"))), "calendar", "overlap", "row 2")
  expect_raised(custom_calendar(broken(end = list(4L, "2026-10-01"))),
    "calendar", "end before they begin", "row 4")
  expect_raised(custom_calendar(broken(end = list(1L, "soon"))), "calendar", "not dates", "\"soon\"", "row 1")
  expect_raised(custom_calendar(broken(half = list(4L, "Summer 2025"))), "calendar", "appears again", "row 4")
  expect_raised(custom_calendar(broken(half = list(3L, "Winter 2025"))),
    "calendar", "lies in two periods", "row 3")
  expect_raised(custom_calendar(broken(half = list(2L, NA))), "calendar", "needs a label", "row 2")
  expect_raised(custom_calendar(seasons[c("start", "half")]), "calendar", "needs the columns")
  expect_raised(custom_calendar(seasons[0L, ]), "calendar", "with rows")
  expect_raised(cyclic_part(as.Date("2026-01-01"), week_of_year, custom_calendar(seasons)),
    "calendar", "no unit")
})
