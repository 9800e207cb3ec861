# What stands beside figures: marks by rule, bars, histories.

book <- daybook(harrowgill()$orders, date = ordered_on) |> within_dates("2025-01-01", "2026-08-31") |>
  as_of("2026-08-31")

marked <- function(x, name) Filter(function(column) column$name == name, as_sheet(x)$columns)[[1L]]$marked

test_that("a figure is marked where its rule holds, the first of several, and nowhere else", {
  x <- rollup(book, by = c(region, month), sales = sum(amount), ly = prior(sales, year),
    growth = measure(growth(sales, year),
      marks = c("falling" = growth < 0, "far ahead" = sales > 1.5 * (ly + 0), "ahead" = growth >= 0.2)),
    totals = "all")
  data <- as.data.frame(x)
  holds <- function(test) test & !is.na(test)
  expected <- ifelse(holds(data$growth < 0), "falling", ifelse(holds(data$sales > 1.5 * data$ly), "far ahead",
    ifelse(holds(data$growth >= 0.2), "ahead", "")))
  expect_identical(marked(x, "growth"), expected)
  expect_true(all(c("falling", "far ahead", "ahead", "") %in% expected))
  text <- format(x, width = 120L)
  expect_identical(sum(grepl("falling \u2212", text)), sum(expected == "falling"))
  html <- paste(html_lines(as_bundle(x)), collapse = "\n")
  expect_identical(lengths(regmatches(html, gregexpr("<span class=\"mark plain\">falling</span>", html))),
    sum(expected == "falling"))
  # Files of data hold the figures alone.
  expect_identical(as_sheet(x)$data()$growth, data$growth)
})

test_that("cross-tabs and listings are marked cell by cell", {
  x <- crosstab(book, rows = depot, cols = channel,
    s = measure(sum(amount), marks = c("small" = s < 1000)), n = count(), totals = "grand")
  sheet <- as_sheet(x)
  long <- as.data.frame(x, shape = "long")
  columns <- Filter(function(column) !is.null(column$marked), sheet$columns)
  expect_length(columns, length(x$grid$col_head))
  expect_identical(sum(unlist(lapply(columns, `[[`, "marked")) == "small"), sum(long$s < 1000))
  for (column in columns) expect_identical(column$marked == "small", column$raw < 1000)
  lines <- listing(within_dates(book, "2026-08-01", "2026-08-05"), depot, lines = order_id,
    s = measure(sum(amount), marks = c("large" = s > 2000)), layout = "indented")
  shown <- Filter(function(column) column$name == "s", as_sheet(lines)$columns)[[1L]]
  expect_identical(shown$marked == "large", shown$raw > 2000 & !is.na(shown$raw))
})

test_that("a mark that is good or bad says so by a sign, with or without colour, and is saved so", {
  x <- rollup(book, by = month, s = measure(sum(amount), marks = c("high" = good(s > 5e5),
    "low" = bad(s < 3e5),
    "odd" = s < 5e5)))
  data <- as.data.frame(x)
  expected <- ifelse(data$s > 5e5, "\u2713 high", ifelse(data$s < 3e5, "! low", ifelse(data$s < 5e5, "odd",
    "")))
  expect_identical(marked(x, "s"), expected)
  html <- paste(html_lines(as_bundle(x)), collapse = "\n")
  for (class in c("good", "bad", "plain")) expect_match(html, paste0("<span class=\"mark ", class, "\">"))
  expect_identical(unlist(saved_measures(list(x))$s$marks),
    c(high = "good(s > 5e+05)", low = "bad(s < 3e+05)", odd = "s < 5e+05"))
})

test_that("a mark that makes no sense is refused, by name", {
  ask <- function(...) rollup(book, by = depot, s = sum(amount), ...)
  expect_raised(ask(g = measure(growth(s, year), marks = c("x" = gg < 0))), "column", "does not show")
  expect_raised(ask(g = measure(growth(s, year), marks = c("x" = g))), "expression", "compares figures")
  expect_raised(ask(g = measure(growth(s, year), marks = c("x" = system("ls") > 0))), "expression")
  expect_raised(ask(g = measure(growth(s, year), marks = c(g < 0))), "argument", "has a word")
  expect_raised(ask(g = measure(growth(s, year), bar = 1)), "argument", "TRUE or FALSE")
})

test_that("bars are as long as the figures of lines are", {
  x <- rollup(book, by = depot, s = measure(sum(amount), bar = TRUE), totals = "grand")
  bar <- as_sheet(x)$columns[[3L]]
  data <- as.data.frame(x)
  expect_identical(nchar(bar$text[which.max(data$s[data$.role == "line"])]), longest_bar)
  expect_identical(bar$text[data$.role == "total"], "")
  expect_identical(block_bar(c(0, 1 / 96, 0.5, 1)), c("", "\u258f", strrep("\u2588", 6L), strrep("\u2588",
    12L)))
})

test_that("a history holds for each row what a rollup of its members by the unit has", {
  x <- rollup(book, by = c(region, depot), s = measure(sum(amount), history = month), totals = "all")
  own <- as.data.frame(rollup(within_dates(book, latest(13, month)), by = c(month, region, depot),
    s = sum(amount),
    totals = "all"))
  data <- as.data.frame(x)
  same <- function(a, b) (is.na(a) & is.na(b)) | (!is.na(a) & !is.na(b) & a == b)
  for (i in seq_len(nrow(data))) {
    rows <- own[!is.na(own$month) & same(own$region, data$region[i]) & same(own$depot, data$depot[i]), ]
    history <- x$histories$s$figures[[i]]
    expect_length(history, 13L)
    expect_identical(history[!is.na(history)], rows$s[order(rows$month)])
  }
  expect_raised(rollup(book, by = month, s = measure(sum(amount), history = month)), "argument",
    "without periods")
  expect_raised(rollup(book, by = depot, s = measure(sum(amount), history = monht)), "column")
})
