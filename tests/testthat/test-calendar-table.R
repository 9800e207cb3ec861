test_that("a calendar is a table with labels, keys, days and coarser periods", {
  rows <- calendar_table(trading(fiscal_calendar("July"), closed = "Sunday"),
    "2026-07-01", "2027-06-30", month)
  expect_identical(nrow(rows), 12L)
  expect_identical(rows$key, sprintf("FY2027-P%02d", 1:12))
  expect_identical(rows$quarter, rep(paste0("FY2027 Q", 1:4), each = 3L))
  expect_identical(sum(rows$days), 365L)
  expect_identical(rows$start[-1L], rows$end[-12L] + 1)
  expect_identical(rows$trading_days[2L], 26L)
  days <- calendar_table(civil_calendar(), "2026-02-27", "2026-03-01")
  expect_identical(days$month, c("2026-02 Feb", "2026-02 Feb", "2026-03 Mar"))
  expect_identical(days$week, c("2026-W09", "2026-W09", "2026-W09"))
  weeks <- calendar_table(civil_calendar(), "2026-02-27", "2026-03-09", week)
  expect_named(weeks, c("period", "label", "key", "start", "end", "days", "trading_days"))
})

test_that("a daybook stands for its first calendar, and wrong limits are errors", {
  book <- daybook(few_orders(), on, fiscal_calendar("July"))
  expect_identical(calendar_table(book, "2026-07-01", "2026-07-31", month)$key, "FY2027-P01")
  expect_raised(calendar_table(book, "2026-07-01", "2026-06-01"), "date", "lies after")
  expect_raised(calendar_table(book, "soon", "2026-06-01"), "date", "\"soon\"")
  expect_raised(
    calendar_table(iso_week_calendar(), "2026-01-01", "2026-06-01", month),
    "calendar", "has no unit \"month\""
  )
})

test_that("the command line prints, writes and draws a calendar", {
  withr::local_options(cli.num_colors = 1L)
  out <- utils::capture.output(run_command(c(
    "calendar", "--calendar", "week:4-4-5:last Saturday of January",
    "--from", "2026-02-01", "--closed", "Saturday,Sunday"
  )))
  expect_match(out[1L], "Months of the 4-4-5 calendar")
  expect_true(any(grepl("FY2027 P12 .*2027-01-30 .* 25$", out)))
  csv <- utils::capture.output(run_command(c(
    "calendar", "--calendar", "fiscal:July", "--from", "2026-07-01",
    "--to", "2026-12-31", "--unit", "quarter", "--csv"
  )))
  expect_identical(utils::read.csv(text = csv)$key, c("FY2027-Q1", "FY2027-Q2"))
  folder <- withr::local_tempdir()
  paths <- file.path(folder, c("year.png", "year.csv"))
  utils::capture.output(
    status <- run_command(
      c("calendar", "--calendar", "iso", "--from", "2026-01-01", "--out", paths[1L], "--out", paths[2L])
    ),
    type = "message"
  )
  expect_identical(status, 0L)
  expect_identical(nrow(utils::read.csv(paths[2L])), 53L)
  expect_gt(file.size(paths[1L]), 5000)
})

test_that("the picture of a calendar has a band for each unit, cut where its periods begin", {
  plot <- figure(fiscal_calendar("July"), "2026-08-31")
  bands <- ggplot2::ggplot_build(plot)$data[[1L]]
  expect_identical(as.vector(table(bands$ymin)), c(53L, 12L, 4L, 2L, 1L))
  expect_match(plot$labels$title, "FY2027, 1 July 2026 to 30 June 2027")
  expect_raised(figure(fiscal_calendar("July"), "someday"), "date", "someday")
})

test_that("rollup takes the dates shown and every calendar on the command line", {
  path <- withr::local_tempfile(fileext = ".csv")
  orders <- data.frame(on = as.Date("2024-02-01") + 0:800, amount = 1)
  utils::write.csv(orders, path, row.names = FALSE)
  run <- function(...) {
    file <- withr::local_tempfile(fileext = ".csv")
    utils::capture.output(
      run_command(c("rollup", "--orders", path, "--date", "on", "--show", "n = count()", "--out", file, ...)),
      type = "message"
    )
    utils::read.csv(file)
  }
  expect_identical(
    run("--by", "month", "--latest", "2 month", "--complete", "--as-of", "2026-03-15")$month,
    c("2026-01", "2026-02")
  )
  expect_identical(run("--by", "month", "--from", "2026-01-10", "--to", "2026-02-10")$n, c(22L, 10L))
  expect_identical(run("--calendar", "iso", "--by", "year")$year, 2024:2026)
  expect_identical(
    run("--calendar", "week:4-5-4:Saturday nearest the end of January:start", "--by", "year")$year, paste0(
      "FY", c(2023:2026)
    )
  )
  seasons <- withr::local_tempfile(
    fileext = ".csv", lines = c("start,end,year", "2024-01-01,2025-06-30,Long",
      "2025-07-01,2026-12-31,Longer")
  )
  expect_identical(run("--calendar", paste0("custom:", seasons), "--by", "year")$n, c(516L, 285L))
})
