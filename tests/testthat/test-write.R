book <- daybook(few_orders(), on, calendars = fiscal_calendar("July"))
table <- rollup(book, c(depot, month), sales = sum(amount), share = sales / 3,
  ly = prior(sales, year), totals = "all")

test_that("CSV holds the table's values and reads back as they are", {
  path <- withr::local_tempfile(fileext = ".csv")
  expect_identical(write_report(table, path), path)
  back <- utils::read.csv(path, na.strings = "", check.names = FALSE)
  rows <- plain(table)
  expect_named(back, names(rows))
  for (figure in c("sales", "share", "ly")) expect_identical(as.numeric(back[[figure]]), rows[[figure]])
  expect_identical(back$depot, rows$depot)
  expect_identical(back$month, format(rows$month, "key"))
  expect_identical(back$.role, rows$.role)
})

test_that("CSV text is quoted where it must be", {
  orders <- few_orders()
  odd <- c("a,b", "say \"yes\"", "two\nlines", " edge", "plain", "\u00e9t\u00e9")
  orders$depot <- odd
  path <- withr::local_tempfile(fileext = ".csv")
  write_report(rollup(daybook(orders, on), depot, n = count()), path)
  expect_identical(utils::read.csv(path, encoding = "UTF-8")$depot, sort(odd, method = "radix"))
})

test_that("numbers are written in full, with the shortest text that reads back", {
  x <- c(0.1, 1 / 3, 1e15 + 0.25, 123456789.01, -0.005, NA)
  expect_identical(as.numeric(number_in_full(x[-6L])), x[-6L])
  expect_identical(number_in_full(0.1), "0.1")
})

test_that("HTML is one page that stands alone, with heads for rows and columns, and nothing unescaped", {
  orders <- few_orders()
  orders$depot[1L] <- "<script>alert('x')</script> & co"
  path <- withr::local_tempfile(fileext = ".html")
  write_report(
    rollup(as_of(daybook(orders, on), "2025-03-05"), c(depot, month),
      sales = sum(amount), totals = "grand"), path
  )
  page <- paste(readLines(path, encoding = "UTF-8"), collapse = "\n")
  expect_match(page, "^<!DOCTYPE html>")
  expect_match(page, "<html lang=\"en\">")
  expect_match(page, "<caption>Sales by depot and month</caption>", fixed = TRUE)
  expect_match(page, "<th scope=\"col\" class=\"figure short\">Sales</th>", fixed = TRUE)
  expect_match(page, "<th scope=\"row\" class=\"long\">&lt;script&gt;", fixed = TRUE)
  expect_match(page, "<tr class=\"total\">", fixed = TRUE)
  expect_match(page, "2025-03 Mar is part-way", fixed = TRUE)
  expect_no_match(page, "<script|https?://|<link|@import|src=")
  open <- lengths(regmatches(page, gregexpr("<(table|tr|th|td|tbody|thead|main|footer|div|p)[ >]", page)))
  closed <- lengths(regmatches(page, gregexpr("</(table|tr|th|td|tbody|thead|main|footer|div|p)>", page)))
  expect_identical(open, closed)
})

test_that("a table without rows is written too", {
  empty <- rollup(only(book, amount > 1000), depot, sales = sum(amount))
  csv <- withr::local_tempfile(fileext = ".csv")
  html <- withr::local_tempfile(fileext = ".html")
  write_report(empty, csv)
  write_report(empty, html)
  expect_identical(readLines(csv), "depot,sales,.role")
  expect_match(paste(readLines(html), collapse = ""), "No rows.")
})

test_that("a figure is written as PNG and SVG", {
  plot <- figure(rollup(book, month, sales = sum(amount)))
  for (ending in c(".png", ".svg")) {
    path <- withr::local_tempfile(fileext = ending)
    write_report(plot, path)
    expect_gt(file.size(path), 1000)
  }
})

test_that("what cannot be written is an error, and what stood there stays", {
  folder <- withr::local_tempdir()
  path <- file.path(folder, "sales.csv")
  writeLines("last good", path)
  expect_raised(write_report(table, file.path(folder, "no", "sales.csv")), "output", "There is no folder")
  expect_raised(write_report(table, file.path(folder, "sales.docx")), "output", "\".csv\", \".json\"")
  expect_raised(write_report(table, file.path(folder, "sales.png")), "output", "A table cannot be written as")
  expect_raised(write_report(few_orders(), path), "argument", "must be a table")
  dir.create(file.path(folder, "taken.csv"))
  expect_raised(write_report(table, file.path(folder, "taken.csv")), "output", "is a folder")
  expect_raised(write_whole(path, function(aside) {
    writeLines("half", aside)
    stop("the disk is full")
  }), "output", "Cannot write", "the disk is full")
  expect_identical(readLines(path), "last good")
  expect_setequal(list.files(folder, all.files = TRUE, no.. = TRUE), c("sales.csv", "taken.csv"))
})

test_that("a folder that may not be written to is an error", {
  skip_if(Sys.info()[["user"]] == "root", "root may write anywhere")
  folder <- withr::local_tempdir()
  Sys.chmod(folder, "0500")
  expect_raised(write_report(table, file.path(folder, "sales.csv")), "output", "Cannot write")
})
