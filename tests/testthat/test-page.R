# Pages that are handed on: parts side by side, what is told once, paper.

book <- daybook(harrowgill()$orders, date = ordered_on, calendars = fiscal_calendar("July")) |>
  only("without cancelled orders" = status != "cancelled") |> as_of("2026-08-31") |>
  within_dates(latest(4, month))
sales <- rollup(book, by = month, sales = sum(amount), totals = "grand")
depots <- crosstab(book, rows = depot, cols = month, sales = sum(amount))

text_of <- function(page, ending = ".html", ...) {
  file <- withr::local_tempfile(fileext = ending)
  write_report(page, file, ...)
  paste(readLines(file, encoding = "UTF-8"), collapse = "\n")
}

times <- function(pattern, text) lengths(regmatches(text, gregexpr(pattern, text, fixed = TRUE)))

test_that("parts stand side by side on a page, and under each other where a format knows no sides", {
  page <- report("By month" = beside(sales, figure(sales)), "By depot" = depots, title = "The yard")
  html <- text_of(page)
  expect_identical(times("<div class=\"beside\">", html), 1L)
  inside <- sub("</div>\n</section>\n<section id=\"part-3\".*", "", sub(".*<div class=\"beside\">", "", html))
  expect_identical(c(times("<table>", inside), times("<img ", inside)), c(1L, 1L))
  # One label for both: neither says again what it is.
  expect_identical(times("By month", html), 1L)
  expect_identical(times("<h2>", html), 3L)
  markdown <- text_of(page, ".md")
  expect_match(markdown, "## By month.*!\\[.*## By depot")
  expect_identical(length(table_blocks(as_bundle(page))), 2L)
  expect_raised(beside(sales), "argument", "two to four")
  expect_raised(beside(sales, beside(sales, sales)), "argument")
  expect_raised(beside(sales, 3), "argument")
  expect_raised(report(sales, paper = "A5"), "argument")
})

test_that("a page tells each thing once, in its head or at its end", {
  page <- report(sales, depots, figure(sales), title = "The yard", footnotes = "In pounds.")
  html <- text_of(page)
  body <- sub(".*<main>", "", html)
  for (words in c("As of 31 August 2026", "without cancelled orders</p>", "fiscal year, July to June",
    "From 23,313 of 24,291", "Conditions: status", "Made on", "In pounds.")) {
    expect_identical(times(words, body), 1L, label = words)
  }
  # A block says what is so of it alone.
  other <- report(sales, rollup(only(book, depot == "Skelby"), by = month, sales = sum(amount)),
    title = "Two")
  expect_identical(times("depot is Skelby", text_of(other, ".txt")), 1L)
})

test_that("the notes under the figures can be less", {
  page <- function(notes) report(sales, depots, title = "The yard", footnotes = "In pounds.", notes = notes)
  told <- lapply(stats::setNames(notes_words, notes_words), function(notes) text_of(page(notes), ".txt"))
  expect_match(told$full, "From 23,313 of 24,291")
  expect_no_match(told$brief, "From 23,313")
  expect_match(told$brief, "In pounds.")
  expect_no_match(told$none, "In pounds.")
  expect_match(told$none, "As of 31 August 2026")
  late <- rollup(as_of(book, "2026-08-20"), by = month, sales = sum(amount))
  expect_match(text_of(late, ".txt", notes = "brief"), "is part-way")
  expect_no_match(text_of(late, ".txt", notes = "none"), "is part-way")
  expect_no_match(text_of(late, ".txt", notes = "brief"), "order lines")
  expect_raised(write_report(late, tempfile(fileext = ".txt"), notes = "some"), "argument")
})

test_that("paper says which report goes on, and which group of a long table", {
  long <- listing(within_dates(book, "2026-08-01", "2026-08-31"), c(depot, channel), lines = c(ordered_on,
    order_id),
    sales = sum(amount))
  document <- printed_bundle(as_bundle(report("All lines" = long, title = "Orders of a month")))
  parts <- Filter(function(block) block$kind == "table", document$blocks)
  goes_on <- vapply(parts, function(block) block$sheet$goes_on, "")
  expect_identical(unique(goes_on), unique(as.character(stats::na.omit(as.data.frame(long)$depot))))
  expect_identical(sum(vapply(parts, function(block) length(block$sheet$role), 1L)),
    length(as_sheet(long)$role))
  expect_identical(unlist(lapply(parts, function(block) block$sheet$columns[[5L]]$raw)),
    Filter(function(column) column$name == "sales", as_sheet(long)$columns)[[1L]]$raw)
  html <- paste(html_lines(document), collapse = "\n")
  expect_match(html, "@page { size: A4 portrait; }", fixed = TRUE)
  expect_match(html, "content: \"Orders of a month \u00b7 As of 31 August 2026\"", fixed = TRUE)
  # Wider than paper: the page turns, or the table is cut where even that does not do.
  wide <- function(n) {
    crosstab(within_dates(book, latest(n, month)), rows = depot, cols = month,
      sales = sum(amount))
  }
  turned <- printed_bundle(as_bundle(report(wide(9), title = "Wide")))$blocks
  expect_identical(vapply(turned, `[[`, NA, "turned"), TRUE)
  # What heads and ends the page stands on the turned page too, which has fewer rows.
  expect_true(begins_turned(list(contents = FALSE, blocks = turned)))
  expect_lt(turned[[1L]]$sheet$few, rows_of_few)
  page <- printed_bundle(as_bundle(report(wide(9), title = "Wide")))
  html <- html_lines(page)
  expect_identical(sum(html == "<header class=\"turned\">"), 1L)
  expect_identical(sum(html == "<div class=\"turned\">"), 1L)
  cut <- printed_bundle(as_bundle(report(wide(30), title = "Wide")))$blocks
  expect_gt(length(cut), 2L)
  figures <- unlist(lapply(cut, function(block) vapply(block$sheet$columns[-1L], `[[`, "", "name")))
  expect_identical(figures, vapply(as_sheet(wide(30))$columns[-1L], `[[`, "", "name"))
  landscape <- report(wide(9), title = "Wide", orientation = "landscape", paper = "letter")
  expect_match(text_of(landscape), "size: letter landscape", fixed = TRUE)
  expect_false(any(vapply(printed_bundle(as_bundle(landscape))$blocks, `[[`, NA, "turned")))
})

test_that("a cross-tab has a gap or a page after each group of its rows", {
  cross <- function(after) {
    crosstab(book, rows = c(depot, channel), cols = month, s = sum(amount),
      after = after)
  }
  depots <- as.data.frame(cross("nothing"))$depot
  ends <- which(depots[-1L] != depots[-length(depots)])
  expect_identical(which(as_sheet(cross("blank"))$gap_after), ends)
  expect_identical(which(as_sheet(cross("page"))$page_after), ends)
  expect_null(as_sheet(cross("nothing"))$gap_after)
  expect_identical(sum(format(cross("blank"), width = 200L) == "") - sum(format(cross("nothing"),
    width = 200L) == ""),
    length(ends))
  expect_raised(cross("line"), "argument")
})

test_that("a workbook has its contents, a name for every table, and figures as pictures beside them", {
  file <- withr::local_tempfile(fileext = ".xlsx")
  write_report(report("By month" = beside(sales, figure(sales)), "By depot" = depots, "A word.",
    title = "The yard"),
    file)
  read <- openxlsx::loadWorkbook(file)
  expect_identical(names(read), c("Contents", "By month", "By depot"))
  regions <- openxlsx::getNamedRegions(read)
  expect_setequal(as.character(regions)[!grepl("Print", regions)], c("table_By_month", "table_By_depot"))
  named <- openxlsx::read.xlsx(file, namedRegion = "table_By_month")
  expect_equal(named[[2L]], as.data.frame(sales)$sales, tolerance = 1e-12)
  pictures <- utils::unzip(file, list = TRUE)$Name
  expect_length(grep("media/.*png$", pictures), 1L)
  # Another reader sees the same.
  skip_if_not_installed("readxl")
  again <- suppressMessages(readxl::read_excel(file, sheet = "By month", col_names = FALSE))
  expect_identical(readxl::excel_sheets(file), names(read))
  expect_in_set(fact_line(as_bundle(report(sales))$facts), again[[1L]])
})

test_that("LibreOffice opens a workbook and prints it", {
  office <- Sys.which("soffice")
  skip_if(office == "", "LibreOffice is not installed")
  folder <- withr::local_tempdir()
  file <- file.path(folder, "page.xlsx")
  write_report(report(sales, depots, figure(sales), title = "The yard"), file)
  # R's own library path would hide LibreOffice's.
  system2("env", c("-u", "LD_LIBRARY_PATH", office, "--headless", "--convert-to", "pdf", "--outdir",
    shQuote(folder),
    paste0("-env:UserInstallation=file://", folder, "/office"), shQuote(file)), stdout = FALSE,
      stderr = FALSE,
    timeout = 120)
  expect_gt(file.size(file.path(folder, "page.pdf")), 10000)
})
