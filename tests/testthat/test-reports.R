# The standing reports that come with the package: each builds, in every format, to the same figures.

folder <- yard_folder(names(demo_reports()), teardown_env())

test_that("every report builds in all formats, and ties out", {
  expect_gte(length(demo_reports()), 10L)
  for (name in names(demo_reports())) {
    out <- file.path(folder, "out")
    built <- build_report(file.path(folder, paste0(name, ".yml")), list(as_of = "2026-08-31"), out,
      c("html", "xlsx", "md", "json", "txt"))
    expect_length(built$files, 5L)
    expect_true(built$tie_out, label = name)
    expect_identical(built$warnings, character(), label = name)
    text <- paste(readLines(built$files[1L], encoding = "UTF-8"), collapse = "\n")
    # Nothing of R's or of the machine's is left for readers: no unknown names, no code in heads.
    expect_no_match(text, "NULL|\\bNA\\b|<th[^>]*>[a-z]+_[a-z]+<", label = name)
    json <- jsonlite::fromJSON(built$files[4L])
    expect_gte(length(json$tables$label), 1L)
  }
})

test_that("every report prints as PDF", {
  skip_if(rlang::try_fetch(is.null(find_browser()), error = function(e) TRUE), "Chromium is not installed")
  for (name in c("quarter", "customer-statement")) {
    built <- build_report(file.path(folder, paste0(name, ".yml")), list(as_of = "2026-08-31"),
      file.path(folder, "paper"), "pdf")
    expect_identical(readBin(built$files, "raw", 5L), charToRaw("%PDF-"))
  }
})

test_that("the statement of one customer names no other, whatever is told on it", {
  few <- withr::local_tempdir()
  file.copy(list.files(folder, "[.](csv|yml)$", full.names = TRUE), few)
  orders <- read.csv(file.path(few, "orders.csv"), colClasses = "character", na.strings = character())
  some <- c("C1285", utils::head(setdiff(unique(orders$customer_id), "C1285"), 5L))
  write.csv(orders[orders$customer_id %in% some, ], file.path(few, "orders.csv"), row.names = FALSE)
  for (notes in c("full", "brief", "none")) {
    lines <- readLines(file.path(few, "customer-statement.yml"))
    lines <- c(sub("^notes: none", paste("notes:", notes), lines))
    lines <- sub("^only:", "lookups: [{file: customers.csv, by: customer_id}]\nonly:",
      lines[!grepl("^lookups", lines)])
    lines <- sub(", product,", ", customer,", lines[!grepl("^labels", lines)])
    lines <- lines[!grepl("customer_id == ", lines)]
    file <- file.path(few, "each.yml")
    writeLines(lines, file)
    ask <- function() {
      build_report(file, list(as_of = "2026-08-31"), file.path(few, "each"), "html",
        each = "customer_id")
    }
    built <- ask()
    for (path in built$files[c(1L, 5L)]) {
      mine <- toupper(sub(".*-(c[0-9]+)[.]html$", "\\1", path))
      text <- paste(readLines(path, encoding = "UTF-8"), collapse = "\n")
      others <- setdiff(regmatches(text, gregexpr("\\bC[0-9]{4}\\b", text))[[1L]], mine)
      expect_identical(setdiff(others, "C1285"), character(), label = paste(notes, mine))
      if (notes != "full") expect_no_match(text, "order lines")
    }
    unlink(file.path(few, "each"), recursive = TRUE)
  }
})

test_that("demo lists the reports and builds one of them", {
  got <- drystack("demo", "--list")
  expect_length(got$out, length(demo_reports()))
  expect_match(got$out, "^[a-z-]+ +[A-Z]")
  out <- withr::local_tempdir()
  got <- drystack("demo", "rhythm", "--out", out)
  expect_identical(got$status, 0L)
  expect_true(all(file.exists(file.path(out, c("rhythm.yml", "rhythm.html", "orders.csv")))))
  expect_match(drystack("demo", "rythm")$err, "rhythm")
})
