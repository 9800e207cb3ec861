# Exports with every habit of a table of habits: what look says first runs on them as printed and
# gives the sums of the table they were made from.

sums_of_export <- function(export) {
  command <- first_command(look_at(export$path))
  words <- scan(text = paste(sub("\\\\$", "", command), collapse = " "),
    what = "", quote = "'", quiet = TRUE)[-1L]
  words[which(words == "--by") + 1L] <- "month"
  out <- withr::local_tempfile(fileext = ".csv")
  status <- NULL
  told <- utils::capture.output(status <- run_command(c(words, "--out", out)), type = "message")
  if (status != 0L) {
    return(paste(told, collapse = " "))
  }
  got <- utils::read.csv(out)
  stats::setNames(got[[2L]], got[[1L]])
}

test_that("the command that look prints gives the monthly totals of dirty exports", {
  for (seed in seq_len(trials(1000L))) {
    export <- dirty_export(seed)
    month <- format(export$sales$ordered, "%Y-%m")
    expect_equal(
      sums_of_export(export), c(tapply(export$sales$net, month, sum)), tolerance = 1e-12,
      ignore_attr = "dim", label = paste(c("seed", seed, unlist(export$said)), collapse = " ")
    )
  }
})

test_that("the same habits in a worksheet", {
  sales <- plain_sales()
  file <- withr::local_tempfile(fileext = ".xlsx")
  workbook <- openxlsx::createWorkbook()
  openxlsx::addWorksheet(workbook, "Sales")
  openxlsx::writeData(workbook, 1, "Harrowgill Stone Yard", startRow = 1)
  openxlsx::writeData(workbook, 1, sales, startRow = 3)
  openxlsx::writeData(workbook, 1, data.frame("Grand total", "", sum(sales$net)),
    startRow = 64, colNames = FALSE)
  openxlsx::saveWorkbook(workbook, file)
  orders <- read_orders(file)
  expect_identical(orders$ordered, sales$ordered)
  expect_identical(orders$net, sales$net)
  expect_identical(orders$customer, sales$customer)
  expect_match(attr(orders, "reading")$told, "1 totals line left out", all = FALSE)
})

test_that("what only looks like a totals line stays, and is a finding", {
  path <- written("on,who,net", "2026-01-01,Total Gardens,5", "2026-01-02,b,7", "Total,,13")
  orders <- read_orders(path)
  expect_identical(orders$net, c(5L, 7L, 13L))
  kept <- read_orders(written("on,who,net", "2026-01-01,Total Gardens,5", "2026-01-02,b,7", ",,13"))
  found <- as.data.frame(check(daybook(kept, on)))
  expect_in_set("Total Gardens", kept$who)
  finding <- attr(orders, "reading")$findings[[1L]]
  expect_identical(finding$kind, "totals lines")
  expect_identical(finding$rows, 3L)
  proven <- read_orders(written("on,who,net", "2026-01-01,Total Gardens,5", "2026-01-02,b,7", "Total,,12"))
  expect_identical(proven$net, c(5L, 7L))
  all <- read_orders(written("on,who,net", "2026-01-01,a,5", "2026-01-02,b,7", "Total,,12"),
    totals_lines = "keep")
  expect_identical(all$net, c(5L, 7L, 12L))
})

test_that("amounts of which no column settles the mark stay text, and say how to be read", {
  path <- written("on;net", "2026-01-01;1,234", "2026-01-02;5,000")
  expect_type(read_orders(path)$net, "character")
  expect_raised(rollup(daybook(read_orders(path), on), s = sum(net)),
    "amount", "both ways", "decimal = \",\"")
  told <- drystack("rollup", "--orders", path, "--date", "on", "--show", "s = sum(net)")
  expect_match(told$err, "--decimal", fixed = TRUE)
  again <- drystack("rollup", "--orders", path, "--date", "on", "--show", "s = sum(net)", "--decimal", ".",
    "--format", "csv")
  expect_identical(again$out[2L], "6234,line")
  expect_identical(read_orders(path, decimal = ",")$net, c(1.234, 5))
  settled <- read_orders(written("on;net;price", "2026-01-01;1,234;2.50", "2026-01-02;5,000;3.75"))
  expect_identical(settled$net, c(1234, 5000))
})

test_that("several currencies become a column; names that stand twice or are periods are told", {
  orders <- read_orders(written("day,net,net,", "2026-01-01,USD 3.50,1,x", "2026-01-02,\u20ac1,2,y"))
  expect_identical(names(orders), c("order_day", "net", "net_2", "column_4", "net_currency"))
  expect_identical(orders$net, c(3.5, 1))
  expect_identical(orders$net_currency, c("USD", "EUR"))
  told <- paste(attr(orders, "reading")$told, collapse = "; ")
  for (words in c("\"net_2\"", "\"order_day\"", "column_4", "\"net_currency\"")) expect_match(told, words)
  expect_match(all_notes(rollup(daybook(orders, order_day), n = count())),
    "Reading the orders", all = FALSE)
})

test_that("what is said of the reading holds in R, on the command line and in a report alike", {
  path <- written("title", "'a|b'|when|net", "x|31.08.26|1.234,50", "y|01.09.26|tbd", ending = ".csv")
  orders <- read_orders(path, skip = 1, separator = "|", quote = "'", decimal = ",", missing = "tbd",
    rename = c(who = "a|b"), types = c(net = "amount"), date_order = "dmy")
  expect_identical(names(orders), c("who", "when", "net"))
  expect_identical(orders$net, c(1234.5, NA))
  said <- drystack("rollup", "--orders", path, "--date", "when", "--skip", "1", "--separator", "|", "--quote",
    "'", "--decimal", ",", "--missing", "tbd", "--rename", "who=a|b", "--types", "net=amount", "--date-order",
    "dmy", "--by", "who", "--show", "s = sum(net)", "--format", "csv")
  expect_identical(said$out, c("who,s,.role", "x,1234.5,line", "y,0,line"))
  page <- report(Sales = rollup(daybook(orders, when), who, s = sum(net)))
  file <- file.path(dirname(path), "said.yml")
  withr::defer(unlist(lapply(list.files(dirname(file), "^said", full.names = TRUE), unlink)))
  as_standing(page, file)
  built <- build_report(file, out = dirname(file), formats = "csv")
  expect_identical(readLines(built$files), said$out)
})

test_that("what is said of columns that are not there is an error; odd files are read or refused", {
  path <- written("on,net", "2026-01-01,1")
  expect_raised(read_orders(path, types = c(nett = "text")), "column", "nett", "net")
  expect_raised(read_orders(path, keep = "nett"), "column", "net")
  expect_raised(read_orders(path, rename = c(x = "nett")), "column", "net")
  expect_raised(read_orders(path, skip = 9), "file", "fewer lines")
  expect_raised(read_orders(written("on,net", ",", ",")), "file", "no records")
  expect_identical(read_orders(written("on,who,net", "2026-01-01,x,5", "Total,,5"))$net, 5L)
  expect_identical(read_orders(written("on,net", "2026-01-01,", "2026-01-02,"))$net, c(NA, NA))
})

test_that("dates are read in the forms people write them", {
  days <- function(...) read_dates(c(...), "d")$days
  last <- as.integer(as.Date("2026-08-31"))
  for (text in c("31-Aug-26", "31 August 2026", "Aug 31, 2026", "August 31st 2026", "20260831", "31/08/2026",
    "8/31/2026", "31.8.26", "2026/08/31", "2026-08-31T22:15:00Z", "Mon, 31 Aug 2026 10:00 AM")) {
    expect_identical(days(text), last, label = text)
  }
  expect_identical(days(46265), last)
  expect_identical(read_dates(44803, "d", "serial1904")$days, last)
  expect_identical(days(20260831), last)
  expect_raised(days("12/11/2026"), "date", "dmy", "mdy")
  expect_identical(days("12/11/2026", "13/11/2026"), as.integer(as.Date("2026-11-12")) + 0:1)
  expect_raised(days("31-Foo-26"), "date")
  expect_identical(days("31/08/2026", "31-Dec-25", "30/08/2026"), c(last, NA, last - 1L))
  told <- read_dates(c("31/08/2026", "31-Dec-25", "30/08/2026"), "d")$told
  expect_match(told, "31-Dec-25.*taken as no date", all = FALSE)
  expect_raised(days("13/11/2026", "soon"), "date", "\"soon\" at row 2", "undated = \"soon\"")
  expect_raised(days(5), "date")
  times <- read_orders(written("t,x", "2026-08-31T22:30:00Z,1"), zone = "Europe/Berlin")$t
  expect_identical(format(times), "2026-09-01 00:30:00")
})

test_that("files in other encodings are read, and a file in two is refused", {
  bytes <- function(encoding) {
    path <- withr::local_tempfile(fileext = ".csv", .local_envir = parent.frame())
    text <- "on,who\n2026-01-01,M\u00fcller \u2013 Caf\u00e9\n"
    writeBin(iconv(list(charToRaw(enc2utf8(text))), "UTF-8", encoding, toRaw = TRUE)[[1L]], path)
    path
  }
  for (encoding in c("UTF-8", "UTF-16LE", "UTF-16BE", "windows-1252")) {
    expect_identical(read_orders(bytes(encoding))$who, "M\u00fcller \u2013 Caf\u00e9", label = encoding)
  }
  expect_identical(read_orders(written("a,b", "1,caf\xe9"), encoding = "latin1")$b, "caf\u00e9")
  expect_raised(read_orders(written("a,b", "1,x"), encoding = "klingon"), "argument", "encoding")
})

test_that("totals lines are proven wherever their words stand, in the languages of the trade", {
  for (word in c("North total", "BRANCH TOTAL", "Month total", "Carried forward", "brought  forward",
    "Balance", "Totaal",
    "Totale", "Suma", "Monatssumme", "Zwischensumme Nord", "Saldo", "\u00dcbertrag", "Razem",
    "\u0141\u0105cznie", "Sous-total",
    "Total g\u00e9n\u00e9ral", "Soma")) {
    for (lines in list(
      c("05/01/2026,1001,a,10", "06/01/2026,1002,b,20", paste0("31/01/2026,,", word, ",30"),
        "05/02/2026,1003,c,4"),
      c("05/01/2026,1001,a,10", "06/01/2026,1002,b,20", paste0("31/01/2026,x,", word, ",30"),
        "05/02/2026,1003,c,4"),
      c("05/01/2026,1001,a,10", "06/01/2026,1002,b,20", paste0(word, ",,,30"), "05/02/2026,1003,c,4"))) {
      orders <- read_orders(written("date,order,customer,amount", lines))
      expect_identical(sum(orders$amount), 34L, info = paste(word, lines[3L]))
    }
  }
})

test_that("totals of totals are proven since a boundary of their own", {
  orders <- read_orders(written("date,region,customer,amount", "05/01/2026,N,a,10", "06/01/2026,N,a,20",
    "06/01/2026,N,a total,30", "07/01/2026,N,b,1", "07/01/2026,N,b,2", "07/01/2026,N,b total,3",
    "07/01/2026,N total,,33",
    "08/01/2026,S,c,5", "08/01/2026,S,c,7", "08/01/2026,S,c total,12", "08/01/2026,S total,,12",
    "08/01/2026,Grand total,,45"))
  expect_identical(orders$amount, c(10L, 20L, 1L, 2L, 5L, 7L))
})

test_that("an order whose customer is called so stays, and what is not proven is told in every table", {
  one <- daybook(written("date,customer,amount", "2026-01-05,Smith,20", "2026-01-06,Total Fencing,20",
    "2026-01-07,Jones,7"),
    date)
  x <- rollup(one, s = sum(amount))
  expect_identical(plain(x)$s, 47)
  expect_false(any(grepl("total", all_notes(x))))
  none <- daybook(written("date,order,customer,amount", "2026-01-05,1001,a,10", "2026-01-06,1002,b,20",
    "2026-01-31,,Month total,31", "2026-02-05,1003,c,4"), date)
  expect_match(all_notes(rollup(none, s = sum(amount))),
    "1 line counted that may be totals.*line 4.*\\(31\\)", all = FALSE)
})
