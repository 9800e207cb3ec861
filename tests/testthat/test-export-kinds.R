# Exports of every kind: what is printed leads to the right sums by month in at most two steps.

test_that("each kind of export is read, or its error prints the command that reads it", {
  sales <- kind_sales()
  month <- format(sales$date, "%Y-%m")
  truth <- c(tapply(sales$net, month, sum))
  kinds <- export_kinds()
  for (kind in names(kinds)) {
    path <- export_file(kind, kinds[[kind]](sales))
    read <- orders_by_advice(path)
    look <- look_at(read$orders)
    ask <- likely_first_ask(look)
    book <- daybook(read$orders, date = !!ask$date)
    made <- as.data.frame(rollup(book, by = month, s = sum(!!as.name(ask$amount))))
    known <- made$s != 0
    expect_lte(read$steps, 1L)
    expect_equal(stats::setNames(made$s[known], format(made$month[known], "key")), truth, tolerance = 1e-9,
      ignore_attr = TRUE, label = kind)
  }
})

test_that("what could be read two ways is asked, never guessed", {
  open <- written("on,net", "2026-01-01,1.500", "2026-01-02,2", "2026-01-03,250")
  expect_type(read_orders(open)$net, "character")
  expect_match(format(look_at(open)), "1.5 by decimal = \".\" and 1500 by decimal = \",\"", fixed = TRUE,
    all = FALSE)
  expect_identical(read_orders(open, decimal = ",")$net, c(1500, 2, 250))
  expect_identical(read_orders(open, thousands = ".")$net, c(1500, 2, 250))
  expect_identical(read_orders(written("on;net;vat", "2026-01-01;1.500;12,50", "2026-01-02;2;3,10"))$net,
    c(1500, 2))
  expect_identical(read_orders(written("on,net,vat", "2026-01-01,1.500,12.50", "2026-01-02,2,3.10"))$net,
    c(1.5, 2))
  expect_identical(read_orders(written("on,w", "2026-01-01,1.500", "2026-01-02,0.250"))$w, c(1.5, 0.25))
  refused <- read_orders(written("on,net", "2026-01-01,1.5", "2026-01-02,2"), thousands = ".")
  expect_type(refused$net, "character")
  expect_match(attr(refused, "reading")$told, "do not use the given marks", all = FALSE)
  expect_raised(daybook(data.frame(on = c("25-01-03", "24-02-05")), on), "date", "ymd")
  expect_identical(
    format(read_days(c("25-01-03", "24-02-05"), "on", "ymd") |> as_day_date()), c("2025-01-03", "2024-02-05")
  )
})

test_that("in a scanned file points settle as they do in any other", {
  lines <- c("on,net", sprintf("2026-01-%02d,%s", 1:28, rep(c("1.500", "2", "30", "250"), 7L)))
  path <- written(lines)
  expect_null(scanned_orders(path, new_reading()))
  expect_false(is.null(scanned_orders(path, checked_reading(decimal = "."))))
  settled <- written(paste0(lines, c(",vat", rep(",0.5", 28L))))
  scanned <- scanned_orders(settled, new_reading(), function(names) "net")
  expect_identical(as.data.frame(scanned)$net[1:2], c(1.5, 2))
})

test_that("periods count on a day that is told, and can be said", {
  read <- function(texts, order = NULL) format(as_day_date(read_days(texts, "on", order)))
  expect_identical(read(c("2025-W01", "2026-W53")), c("2025-01-05", "2027-01-03"))
  expect_identical(read(c("Q1 2025", "Q4 2025"), "period_start"), c("2025-01-01", "2025-10-01"))
  expect_identical(read(c("2024-02", "2025-02")), c("2024-02-29", "2025-02-28"))
  expect_identical(read(c("M\u00e4rz 2025", "Okt. 2025"), "period_start"), c("2025-03-01", "2025-10-01"))
  expect_identical(read(c(202502, 202512)), c("2025-02-28", "2025-12-31"))
  told <- read_dates(c("2025-01", "2025-02"), "on")$told
  expect_match(told, "each counts on its last day, or on its first by date_order = \"period_start\"",
    fixed = TRUE)
})

test_that("few lines, days that do not exist and fields that only blanks part", {
  few <- likely_first_ask(look_at(written("on,net,x", "2026-01-01,5,", "2026-01-02,6,")))
  expect_identical(few$amount, "net")
  counted <- look_at(data.frame(on = as.Date("2026-01-01") + 0:9, line = 1:10, net = 10:1))
  expect_identical(counted$could_be[counted$column == "line"], "code")
  expect_raised(daybook(data.frame(on = c("2023-02-29", "2023-02-28", "2023-03-01")), on), "date", "not a date",
    "undated = \"2023-02-29\"")
  fields <- read_orders(written("date        net    fee", "2026-01-01   5     6", "2026-01-02   7     80",
    "2026-01-03   9    10"))
  expect_identical(fields$fee, c(6L, 80L, 10L))
})

test_that("placeholders for dates are named, and left out when that is said", {
  sales <- kind_sales()
  lines <- c(kind_lines(sales), "2,1900-01-01,Moor Hall,Peak,1,500.00",
    "3,1970-01-01,Moor Hall,Peak,1,100.00")
  book <- daybook(written(lines), date)
  expect_match(format(rollup(book, by = year, n = count()), width = 200L),
    "dated years apart from the others (\"1900-01-01\"",
    fixed = TRUE, all = FALSE)
  out <- read_orders(written(lines), missing = c("1900-01-01", "1970-01-01"))
  expect_identical(sum(is.na(out$date)), 2L)
  far <- daybook(written(c(kind_lines(sales), "4,2099-12-31,Moor Hall,Peak,1,50.00")), date)
  expect_match(format(rollup(far, n = count()), width = 200L), "years apart from the others (\"2099-12-31\"",
    fixed = TRUE, all = FALSE)
  late <- written(c(lines, "4,9999-12-31,Moor Hall,Peak,1,50.00"))
  expect_raised(daybook(late, date), "date", "missing = \"9999-12-31\"")
})

test_that("lines twice, orders above their lines, and members alike to the eye are told by tables", {
  lines <- kind_lines(kind_sales())
  notes <- function(book, by) paste(format(rollup(book, by = !!by, s = sum(net))), collapse = " ")
  twice <- daybook(written(c(lines, lines[-1L])), date)
  expect_match(notes(twice, "region"), "40 lines stand in the file twice", fixed = TRUE)
  expect_no_match(notes(daybook(written(lines), date), "region"), "twice")
  detail <- unlist(lapply(1:12, function(i) c(
    sprintf("2025-%02d-10,%d,,%.2f", i, i, 30.5), sprintf("2025-%02d-10,%d,Slab,%s", i, i, c("10.25",
      "20.25"))
  )))
  above <- daybook(written("date,order,product,net", detail), date)
  expect_match(notes(above, "order"), "!is.na(product)", fixed = TRUE)
  alike <- data.frame(date = as.Date("2026-01-01"), net = 1:4, who = c("Moor Hall", "Moor\u00a0Hall",
    "MOOR HALL", "Bryn"))
  expect_match(notes(daybook(alike, date), "who"), "differ by case, blanks .*Moor<U\\+00A0>Hall")
})

test_that("amounts of several currencies are told, by signs in cells or by a column", {
  codes <- rep(c("GBP", "EUR"), 20L)
  book <- daybook(cbind(kind_sales(), ccy = codes), date)
  expect_raised(rollup(book, by = month, s = sum(net)), "currencies", "would be added together", "rates.csv")
  expect_no_match(format(rollup(book, by = ccy, s = sum(net))), "added together")
  expect_identical(likely_first_ask(look_at(cbind(kind_sales(), ccy = codes)))$dimension, "ccy")
  signs <- kind_lines(kind_sales(), net = function(x) sprintf(c("\u00a3%.2f", "\u20ac%.0f"), x))
  expect_raised(rollup(daybook(written(signs), date), s = sum(net)), "currencies", "EUR and GBP",
    "net_currency")
})

test_that("encodings are told by the letters of the trade's languages", {
  read <- function(words, encoding) {
    path <- withr::local_tempfile(fileext = ".csv")
    lines <- c("on,who", sprintf("2026-01-%02d,%s", 1:9, rep(words, length.out = 9L)))
    writeBin(iconv(list(charToRaw(enc2utf8(paste0(lines, collapse = "\n")))), "UTF-8", encoding,
      toRaw = TRUE)[[1L]], path)
    expect_setequal(read_orders(path)$who, words)
  }
  read(c("\u0141\u00f3d\u017a Kamie\u0144", "Gda\u0144sk"), "windows-1250")
  read(c("\u017d\u010f\u00e1r Kov\u00e1\u0159", "Plze\u0148"), "windows-1250")
  read(c("M\u00fcller", "Gro\u00df \u00a35", "Cr\u00e8me", "Se\u00f1or", "5 m\u00b2"), "windows-1252")
  read(c("M\u00fcller S\u00f6hne", "Gro\u00df"), "CP850")
  read(c("M\u00fcller S\u00f6hne", "Gro\u00df"), "macintosh")
})

test_that("files are what they begin with, whatever their ending", {
  sales <- kind_sales()
  text <- written(kind_lines(sales, "\t"))
  old <- withr::local_tempfile(fileext = ".xls")
  file.copy(text, old)
  expect_identical(read_orders(old)$net, sales$net)
  expect_match(attr(read_orders(old), "reading")$told, "delimited text, no workbook", all = FALSE)
  pdf <- withr::local_tempfile(fileext = ".csv")
  writeLines("%PDF-1.4", pdf)
  expect_raised(read_orders(pdf), "file", "a PDF document, no table of orders")
  book <- withr::local_tempfile(fileext = ".xlsx")
  workbook <- openxlsx::createWorkbook()
  for (sheet in c("Cover", "Orders", "Older")) openxlsx::addWorksheet(workbook, sheet)
  openxlsx::writeData(workbook, 1L, "Harrowgill Stone Yard")
  openxlsx::writeData(workbook, 2L, sales)
  openxlsx::writeData(workbook, 3L, utils::head(sales, 5L))
  openxlsx::saveWorkbook(workbook, book)
  expect_identical(nrow(read_orders(book)), 40L)
  expect_identical(nrow(read_orders(book, sheet = "Older")), 5L)
  expect_identical(nrow(read_orders(book, sheet = 3)), 5L)
  expect_raised(read_orders(book, sheet = "Odler"), "argument", "Older")
  skip_if(Sys.which("zip") == "", "zip is not installed")
  folder <- withr::local_tempdir()
  file.copy(text, file.path(folder, c("a.csv", "b.csv")))
  archive <- withr::local_tempfile(fileext = ".zip")
  withr::with_dir(folder, utils::zip(archive, c("a.csv", "b.csv"), flags = "-q"))
  expect_identical(nrow(orders_by_advice(archive)$orders), 40L)
})

test_that("OpenDocument workbooks are read", {
  skip_if(Sys.which("zip") == "", "zip is not installed")
  folder <- withr::local_tempdir()
  cell <- function(type, value, attribute) sprintf(
    "<table:table-cell office:value-type=\"%s\" office:%s=\"%s\"><text:p>%s</text:p></table:table-cell>",
    type, attribute, value, value)
  sales <- kind_sales(5L)
  rows <- c(
    paste0(cell("string", c("date", "customer", "net"), "x"), collapse = ""),
    paste0(cell("date", format(sales$date), "date-value"), cell("string", "Moor Hall", "x"),
      cell("float", sprintf("%.2f", sales$net), "value"))
  )
  edge <- "<table:table-cell table:number-columns-repeated=\"1018\"/>"
  writeLines(paste0("<?xml version=\"1.0\"?><office:document-content ",
    "xmlns:office=\"urn:oasis:names:tc:opendocument:xmlns:office:1.0\" ",
    "xmlns:table=\"urn:oasis:names:tc:opendocument:xmlns:table:1.0\" ",
    "xmlns:text=\"urn:oasis:names:tc:opendocument:xmlns:text:1.0\"><office:body><office:spreadsheet>",
    "<table:table table:name=\"Orders\">", paste0("<table:table-row>", rows, edge, "</table:table-row>",
      collapse = ""),
    "<table:table-row table:number-rows-repeated=\"1048000\">", edge, "</table:table-row></table:table>",
    "</office:spreadsheet></office:body></office:document-content>"), file.path(folder, "content.xml"))
  writeLines("application/vnd.oasis.opendocument.spreadsheet", file.path(folder, "mimetype"))
  book <- withr::local_tempfile(fileext = ".ods")
  withr::with_dir(folder, utils::zip(book, c("mimetype", "content.xml"), flags = "-q"))
  orders <- read_orders(book)
  expect_identical(orders$date, sales$date)
  expect_identical(orders$net, sales$net)
  content <- readLines(file.path(folder, "content.xml"))
  writeLines(sub("<table:table-cell office:value-type=\"float\"",
    "<table:table-cell table:number-columns-repeated=\"900000000\" office:value-type=\"float\"", content),
    file.path(folder, "content.xml"))
  many <- withr::local_tempfile(fileext = ".ods")
  withr::with_dir(folder, utils::zip(many, c("mimetype", "content.xml"), flags = "-q"))
  expect_raised(read_orders(many), "file", "repeats more cells than are read")
})

test_that("notes in many cells above a header are passed over, order lines without amounts never", {
  notes <- c("Lots,of,people,write", "notes,in,cells,above", "and,below,them,names")
  orders <- c("on,who,depot,net", "2026-01-05,Bryn,Skelby,5", "2026-01-06,Moor,Garrick,7")
  expect_named(read_orders(written(notes, orders)), c("on", "who", "depot", "net"))
  late <- read_orders(written("who,depot,kind,net", "Bryn,Skelby,wall,", "Moor,Garrick,path,",
    "Peak,Skelby,wall,n/a",
    "Peak,Skelby,wall,12"))
  expect_named(late, c("who", "depot", "kind", "net"))
  expect_identical(nrow(late), 4L)
  free <- read_orders(written("who,depot,kind,net", "Bryn,Skelby,wall,free", "Moor,Garrick,path,gift",
    "Peak,Skelby,wall,12"))
  expect_identical(nrow(free), 3L)
})
