# One export in every form that files have, whole and cut into several: what is said of its dates,
# amounts, unknown values and columns gives the same figures as the plain file does.

random_export <- function() {
  n <- sample(2:40, 1L)
  data.frame(
    sent = as.Date("2025-01-01") + sample(0:200, n, TRUE),
    net = sample(c(0, 1000, round(stats::runif(3L, -2000, 9000), 2)), n, TRUE),
    who = sample(c("a", "B", "007", "4", "x y"), n, TRUE)
  )
}

# The texts of an export as somebody writes them, and the options that say how.
written_export <- function(orders) {
  comma <- stats::runif(1L) < 0.5
  style <- sample(c("%Y-%m-%d", "%d/%m/%Y", "%m/%d/%Y"), 1L)
  texts <- data.frame(
    sent = format(orders$sent, style),
    net = chartr(".", if (comma) "," else ".", sprintf("%.2f", orders$net)),
    who = orders$who
  )
  lost <- stats::runif(nrow(orders)) < 0.2
  word <- sample(c("tbc", "n/a"), 1L)
  texts$net[lost] <- word
  orders$net[lost] <- NA
  gone <- stats::runif(nrow(orders)) < 0.1
  texts$who[gone] <- "tbc"
  orders$who[gone] <- NA
  renamed <- stats::runif(1L) < 0.3
  if (renamed) names(texts)[3L] <- "Kunde"
  order <- c("%d/%m/%Y" = "dmy", "%m/%d/%Y" = "mdy")[style]
  typed <- stats::runif(1L) < 0.4
  list(orders = orders, texts = texts, options = c(
    "--missing", "tbc", if (word != "tbc") c("--missing", word), "--decimal",
    if (comma) "," else ".", if (!is.na(order) && stats::runif(1L) < 0.7) c("--date-order", order),
    if (renamed) c("--rename", "who=Kunde"), "--types", "who=text", if (typed)
      c("--types", "net=amount"), if (stats::runif(1L) < 0.3) c("--types", "sent=date")
  ))
}

put_semicolons <- function(texts, to) {
  utils::write.table(texts, to, sep = ";", row.names = FALSE, qmethod = "double")
}

html_row <- function(cells, tag) {
  paste0("<tr>", paste0("<", tag, ">", cells, "</", tag, ">", collapse = ""), "</tr>")
}

export_writers <- list(
  csv = put_semicolons,
  "csv.gz" = function(texts, path) {
    to <- gzfile(path, "wt")
    on.exit(close(to))
    put_semicolons(texts, to)
  },
  jsonl = function(texts, path) {
    writeLines(vapply(seq_len(nrow(texts)), function(i) {
      as.character(jsonlite::toJSON(as.list(texts[i, ]), auto_unbox = TRUE))
    }, ""), path)
  },
  # A page with a table, as some programs write what they call a workbook.
  xls = function(texts, path) {
    writeLines(c("<html><body><table>", html_row(names(texts), "th"),
      apply(texts, 1L, html_row, tag = "td"), "</table></body></html>"), path)
  },
  parquet = function(texts, path) nanoparquet::write_parquet(texts, path),
  xlsx = function(texts, path) openxlsx::write.xlsx(texts, path)
)

# A path to the export in a form: one file, or a folder of several.
put_export <- function(texts, form, pieces) {
  if (pieces == 1L) {
    path <- tempfile(fileext = paste0(".", form))
    export_writers[[form]](texts, path)
    return(path)
  }
  folder <- tempfile()
  dir.create(folder)
  for (piece in split(seq_len(nrow(texts)), sort(rep_len(seq_len(pieces), nrow(texts))))) {
    export_writers[[form]](texts[piece, ], file.path(folder, paste0(piece[1L], ".", form)))
  }
  folder
}

asked_of <- function(path, options = character()) {
  said <- drystack("rollup", "--orders", path, "--date", "sent", options, "--by",
    "month,who", "--show",
    "s = sum(net)", "--show", "known = count(net)", "--show", "n = count()", "--format", "csv")
  if (said$status == 0L) said$out else said$err
}

test_that("what is said of an export holds in every form, whole and in several files", {
  withr::local_seed(20261201L)
  answered <- 0L
  for (trial in seq_len(trials(50L))) {
    export <- written_export(random_export())
    plain <- tempfile(fileext = ".csv")
    utils::write.csv(export$orders, plain, row.names = FALSE, na = "")
    expected <- asked_of(plain, c("--types", "who=text"))
    for (form in names(export_writers)) for (pieces in unique(c(1L, min(3L, nrow(export$texts))))) {
      got <- asked_of(put_export(export$texts, form, pieces), export$options)
      # Dates that no text settles are refused in every form.
      refused <- any(grepl("order of day and month", got))
      open <- !"--date-order" %in% export$options && !grepl("^[0-9]{4}", export$texts$sent[1L]) &&
        all(as.integer(format(export$orders$sent, "%d")) <= 12L)
      answered <- answered + !refused
      if (refused) expect_true(open, info = paste("trial", trial, form, pieces))
      else expect_identical(got, expected, info = paste("trial", trial, form, pieces,
        paste(export$options, collapse = " ")))
    }
  }
  expect_gt(answered, 0L)
})

test_that("what reading did is told of orders in several files, lookups, rates and records", {
  folder <- withr::local_tempdir()
  put <- function(name, ...) writeLines(c(...), file.path(folder, name))
  dir.create(file.path(folder, "orders"))
  put("orders/1.csv", "sent,who,net,money", "01/02/2025,a,1,EUR", "13/02/2025,b,n/a,USD")
  put("orders/2.csv", "sent,who,net,money", "01/03/2025,a,3,EUR", "02/03/2025,b,4,USD")
  put("towns.csv", "Customers of the yard", "", "who;area", "a;n/a", "b;2,5")
  put("rates.csv", "currency;from;rate", "USD;01/01/2025;0,5", "USD;13/01/2025;0,5",
    "EUR;01/01/2025;1")
  dir.create(file.path(folder, "plan"))
  put("plan/1.csv", "on;target", "01/02/2025;10,5", "13/02/2025;n/a")
  put("plan/2.csv", "on;target", "02/03/2025;10,5")
  withr::local_dir(folder)
  book <- daybook("orders", date = sent, currency = money, rates = "rates.csv") |>
    enrich("towns.csv", by = "who") |>
    alongside(plan = "plan", date = on)
  notes <- function(x) paste(all_notes(x), collapse = "\n")
  first <- notes(rollup(book, month, n = count()))
  expect_match(first, "\"sent\" read as day, month, year, as \"13/02/2025\" says", fixed = TRUE)
  expect_no_match(first, "area|rates|target")
  x <- rollup(book, month, s = sum(in_currency(net, "EUR")), a = distinct(area),
    p = of(plan, sum(target)))
  expect_identical(plain(x)[c("s", "p")], data.frame(s = c(1, 5), p = c(10.5, 10.5)))
  told <- notes(x)
  for (words in c("\"n/a\" in \"net\" taken as not known (1.csv)",
    "Reading the lookup \"towns\": 1 line above the header passed over",
    "Reading the lookup \"rates\": \"rate\" read as amounts, such as \"0,5\"",
    "\"from\" read as day, month, year",
    "plan: \"n/a\" in \"target\" taken as not known (1.csv)")) {
    expect_match(told, words, fixed = TRUE)
  }
})

test_that("points of numbers in several files mark decimals only where something settles it", {
  folder <- withr::local_tempdir()
  nets <- c(seq_len(300L), "1.500")
  for (i in 1:2) utils::write.csv(data.frame(sent = "2025-01-05", net = nets), row.names = FALSE,
    file.path(folder, paste0(i, ".csv")), quote = FALSE)
  asked <- function() {
    drystack("rollup", "--orders", folder, "--date", "sent", "--by",
      "month", "--show", "s = sum(net)", "--format", "csv")
  }
  expect_match(asked()$err, "can be read both ways", fixed = TRUE)
  for (i in 1:2) utils::write.csv(data.frame(sent = "2025-01-05", net = c(nets, "0.25")),
    row.names = FALSE, file.path(folder, paste0(i, ".csv")), quote = FALSE)
  expect_identical(asked()$out[2L], paste0("2025-01,", 2 * (sum(1:300) + 1.75), ",line"))
})

test_that("what does not apply to a file is an error, in a folder where it applies to none", {
  folder <- withr::local_tempdir()
  put_in <- function(form) {
    export_writers[[form]](
      data.frame(sent = "2025-01-05", net = c(1.25, 2.5)), file.path(folder, paste0("orders.", form)))
  }
  asked <- function(path, ...) {
    drystack("rollup", "--orders", path, "--date", "sent", "--by",
      "month", "--show", "s = sum(net)", "--format", "csv", ...)
  }
  put_in("parquet")
  expect_match(asked(folder, "--separator", ";")$err, "--separator does not apply")
  expect_match(asked(file.path(folder, "orders.parquet"), "--sheet", "1")$err,
    "--sheet does not apply")
  put_in("csv")
  expect_match(asked(folder, "--sheet", "1")$err, "delimited text, Parquet")
  expect_identical(asked(folder, "--separator", ";")$out[2L], "2025-01,7.5,line")
  expect_raised(read_orders(file.path(folder, "orders.parquet"), drop_lines = "^#"),
    "argument", "Parquet")
})

test_that("states of orders in files are refreshed as the files were said to be read", {
  folder <- withr::local_tempdir()
  put <- function(name, ...) {
    dir.create(file.path(folder, "orders"), showWarnings = FALSE)
    writeLines(c("sent;Kunde;net", ...), file.path(folder, "orders", name))
  }
  put("1.csv", "01/02/2025;a;1,5", "05/02/2025;b;tbc")
  put("2.csv", "03/03/2025;a;2,5", "04/03/2025;b;1,25")
  orders <- file.path(folder, "orders")
  kept <- file.path(folder, "kept")
  said <- c("--date", "sent", "--missing", "tbc", "--date-order", "dmy", "--types",
    "net=amount", "--rename", "who=Kunde")
  asked <- function(...) {
    drystack("rollup", "--orders", ..., "--by", "month,who", "--show",
      "s = sum(net)")
  }
  expect_identical(drystack("keep", "--orders", orders, said, "--by", "who", "--amount",
    "net", "--out", kept)$status, 0L)
  put("3.csv", "05/04/2025;a;3,5", "06/04/2025;b;tbc")
  expect_match(drystack("keep", "--refresh", kept)$out, "new: 3.csv, 2 lines", fixed = TRUE)
  got <- asked(kept, "--date", "sent")
  expect_identical(got, asked(orders, said))
  # One note for all files, with one example.
  expect_match(paste(got$out, collapse = " "),
    "read as amounts, such as \"1,5\" (3 files).", fixed = TRUE)
})

test_that("of several files the first is looked at, and the command is for all of them", {
  folder <- withr::local_tempdir()
  for (i in 1:2) utils::write.csv(data.frame(on = "2026-01-05", net = i), row.names = FALSE,
    file.path(folder, paste0(i, ".csv")))
  shown <- format(look_at(folder))
  expect_match(shown[1L], "1.csv, one of 2 files: 1 line, 2 columns", fixed = TRUE)
  expect_match(shown, paste0("--orders '", folder, "' "), fixed = TRUE, all = FALSE)
  expect_raised(look_at(folder, sheet = "1"), "argument", "sheet")
})

test_that("lines that stand in two files are told, and files that are the same", {
  folder <- withr::local_tempdir()
  orders <- data.frame(sent = as.Date("2025-01-01") + 0:99, net = 1:100 / 4)
  put <- function(name, rows, ...) {
    utils::write.csv(orders[rows, ], file.path(folder, name),
      row.names = FALSE, ...)
  }
  told <- function() {
    paste(daybook(folder, date = sent)$made$told,
      collapse = "; ")
  }
  put("1.csv", 1:40)
  put("2.csv", 41:70)
  put("3.csv", c(71:72, 11))
  expect_identical(told(), "")
  put("2.csv", 36:70, eol = "\r\n")
  expect_match(told(), paste0("5 lines of \"2.csv\" stand in another file, too (from line 2 on they repeat ",
    "those of \"1.csv\" from line 37 on)"), fixed = TRUE)
  file.copy(file.path(folder, "1.csv"), file.path(folder, "4.csv"))
  expect_match(told(), "the files \"1.csv\", \"4.csv\" hold the same", fixed = TRUE)
  expect_no_match(told(), "lines of \"4.csv\"", fixed = TRUE)
})

test_that("the explorer offers to say what the form of the file has", {
  offered <- function(form) {
    path <- withr::local_tempfile(fileext = paste0(".", form))
    export_writers[[form]](data.frame(sent = "2025-01-05", net = 1.5), path)
    vapply(reading_choices(new_reading(), c("sent", "net"), path), `[[`, "", "key")
  }
  of_values <- c("date", "date_order", "decimal", "thousands", "totals_lines", "missing", "types",
    "rename", "zone")
  expect_setequal(offered("parquet"), of_values)
  expect_setequal(offered("xlsx"), c(of_values, "header", "skip", "sheet"))
  expect_setequal(offered("csv"), c(of_values, "encoding", "separator", "quote", "uneven",
    "header", "skip", "drop_lines", "widths"))
})

test_that("how a lookup was said to be read is said in reports and commands, and read again so", {
  withr::local_dir(withr::local_tempdir())
  utils::write.csv(data.frame(sent = "2025-01-05", who = c("a", "b"), net = 1:2), "orders.csv",
    row.names = FALSE)
  writeLines(c("id;rate;town", "a;1.500;X", "b;tbc;Y"), "towns.csv")
  book <- enrich(daybook("orders.csv", date = sent), by = c(who = "id"), name = "towns",
    read_orders("towns.csv", decimal = ",", missing = "tbc", rename = c(place = "town"),
      types = c(rate = "amount")))
  x <- rollup(book, place, r = sum(rate))
  expect_identical(plain(x)$r, c(1500, 0))
  as_standing(report(Rates = x), "rates.yml")
  built <- build_report("rates.yml", out = ".", formats = "csv")
  expect_identical(utils::read.csv(built$files)$r, c(1500L, 0L))
  command <- paste(as_command(x), collapse = " ")
  words <- scan(text = gsub("\\\\", "", command), what = "", quiet = TRUE, quote = "'")[-1L]
  expect_identical(drystack(words)$out[1:8], format(x, width = 100L)[1:8])
  expect_identical(lookup_text(lookup_of_text(words[which(words == "--lookup") + 1L])),
    words[which(words == "--lookup") + 1L])
  for (wrong in c("\"towns.csv\"", "\"towns.csv\", by = id, decimals = 1", "\"towns.csv\", id",
    "\"towns.csv\" by")) {
    expect_match(drystack("rollup", "--orders", "orders.csv", "--date", "sent", "--lookup",
      wrong, "--by", "who", "--show", "n = count()")$err, "is not a file and a key", info = wrong)
  }
  utils::write.csv(data.frame(currency = c("EUR", "USD"), date = "2025-01-01",
    rate = c(1, 0.5)), "rates.csv",
    row.names = FALSE)
  money <- data.frame(sent = as.Date("2025-01-05"), cur = "USD", net = 4)
  utils::write.csv(money, "money.csv", row.names = FALSE)
  paid <- function(rates) {
    book <- daybook("money.csv", date = sent, currency = cur, rates = rates)
    report(P = rollup(book, month, p = sum(in_currency(net, "EUR"))))
  }
  expect_raised(as_standing(paid(read_orders("rates.csv", decimal = ".")), "paid.yml"),
    "standing", "decimal")
  as_standing(paid("rates.csv"), "paid.yml")
  expect_identical(utils::read.csv(build_report("paid.yml", out = ".",
    formats = "csv")$files)$p, 2L)
})

test_that("values that are not known are told of columns whose type is said, too", {
  orders <- read_orders(written("on,net", "2026-01-05,n/a", "2026-01-06,2"), types = c(net = "amount"))
  expect_identical(orders$net, c(NA, 2))
  expect_match(attr(orders, "reading")$told, "\"n/a\" in \"net\" taken as not known", fixed = TRUE, all = FALSE)
})

test_that("in a folder a file of a header alone is a month without orders, in every form, and is told", {
  folder <- withr::local_tempdir()
  put <- function(name, ...) writeLines(c("on,depot,amount", ...), file.path(folder, name))
  put("1.csv")
  put("2.csv", "2026-01-05,Skelby,10.50")
  put("3.csv", "2026-03-05,Skelby,4")
  none <- data.frame(on = as.Date(character()), depot = character(), amount = numeric())
  openxlsx::write.xlsx(none, file.path(folder, "4.xlsx"))
  nanoparquet::write_parquet(none, file.path(folder, "4.parquet"))
  asked <- function(...) {
    run <- drystack("rollup", "--orders", folder, "--date", "on", "--by", "month", "--show", "s = sum(amount)",
      ...)
    expect_identical(run$status, 0L)
    expect_match(paste(run$out, collapse = " "), "a file has a header but no order lines (3 files)", fixed = TRUE)
    plain(rollup(daybook(folder, date = on), month, s = sum(amount)))$s
  }
  expect_identical(asked(), c(10.5, 0, 4))
  expect_identical(asked("--types", "on=date"), c(10.5, 0, 4))
  expect_match(format(look_at(folder))[1L], "2.csv, one of 5 files")
  at <- withr::local_tempdir()
  keep_states(daybook(folder, date = on), at, by = depot, amount)
  expect_identical(nrow(refresh(at)), 0L)
  put("1.csv", "2026-02-05,Skelby,7")
  expect_identical(refresh(at)[c("part", "lines")], data.frame(part = "1.csv", lines = 1),
    ignore_attr = TRUE)
  expect_identical(plain(rollup(daybook(kept_states(at), on), month, s = sum(amount)))$s, c(10.5, 7, 4))
  writeLines("on,depot", file.path(folder, "5.csv"))
  expect_raised(daybook(folder, date = on), "column", "5.csv", "lacks \"amount\"")
  expect_raised(refresh(at), "column", "5.csv", "lacks \"amount\"")
  unlink(file.path(folder, c("4.xlsx", "4.parquet", "5.csv")))
  for (name in list.files(folder)) put(name)
  expect_raised(daybook(folder, date = on), "file", "has a header but no records")
  refresh(at)
  expect_raised(kept_states(at), "states", "hold no order lines")
})
