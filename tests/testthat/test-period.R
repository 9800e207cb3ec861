months <- function(...) as_period(as.Date(c(...)), month)

test_that("periods order, compare and count as time does", {
  p <- months("2026-10-05", "2026-02-01", "2026-10-31", NA)
  expect_identical(format(sort(p)), c("2026-02 Feb", "2026-10 Oct", "2026-10 Oct"))
  expect_identical(p[1L] > p[2L], TRUE)
  expect_identical(p == p[1L], c(TRUE, FALSE, TRUE, NA))
  expect_identical(format(unique(p)), c("2026-10 Oct", "2026-02 Feb", NA))
  expect_identical(match(months("2026-02-20"), p), 2L)
  expect_identical(range(p, na.rm = TRUE), months("2026-02-01", "2026-10-01"))
})

test_that("arithmetic goes by whole periods", {
  p <- months("2024-01-31")
  expect_identical(p + 1L, months("2024-02-10"))
  expect_identical(p - 13, months("2022-12-01"))
  expect_identical(1L + p, p + 1L)
  expect_identical(months("2026-03-01") - p, 26L)
  expect_identical(length(seq(p, p + 11L)), 12L)
  expect_identical(format(seq(p, p + 11L, by = 3)), format(p + c(0L, 3L, 6L, 9L)))
})

test_that("periods live in data frames and tibbles", {
  a <- data.frame(n = 1:2)
  a$p <- months("2026-01-01", "2026-02-01")
  b <- rbind(a, a)
  expect_identical(b$p, c(a$p, a$p))
  expect_identical(b[b$p == b$p[2L], "n"], c(2L, 2L))
  t <- tibble::tibble(p = a$p)
  expect_identical(t$p[2:1], a$p[2:1])
  expect_output(print(t), "<month>")
})

test_that("a period converts to the unit that holds it, and says when none does", {
  p <- months("2026-08-31")
  expect_identical(format(as_period(p, quarter)), "2026 Q3")
  expect_identical(format(as_period(p, quarter, fiscal_calendar("July"))), "FY2027 Q1")
  week <- as_period("2026-09-01", week)
  expect_raised(as_period(week, month), "period", "A week does not always lie in one month", "2026-W36")
  expect_identical(format(as_period(start_of(week), month)), "2026-08 Aug")
})

test_that("templates make labels of their own", {
  p <- as_period("2026-08-31", month, fiscal_calendar("July"))
  expect_identical(format(p, template = "P{month} of FY{year}"), "P02 of FY2027")
  expect_identical(format(p, "long"), "August 2026")
  expect_identical(format(p, "short"), "Aug")
  expect_raised(format(p, template = "{yeer}"), "argument", "Did you mean \"year\"?")
})

test_that("units and calendars do not mix", {
  expect_error(c(months("2026-01-01"), as_period("2026-01-01", year)),
    class = "vctrs_error_incompatible_type")
  expect_error(months("2026-01-01") == as_period("2026-01-01", year), class = "vctrs_error_incompatible_type")
  expect_raised(months("2026-01-01") - as_period("2026-01-01", year), "period", "one unit and calendar")
  expect_raised(months("2026-01-01") + 1.5, "period", "whole numbers")
  expect_raised(months("2026-01-01") * 2, "period", "whole numbers")
  expect_raised(sum(months("2026-01-01")), "period", "cannot be used with periods")
})

test_that("text that names no period, and dates out of range, are errors that say so", {
  expect_raised(as_period(c("2026-01 Jan", "Janury"), month), "period", "\"Janury\" at row 2")
  expect_raised(as_period(as.Date("1899-12-31"), month), "date", "1900-01-01 and 2200-12-31", "1899-12-31")
  expect_raised(as_period(as.Date("2026-01-01"), fortnight), "calendar", "fortnight")
  expect_raised(as_period(as.Date("2026-01-01"), "quartr"), "argument", "Did you mean \"quarter\"?")
  expect_raised(as_period("2200-12-01", month) + 12L, "period", "outside the calendar")
  expect_raised(start_of(1), "period", "must be a period vector")
})

test_that("no periods and missing periods pass through", {
  none <- as_period(as.Date(character()), month)
  expect_length(format(none), 0L)
  expect_identical(as.Date(months(NA)), as.Date(NA))
  expect_identical(is.na(months(NA, "2026-01-01")), c(TRUE, FALSE))
})

test_that("a period axis keeps the order of time and labels periods", {
  withr::local_package("ggplot2")
  data <- data.frame(sales = 1:12)
  data$p <- months("2026-01-01") + 11:0
  plot <- ggplot(data, aes(p, sales)) + geom_col() + scale_x_drystack_period()
  built <- ggplot_build(plot)
  axis <- built$layout$panel_params[[1L]]$x
  labels <- axis$get_labels()
  expect_true("Jan\n2026" %in% labels)
  positions <- axis$get_breaks()
  expect_false(is.unsorted(positions[!is.na(positions)]))
})
