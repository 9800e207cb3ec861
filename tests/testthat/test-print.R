lines_of <- function(table, width = 100L, ...) format(table, width = width, ...)

book <- daybook(few_orders(), on)

test_that("a table prints its title, standing facts, aligned rows and notes", {
  lines <- lines_of(
    rollup(only(as_of(book, "2025-02-10"), amount > 0), c(depot, quarter),
      sales = sum(amount), totals = "all")
  )
  expect_identical(lines[1L], "Sales by depot and quarter")
  expect_match(lines[2L], "As of 10 February 2025 . civil year, January to December . amount is over 0")
  body <- lines[4:(length(lines) - 4L)]
  expect_identical(unique(nchar(body[nzchar(body)])), nchar(body[1L]))
  expect_match(body[3L], "^Skelby +2024 Q1 +10$")
  expect_true(any(grepl("^Total Skelby ", body)))
  # What the line above says is not said again.
  expect_match(body[4L], "^ +2024 Q2 +0$")
  expect_true(any(grepl("^Total ", body)))
  expect_true(any(grepl("2025 Q1 \\*", body)))
  expect_match(lines[length(lines) - 2L], "^\\* 2025 Q1 is part-way: 41 of 90 days")
  expect_match(lines[length(lines)],
    "From 4 of 6 order lines; left out: 2 lines after 10 February 2025. Conditions: amount > 0.")
})

test_that("the parts of a wide table are of even width: no more of them than must be, none far wider", {
  months <- data.frame(on = seq(as.Date("2023-01-15"), by = "month", length.out = 40L), a = c("p", "q"),
    v = 1234.5)
  x <- crosstab(daybook(months, on), rows = a, cols = month, s = sum(v))
  for (width in c(40L, 57L, 80L, 111L, 200L)) {
    lines <- lines_of(x, width)
    heads <- grep("^\\[", lines)
    expect_identical(sub(":.*", "]", lines[heads]), sprintf("[%d of %d]", seq_along(heads), length(heads)))
    rules <- nchar(lines[startsWith(lines, "\u2500")])
    expect_true(all(rules <= width))
    # As many as the columns need at this width, and the last is no leftover.
    each <- (width - 1L) %/% 13L
    expect_lte(length(heads), ceiling(40 / max(1L, each - 1L)))
    expect_gte(min(rules), max(rules) - 13L * ceiling(max(rules) / 13 / length(heads)) - 13L)
  }
})

test_that("a table too wide is cut into blocks that repeat the axes, and no line is wider", {
  table <- rollup(
    book, c(depot, month), first = sum(amount) * 1e9, second = first * 2,
    third = first * 3, fourth = first * 4
  )
  lines <- lines_of(table, width = 42L)
  expect_lte(max(cli::ansi_nchar(lines, "width")), 42L)
  expect_identical(sum(grepl("^Depot", lines)), 4L)
  for (measure in c("First", "Second", "Third", "Fourth")) expect_true(any(grepl(measure, lines[-1L])))
})

test_that("rows beyond the limit are counted", {
  expect_true(
    "\u2026 12 more rows: as.data.frame() and write_report() give all." %in% lines_of(
      rollup(book, month, n = count()), rows = 3L
    )
  )
})

test_that("wide and combining characters are aligned by display width, control characters are shown", {
  orders <- few_orders()
  orders$depot <- c("\u65e5\u672c\u77f3", "e\u0301te\u0301", "a\tb\033[31m",
    "plain", "\U0001F9F1", strrep("x", 40L))
  lines <- lines_of(rollup(daybook(orders, on), depot, sales = sum(amount)))
  body <- grep("[0-9]$", lines[-(1:4)], value = TRUE)
  expect_length(unique(cli::ansi_nchar(body, "width")), 1L)
  expect_true(any(grepl("a\\tb\\u001b[31m", body, fixed = TRUE)))
  expect_no_match(paste(lines, collapse = ""), "\033")
})

test_that("figures are set apart in thousands, minus is a minus, unknown is a dash", {
  expect_identical(format_figures(c(1234567, -2, NA)), c("1,234,567", "\u22122", "\u2013"))
  expect_identical(format_figures(c(1234.5, -0.001)), c("1,234.50", "0.00"))
  expect_identical(format_figures(c(0.0512, -1)), c("0.051", "\u22121.000"))
  expect_identical(format_figures(numeric()), character())
})

test_that("notes say where figures lack a record and where amounts are unknown", {
  orders <- few_orders()
  orders$amount[2L] <- NA
  lines <- lines_of(rollup(daybook(orders, on, fiscal_calendar("July")), month, ytd = ytd(sum(amount))),
    width = 300L)
  expect_true(any(grepl("The record begins on 15 January 2024", lines)))
  expect_true("Amount is unknown on 1 line, left out of its figures." %in% lines)
})

test_that("print returns its table invisibly and keeps to plain text in a pipe", {
  table <- rollup(book, year, n = count())
  withr::local_options(cli.num_colors = 1L)
  output <- utils::capture.output(returned <- withVisible(print(table)))
  expect_false(returned$visible)
  expect_identical(returned$value, table)
  expect_no_match(paste(output, collapse = ""), "\033")
})

test_that(
  "the progress of a long fold is told in rising parts, and the bar of a terminal is one line that ends", {
  told <- numeric()
  withr::local_options(drystack.progress = function(part) told <<- c(told, part), drystack.progress_after = 0)
  n <- 3e6
  book <- daybook(data.frame(on = rep(as.Date("2024-01-01") + 0:999, length.out = n), x = 1), on)
  rollup(book, month, s = sum(x))
  expect_gt(length(told), 2L)
  expect_false(is.unsorted(told))
  expect_true(all(told >= 0 & told <= 1))
  bar <- progress_bar()
  id <- function() environment(bar)$id
  utils::capture.output(bar(0.5), type = "message")
  expect_type(id(), "character")
  utils::capture.output(bar(0.98), type = "message")
  expect_null(id())
})
