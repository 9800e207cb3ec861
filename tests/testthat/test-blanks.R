# Cells padded with blanks, as fixed widths and ", " between cells leave them.

padded_ways <- list(
  "after the separator" = function(texts) paste0(" ", texts),
  "before it" = function(texts) paste0(texts, " "),
  "around quotes" = function(texts) paste0(" \"", texts, "\""),
  "to one width" = function(texts) formatC(texts, width = -max(nchar(texts), 3L)),
  "to one width, at the right" = function(texts) formatC(texts, width = max(nchar(texts), 3L))
)

padded_export <- function(n) {
  data.frame(
    sent = format(as.Date("2025-01-01") + sample(0:200, n, TRUE)),
    net = sprintf("%.2f", sample(c(0, 1000, -3.5, 12.75), n, TRUE)),
    who = sample(c("North", "East", "x y", "\u00d6st"), n, TRUE)
  )
}

put_cells <- function(texts, separator, path, above = NULL) {
  cells <- rbind(names(texts), as.matrix(texts))
  con <- if (endsWith(path, ".gz")) gzfile(path, "wb") else file(path, "wb")
  on.exit(close(con))
  writeLines(c(above, apply(cells, 1L, paste, collapse = separator)), con, useBytes = TRUE)
}

sales_of <- function(orders) {
  book <- daybook(orders, date = "sent")
  as.data.frame(rollup(only(book, who %in% c("North", "\u00d6st")),
    by = c(who, month), s = sum(net),
    n = count()))
}

test_that("padded cells are read as cells without blanks, in every form of file", {
  withr::local_seed(8)
  for (trial in seq_len(trials(60L))) {
    form <- sample(c("csv", "csv.gz", "titled", "folder", "parts", "xlsx"), 1L)
    texts <- padded_export(if (form == "parts") 6000L else sample(2:90, 1L))
    way <- sample(names(padded_ways), 1L)
    # Workbooks have no quotes; parts of a file have them where they should be.
    if (way == "around quotes" && form %in% c("xlsx", "parts")) next
    padded <- texts
    padded[] <- lapply(texts, padded_ways[[way]])
    folder <- withr::local_tempdir()
    path <- file.path(folder, if (form == "csv.gz") "a.csv.gz" else if (form ==
      "xlsx") "a.xlsx" else "a.csv")
    separator <- sample(c(",", ";", "|", "\t"), 1L)
    half <- seq_len(nrow(texts)) <= nrow(texts) / 2
    switch(form,
      titled = put_cells(padded, separator, path, "Sales of the yard"),
      xlsx = openxlsx::write.xlsx(padded, path),
      folder = for (at in c(TRUE, FALSE)) put_cells(padded[half == at, ], separator,
        file.path(folder, paste0(at, ".csv"))),
      put_cells(padded, separator, path)
    )
    sales <- withr::with_options(if (form == "parts") list(drystack.memory = 65536),
      sales_of(if (form == "folder") folder else path))
    expect_identical(sales, sales_of(data.frame(sent = as.Date(texts$sent),
      net = as.numeric(texts$net), who = texts$who)), label = paste(way, form, separator))
  }
})

test_that("blanks that only some cells have stay, and cells of blanks alone are empty", {
  folder <- withr::local_tempdir()
  read <- function(...) {
    path <- file.path(folder, "a.csv")
    writeLines(c("sent;who;net", ...), path)
    as.data.frame(read_orders(path))
  }
  some <- read("2026-01-01;North ;1", "2026-01-02;North;2", "2026-01-03;   ;3")
  expect_identical(some$who, c("North ", "North", NA))
  expect_null(attr(some, "reading"))
  # A file of one line, as a folder may have.
  expect_identical(read("2026-01-01; North;1")$who, "North")
  expect_raised(read(), "file", "has a header but no records")
  none <- read("2028-02-29;   ;  ", "2028-02-28;  ; ")
  expect_identical(list(none$who, none$net), list(c(NA, NA), c(NA, NA)))
  amounts <- read("2026-01-01;N ;1.234,50", "2026-01-02;NE;   ", "2026-01-03;  ;  34,000")
  expect_identical(amounts$net, c(1234.5, NA, 34))
  expect_identical(amounts$who, c("N", "NE", NA))
  expect_identical(attr(amounts, "reading")$told[1L], "blanks around the texts of \"who\" left out")
})

test_that("a padded export with rules, repeated headers and a line of totals is read as it is meant", {
  rows <- list(c("4500001", "N\u00f6rdlich", "1", "02.01.2026", "34,000", "2.889,68 "),
    c("4500002", "S", "1", "13.01.2026", "1,000", "243,61-"),
    c("4500003", "S", "1", "14.02.2026", "2,500", "1.000,00 "))
  widths <- c(10, -12, 3, 12, 8, 14)
  cells <- function(cells) {
    padded <- mapply(function(text, width) formatC(text, width = width), cells, widths)
    paste0("|", paste(padded, collapse = "|"), "|")
  }
  head <- cells(c("Order", "Kunde", "Typ", "Datum", "Menge", "Netto"))
  rule <- strrep("-", 66)
  path <- withr::local_tempfile(fileext = ".txt")
  writeLines(c("05.09.2026      Orders      1", rule, head, rule, cells(rows[[1L]]),
    cells(rows[[2L]]),
    rule, head, rule, cells(rows[[3L]]), rule, cells(
      c("*", "", "", "", "", "3.646,07 ")), rule), path)
  orders <- as.data.frame(read_orders(path))
  expect_identical(orders$Netto, c(2889.68, -243.61, 1000))
  expect_identical(orders$Menge, c(34, 1, 2.5))
  expect_identical(orders$Kunde, c("N\u00f6rdlich", "S", "S"))
  expect_match(attr(orders, "reading")$told, "1 totals line left out", all = FALSE)
})

test_that("blanks stand outside the quotes of a cell, before and behind", {
  read <- function(...) {
    path <- withr::local_tempfile(fileext = ".csv")
    writeLines(c(...), path)
    as.data.frame(read_orders(path))
  }
  orders <- read("\"sent\", \"who\", \"net\"", "\"2026-01-01\", \"North, up\" , \"5\"",
    "\"2026-01-02\", \"so \"\"called\"\"\", \"6\" ")
  expect_named(orders, c("sent", "who", "net"))
  expect_identical(orders$net, 5:6)
  expect_identical(orders$who, c("North, up", "so \"called\""))
  # Quotes where a cell needs them.
  some <- read("sent, who, net", "2026-01-01, North, 5", "2026-01-02, \"a, b\", 6",
    "2026-01-03, 5\" slab, 7")
  expect_identical(some$who, c("North", "a, b", "5\" slab"))
  expect_identical(some$net, 5:7)
  # Text behind a quote is no blank, and a quote that ends on another line opens nothing.
  expect_raised(read("sent,who,net", "2026-01-01,\"North\" up,5"), "file", "goes on after")
  open <- read("sent,who,net", "2026-01-01, \"North,5", "2026-01-02, \"South,6")
  expect_identical(open$who, c("\"North", "\"South"))
})

# An export as it comes: amounts of one style, words for what is not known, lines that
# are no orders.
messy_cells <- function(n) {
  comma <- stats::runif(1L) < 0.5
  amounts <- sample(1e6, n, TRUE) / 100
  written <- function(x) {
    if (!comma) return(sprintf("%.2f", x))
    formatC(x, big.mark = ".", decimal.mark = ",", format = "f", digits = 2)
  }
  lost <- stats::runif(n) < 0.1
  cells <- cbind(
    format(as.Date("2026-01-13") + sample(0:200, n, TRUE), sample(c("%Y-%m-%d", "%d.%m.%Y"), 1L)),
    sample(c("North", "East yard", "x", ""), n, TRUE),
    ifelse(lost, sample(c("n/a", "-", ""), 1L), written(amounts)),
    sample(c("1", "24"), n, TRUE)
  )
  above <- function(to) written(sum(amounts[seq_len(to)][!lost[seq_len(to)]]))
  header <- c("on", "customer", "net", "qty")
  half <- n %/% 2L
  lines <- list(
    totals = rbind(cells, c(sample(c("Total", "", "*"), 1L), "", above(n), "")),
    subtotals = rbind(cells[1:half, ], c("", "Subtotal", above(half), ""), cells[-(1:half), ]),
    units = rbind(c("", "", "EUR", "pcs"), cells),
    headers = rbind(cells[1:half, ], header, cells[-(1:half), ]),
    empty = rbind(cells[1:half, ], "", cells[-(1:half), ]),
    none = cells
  )
  rbind(header, lines[[sample(length(lines), 1L)]])
}

test_that("whatever an export holds is read alike with blanks around its cells and without", {
  withr::local_seed(9)
  for (trial in seq_len(trials(100L))) {
    plain <- messy_cells(sample(c(6:20, 80L), 1L))
    way <- sample(setdiff(names(padded_ways), "around quotes"), 1L)
    padded <- apply(plain, 2L, padded_ways[[way]])
    if (way == "after the separator") padded[, 1L] <- plain[, 1L]
    separator <- sample(c(";", "|", "\t"), 1L)
    read <- function(cells) {
      path <- withr::local_tempfile(fileext = ".csv")
      writeLines(apply(cells, 1L, paste, collapse = separator), path)
      orders <- rlang::try_fetch(as.data.frame(read_orders(path)), drystack_error = function(e) {
        gsub("file[0-9a-f]+", "", rlang::cnd_header(e))
      })
      attributes(orders)[c("reading", "path")] <- NULL
      orders
    }
    expect_identical(read(padded), read(plain), label = paste("trial", trial, way, separator))
  }
})
