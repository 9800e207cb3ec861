book <- daybook(untidy_orders(800L, 3), on, calendars = fiscal_calendar("July"))
tables <- list(
  rollup(book, c(depot, quarter), sales = sum(amount), mean = mean(amount),
    last = last(channel), totals = "all"),
  crosstab(book, depot, quarter, sales = sum(amount), n = count(), totals = "grand"),
  listing(book, depot, lines = c(on, channel, quantity, paid), sales = sum(amount)),
  headlines(book, month = mtd(sum(amount)), unpaid = only(count(), !paid))
)
written <- function(x, ending, ...) {
  file <- tempfile(fileext = paste0(".", ending))
  write_report(x, file, ...)
  file
}
expected <- function(x) plain_data(as.data.frame(x))

test_that("CSV, JSON and Parquet hold the values and the types of the table", {
  for (x in tables) {
    data <- expected(x)
    parquet <- as.data.frame(nanoparquet::read_parquet(written(x, "parquet")))
    expect_identical(
      lapply(parquet, function(v) if (is.integer(v)) as.numeric(v) else v),
      lapply(data, function(v) if (is.integer(v)) as.numeric(v) else v), ignore_attr = TRUE
    )
    json <- jsonlite::fromJSON(written(x, "json"))$tables$rows[[1L]]
    csv <- utils::read.csv(written(x, "csv"), check.names = FALSE, na.strings = "", stringsAsFactors = FALSE)
    expect_named(csv, names(data))
    for (name in names(data)) {
      if (is.numeric(data[[name]]) && !inherits(data[[name]], "Date")) {
        expect_identical(as.numeric(csv[[name]]), as.numeric(data[[name]]))
        if (!all(is.na(data[[name]]))) expect_identical(as.numeric(json[[name]]), as.numeric(data[[name]]))
      } else {
        expect_identical(as.character(csv[[name]]), as.character(data[[name]]))
      }
    }
  }
})

test_that("xlsx holds real numbers and the text of labels", {
  x <- tables[[2L]]
  sheet <- as_sheet(x)
  start <- length(c(sheet$title, fact_line(sheet$facts))) + 2L + length(head_spans(sheet$columns))
  read <- openxlsx::read.xlsx(
    written(x, "xlsx"), colNames = FALSE, startRow = start + 1L,
    skipEmptyRows = FALSE, rows = start + 1L + 0:length(sheet$role)
  )
  data <- expected(x)
  for (j in 2:(ncol(data) - 1L)) expect_equal(as.numeric(read[[j]])[seq_len(nrow(data))],
    data[[j]], ignore_attr = TRUE)
  expect_identical(read[[1L]][1L], "Garrick")
})

test_that("a page holds the same figures, labels and notes in every format", {
  p <- report(
    "By depot" = tables[[1L]], "Note" = "Returns count as *negative* sales.", tables[[4L]],
    title = "Monthly page", footnotes = "All made up.", contents = TRUE, made = "2026-09-18"
  )
  total <- format_figures(tables[[1L]]$figures$sales)[1L]
  for (ending in c("html", "md", "txt", "xlsx", "json")) {
    file <- written(p, ending)
    text <- if (ending == "xlsx") {
      paste(
        unlist(lapply(openxlsx::getSheetNames(file),
          function(s) unlist(openxlsx::read.xlsx(file, s, colNames = FALSE)))),
        collapse = "\n"
      )
    } else {
      paste(readLines(file, encoding = "UTF-8"), collapse = "\n")
    }
    expect_match(text, "Monthly page", label = ending)
    if (ending %in% c("html", "md", "txt")) {
      expect_match(text, total, fixed = TRUE)
      expect_match(text, "Made on 18 September 2026")
      expect_match(text, "Contents|By depot")
    }
    if (ending != "json") expect_match(text, "All made up.", fixed = TRUE)
  }
  expect_raised(written(p, "csv"), "output", "holds one table; this report has 2")
  expect_raised(report(title = "x"), "argument", "at least one part")
  expect_raised(report(1), "argument", "Part 1")
})

test_that("PDF is printed where Chromium is, else a clear error says how to mend it", {
  withr::local_envvar(PATH = withr::local_tempdir())
  expect_raised(written(tables[[1L]], "pdf"), "output", "needs Chromium", "write .html")
})

test_that("text of the data stays text: in HTML, Markdown, CSV and xlsx", {
  orders <- few_orders()
  orders$depot <- c("<script>alert(1)</script>", "=1+1", "a|b *c* [d](e)",
    "+44", "@me", "tab\there \033[31mred")
  x <- rollup(daybook(orders, on), depot, s = sum(amount))
  html <- paste(readLines(written(x, "html"), encoding = "UTF-8"), collapse = "\n")
  expect_false(grepl("<script>", html, fixed = TRUE))
  expect_match(html, "&lt;script&gt;", fixed = TRUE)
  markdown <- readLines(written(x, "md"), encoding = "UTF-8")
  expect_true(any(grepl("a\\|b \\*c\\* \\[d\\](e)", markdown, fixed = TRUE)))
  row <- grep("a\\|b", markdown, value = TRUE, fixed = TRUE)
  expect_identical(lengths(regmatches(row, gregexpr("(?<!\\\\)\\|", row, perl = TRUE))), 3L)
  expect_true(any(grepl("^=1\\+1,", readLines(written(x, "csv")))))
  guarded <- readLines(written(x, "csv", guard = TRUE))
  expect_true(all(c(any(grepl("^'=1\\+1,", guarded)), any(grepl("^'@me,", guarded)),
    any(grepl("^'\\+44,", guarded)))))
  xlsx <- openxlsx::loadWorkbook(written(x, "xlsx"))
  expect_false(any(grepl("<f>", unlist(xlsx$worksheets[[1L]]$sheet_data$f))))
  expect_false(any(grepl("\033", format(x), fixed = TRUE)))
  expect_true(any(grepl("\\u001b[31mred", format(x), fixed = TRUE)))
})

test_that("labels of any script are aligned by their width on the screen", {
  orders <- few_orders()
  orders$depot <- c("\u5317\u4eac", "e\u0301tage", "\u05e9\u05dc\u05d5\u05dd",
    "\U0001f9f1 wall", strrep("long ", 100), "plain")
  lines <- format(rollup(daybook(orders, on), depot, s = sum(amount), totals = "grand"), width = 100L)
  rule <- grep("^\u2500", lines)
  body <- lines[c(rule[1L] - 1L, (rule[1L] + 1L):(rule[2L] - 1L), rule[2L] + 1L)]
  expect_length(unique(cli::ansi_nchar(body, "width")), 1L)
  expect_lte(max(cli::ansi_nchar(lines, "width")), 100L)
  expect_true(any(grepl("\u2026", lines)))
})

test_that("tables show themselves in R Markdown: HTML in HTML, Markdown elsewhere", {
  x <- tables[[1L]]
  withr::defer(knitr::opts_knit$set(rmarkdown.pandoc.to = NULL))
  knitr::opts_knit$set(rmarkdown.pandoc.to = "html")
  expect_match(as.character(knitr::knit_print(x)), "<table>", fixed = TRUE)
  knitr::opts_knit$set(rmarkdown.pandoc.to = "latex")
  text <- as.character(knitr::knit_print(x))
  expect_match(text, "| Depot | Quarter |", fixed = TRUE)
  expect_false(grepl("<table>", text, fixed = TRUE))
  expect_match(as.character(knitr::knit_print(report(x, title = "T"))), "# T", fixed = TRUE)
})

# Quarto runs the chunks of a document through knitr and gives what comes to pandoc, as is done here.
test_that("documents are rendered with their tables and figures: R Markdown to HTML and Word, Quarto's form", {
  testthat::skip_if_not(rmarkdown::pandoc_available(), "pandoc is not there")
  withr::local_dir(withr::local_tempdir())
  text <- c("```{r, echo = FALSE, message = FALSE}", "library(drystack)",
    "book <- daybook(harrowgill()$orders, date = ordered_on)",
    "table <- rollup(book, by = depot, sales = sum(amount), totals = \"grand\")", "table", "figure(table)", "```")
  writeLines(c("---", "title: Yard", "---", "", text), "yard.Rmd")
  writeLines(c("---", "title: Yard", "format: html", "---", "", sub("\\{r,.*", "{r}", text[1L]),
    "#| echo: false", "#| message: false", text[-1L]), "yard.qmd")
  yard <- harrowgill()$orders
  yard <- yard[!is.na(yard$ordered_on), ]
  sums <- tapply(yard$amount, factor(yard$depot, sort(unique(yard$depot), method = "radix")), sum, na.rm = TRUE)
  shown <- format(unname(c(sums, sum(sums))), big.mark = ",", nsmall = 2L, trim = TRUE)
  cells_of <- function(page) xml2::xml_text(xml2::xml_find_all(page, "//td[@class = 'figure']"))
  rendered <- function(format) rmarkdown::render("yard.Rmd", format, quiet = TRUE)
  page <- xml2::read_html(rendered(rmarkdown::html_document(theme = NULL, mathjax = NULL, highlight = NULL)))
  expect_identical(cells_of(page), shown)
  expect_length(xml2::xml_find_all(page, "//img[starts-with(@src, 'data:image')]"), 1L)
  pages <- utils::unzip(rendered(rmarkdown::word_document()), exdir = "word")
  words <- xml2::xml_text(xml2::read_xml(grep("word/document.xml$", pages, value = TRUE)))
  for (figure in shown) expect_match(words, figure, fixed = TRUE)
  expect_length(grep("media/.*png$", pages), 1L)
  withr::defer(knitr::opts_knit$set(rmarkdown.pandoc.to = NULL))
  knitr::opts_knit$set(rmarkdown.pandoc.to = "html")
  rmarkdown::pandoc_convert(knitr::knit("yard.qmd", "yard.md", quiet = TRUE), "html", output = "quarto.html")
  expect_identical(cells_of(xml2::read_html("quarto.html")), shown)
})

test_that("heads of wide tables are worksheets' frozen and printed heads, and groups are outlined", {
  wb <- openxlsx::loadWorkbook(written(tables[[3L]], "xlsx"))
  expect_match(paste(wb$worksheets[[1L]]$freezePane, collapse = ""), "frozen")
  expect_true(any(grepl("Print_Titles", unlist(wb$workbook$definedNames))))
  expect_gt(length(unlist(wb$outlineLevels)), 0L)
})
