# Every name that R or a file can carry works as column, dimension and measure, or is refused
# by an error that says so.

odd_names <- c(
  "lines", "total", "all", "dates", "none", "others", "figure",
  "measure", "row", "rows", "cols", "book", "role", "part", "before tax",
  "before s", "a b", " lead", "with `ticks`", "with \"quotes\"", "it's", "back\\slash", "100%",
  "Paid?", "a=b", "a,b",
  "a:b", "{x}", "#no", "\u00e9tat", "\u540d\u524d", "\u0438\u043c\u044f",
  "TRUE", "NULL", "if", "function", "sum", "month2", "x.y",
  "..1", "_u", "1st", "step1", "Total", "(none)"
)

orders_named <- function(name) {
  orders <- data.frame(on = as.Date("2026-01-05") + 0:3, k = c("p", "q", "p", NA), v = c(1, 2, 4, 8))
  names(orders)[2:3] <- c(name, "amount")
  orders
}

table_of <- function(kind, ...) {
  plain(make_table(new_request(kind, ...), daybook(orders_named(list(...)$rows[[1L]]$expr), on)))
}

test_that("odd names work as dimensions of every table, or are refused", {
  s <- list(s = said(quote(sum(amount))))
  for (name in odd_names) {
    by <- list(said(name))
    x <- table_of("rollup", rows = by, measures = s, totals = "grand")
    expect_identical(names(x), c(name, "s", ".role"))
    expect_identical(x$s, c(5, 2, 8, 15), label = name)
    cross <- table_of("crosstab", rows = by, cols = list(said("month")), measures = s)
    expect_identical(unname(unlist(cross[1L, 2L])), 5, label = name)
    book <- daybook(orders_named(name), on)
    listed <- rlang::try_fetch(
      plain(make_table(new_request("listing", rows = by, lines = list(said("on")),
        measures = s, totals = "all"), book)),
      drystack_error_argument = function(e) "told"
    )
    if (name == "lines") expect_identical(listed,
      "told") else expect_identical(sum(listed$s[listed$.role == "line"]), 15, label = name)
    rolled <- make_table(new_request("rollup", rows = by, measures = s), book)
    expect_identical(behind(rolled, 1L, "s")$amount, c(1, 4), label = name)
    expect_true(all(tie_out(rolled)$ok %in% c(TRUE, NA)))
    expect_match(table_title(rolled), "^S by ")
  }
})

test_that("odd names work in conditions, as columns worked out and as measures", {
  for (name in odd_names) {
    book <- daybook(orders_named(name), on)
    symbol <- as.name(name)
    limited <- add_conditions(book, list(said(call("==", symbol, "p"))))
    measures <- stats::setNames(list(said(quote(sum(amount))), said(call("*", 2, symbol))), c(name, "twice"))
    x <- plain(make_table(new_request("rollup", measures = measures), limited))
    expect_identical(x[[name]], 5, label = name)
    expect_identical(x$twice, 10, label = name)
    worked <- add_columns(daybook(few_orders(), on), stats::setNames(list(said(quote(amount * 2))), name))
    expect_identical(
      plain(make_table(new_request("rollup", measures = list(s = said(call("sum", symbol)))), worked))$s,
      2 * sum(few_orders()$amount)
    )
    lights <- make_table(new_request("headlines", measures = measures[1L],
      against = said(quote(month))), limited)
    expect_identical(plain(lights)[["figure"]], 5)
    expect_identical(behind(lights, 1L)$amount, c(1, 4))
  }
})

test_that("headlines keep a measure apart from what another is compared with", {
  x <- headlines(daybook(few_orders(), on), sales = ytd(sum(amount)),
    `before sales` = 2 * sum(amount), `before tax` = count())
  expect_identical(plain(x)[["figure"]], c(85.5, 291, 6))
  folder <- withr::local_tempdir()
  utils::write.csv(few_orders(), file.path(folder, "orders.csv"), row.names = FALSE, na = "")
  read <- headlines(daybook(read_orders(file.path(folder, "orders.csv")), "on"),
    sales = ytd(sum(amount)), `before tax` = count())
  file <- file.path(folder, "report.yml")
  as_standing(read, file)
  built <- build_report(file, out = folder, formats = "json")
  rows <- jsonlite::fromJSON(built$files)$tables$rows[[1L]]
  expect_identical(rows[["figure"]], plain(read)[["figure"]])
})

test_that("odd names pass through standing reports and the command line", {
  folder <- withr::local_tempdir()
  for (name in setdiff(odd_names, c("..1"))) {
    orders <- file.path(folder, "orders.csv")
    utils::write.csv(orders_named(name), orders, row.names = FALSE, na = "")
    book <- daybook(read_orders(orders), "on")
    label <- names(book$columns)[2L]
    x <- make_table(new_request("rollup", rows = list(said(label)),
      measures = stats::setNames(list(said(quote(sum(amount)))), paste(label, "!"))), book)
    file <- file.path(folder, "report.yml")
    if (grepl("[{}]", label)) {
      expect_raised(as_standing(x, file), "standing", "braces")
    } else {
      as_standing(x, file)
      built <- build_report(file, out = folder, formats = "json")
      rows <- jsonlite::fromJSON(built$files)$tables$rows[[1L]]
      expect_equal(rows[[paste(label, "!")]], c(5, 2, 8), label = label)
    }
    out <- file.path(folder, "x.json")
    show <- paste(name_text(paste(label, "!")), "= sum(amount)")
    status <- suppressMessages(run_command(c("rollup", "--orders",
      orders, "--date", "on", "--by", name_text(label), "--show", show, "--out", out)))
    expect_identical(status, 0L, label = label)
    expect_equal(jsonlite::fromJSON(out)$tables$rows[[1L]][[paste(label, "!")]], c(5, 2, 8), label = label)
  }
})

test_that("names that tables have themselves, empty ones and repeated ones are refused", {
  for (name in c(".role", ".line", ".part", ".measure")) {
    expect_raised(daybook(orders_named(name), on), "column", name)
    measures <- stats::setNames(list(said(quote(count()))), name)
    expect_raised(make_table(new_request("rollup", measures = measures), daybook(few_orders(), on)),
      "argument", name)
  }
  nameless <- orders_named("k")
  names(nameless)[2L] <- ""
  expect_raised(daybook(nameless, on), "column", "name of its own")
  names(nameless)[2L] <- "month"
  expect_raised(daybook(nameless, on), "column", "name of a period", "order_month")
})

test_that("a column named like a word of a lens is told from it", {
  orders <- data.frame(on = as.Date("2026-01-05") + 0:3, all = c("x", "y", "x", "y"),
    dates = c(1, 2, 3, 4), v = c(1, 2, 4, 8))
  book <- daybook(orders, on) |> only(all == "x", dates < 4)
  x <- plain(rollup(book, s = sum(v), everything = regardless(s, all), column = regardless(s, "all"),
    other = regardless(s, "dates")))
  expect_identical(unlist(x[1:4], use.names = FALSE), c(5, 15, 7, 5))
})

test_that("names that R takes for an argument are refused in our words by every function", {
  book <- daybook(few_orders(), on)
  calls <- c(
    "rollup(book, month, %s = sum(amount))", "rollup(book, by = month, %s = sum(amount))",
    "explain_plan(book, month, %s = sum(amount))", "crosstab(book, month, depot, %s = sum(amount))",
    "headlines(book, %s = sum(amount))", "listing(book, groups = month, lines = on, %s = sum(amount))",
    "work_out(book, %s = amount * 2)", "only(book, %s = amount > 2)"
  )
  for (call in calls) {
    for (name in c("b", "bo", "boo", "book")) {
      expect_error(eval(parse(text = sprintf(call, name))), class = "drystack_error",
        label = sprintf(call, name))
    }
  }
})

test_that("the first argument without a name is `by`, wherever it stands", {
  book <- daybook(few_orders(), on)
  expected <- as.data.frame(rollup(book, by = month, s = sum(amount)))
  expect_identical(as.data.frame(rollup(book, month, s = sum(amount))), expected)
  expect_identical(as.data.frame(rollup(book, s = sum(amount), month)), expected)
  expect_identical(as.data.frame(rollup(book, "month", s = sum(amount), totals = "none")), expected)
  expect_identical(as.data.frame(rollup(book, NULL, s = sum(amount))),
    as.data.frame(rollup(book, s = sum(amount))))
})
