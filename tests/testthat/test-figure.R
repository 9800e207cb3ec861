book <- daybook(few_orders(), on, calendars = fiscal_calendar("July"))
months <- rollup(as_of(book, "2025-03-10"), month, sales = sum(amount), ytd = ytd(sales), totals = "grand")

test_that("bars are the amounts, the line is the year to date and starts again each fiscal year", {
  plot <- figure(months)
  expect_s3_class(plot, "ggplot")
  built <- ggplot2::ggplot_build(plot)
  rows <- plain(months)[plain(months)$.role == "line", ]
  expect_identical(built$data[[1L]]$ymax, rows$sales)
  line <- built$data[[2L]]
  expect_identical(line$y[order(line$x)], rows$ytd)
  expect_identical(as.vector(table(line$group)), c(6L, 9L))
})

test_that("part-way periods are told apart, and the figure says what it shows", {
  plot <- figure(months)
  alpha <- ggplot2::ggplot_build(plot)$data[[1L]]$alpha
  expect_lt(alpha[15L], alpha[14L])
  expect_identical(plot$labels$title, "Sales (bars) and ytd (line) by month")
  expect_match(plot$labels$caption, "2025-03 Mar is part-way")
  expect_match(plot$labels$alt, "from January 2024 to March 2025")
})

test_that("a dimension gives a panel for each member, in the order of the table", {
  plot <- figure(rollup(book, c(depot, quarter), sales = sum(amount)))
  layout <- ggplot2::ggplot_build(plot)$layout$layout
  expect_identical(as.character(layout$panel), c("Skelby", "Thornmoor", "(none)"))
})

test_that("a figure can be added to", {
  plot <- figure(months) + ggplot2::labs(title = "Mine")
  expect_identical(plot$labels$title, "Mine")
})

test_that("one period is enough for a figure", {
  one <- rollup(daybook(few_orders()[2L, ], on), month, sales = sum(amount), ytd = ytd(sales))
  expect_identical(ggplot2::ggplot_build(figure(one))$data[[1L]]$ymax, 20)
})

test_that("what cannot be drawn is an error", {
  expect_raised(figure(rollup(book, c(depot, status, month), n = count())), "figure", "1 period and 2 dimensions")
  expect_raised(figure(rollup(only(book, amount > 1e6), c(depot, month), n = count())), "figure", "needs rows")
  expect_raised(figure(months, kind = "heat"), "figure", "does not fit", "\"periods\"")
  expect_raised(figure(months, kind = "pie"), "argument", "kind")
  expect_raised(figure(1), "figure", "no figure for")
})
