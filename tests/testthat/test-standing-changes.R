# Pages that say what changed since an earlier build.

what_changed <- c("  - changes: {by: month, show: [sales, n], label: What changed}",
  "  - rollup: {by: month, show: [sales, n], totals: grand}")

yard <- function(orders, ..., page = what_changed, env = parent.frame()) {
  folder <- withr::local_tempdir(.local_envir = env)
  utils::write.csv(orders, file.path(folder, "orders.csv"), row.names = FALSE)
  utils::write.csv(data.frame(depot = c("Skelby", "Garrick"), town = c("North", "South")),
    file.path(folder, "depots.csv"), row.names = FALSE)
  writeLines(c(
    "drystack: 1", "title: The yard", "orders: {file: orders.csv, date: on, key: [id]}",
    "lookups: [{file: depots.csv, by: depot}]", "only: ['status != \"cancelled\"']",
    "shown: {from: 2026-05-01, to: 2026-08-31}", "measures:",
      "  sales: {show: sum(amount), label: Net sales}",
    "  n: count()", ..., "page:", page
  ), file.path(folder, "yard.yml"))
  folder
}

yard_orders <- function() {
  data.frame(
    id = 1:40, on = as.Date("2026-05-01") + (0:39) * 3L, depot = rep(c("Skelby", "Garrick"), 20L),
    amount = 100 + (1:40), status = rep(c("sent", "sent", "sent", "cancelled"), 10L)
  )
}

built_yard <- function(folder, ..., today = "2026-09-01", as_of = "2026-08-31", formats = "txt") {
  out <- build_report(file.path(folder, "yard.yml"), list(as_of = as_of), file.path(folder, "out"), formats,
    today = as.Date(today), ...)
  list(built = out, text = paste(readLines(out$files[1L], encoding = "UTF-8"), collapse = "\n"))
}

change_file <- function(folder, change) {
  file <- file.path(folder, "orders.csv")
  orders <- utils::read.csv(file)
  utils::write.csv(change(orders), file, row.names = FALSE)
}

damaged_orders <- function(orders) {
  orders$amount[orders$id == 9] <- 1000
  orders <- orders[orders$id != 10, ]
  rbind(orders, data.frame(id = 99, on = "2026-06-02", depot = "Skelby", amount = 7, status = "sent"))
}

test_that("the first build says that nothing can be compared, the next what changed, why, and which lines", {
  folder <- yard(yard_orders(), page = c(what_changed, "  - figure: {by: month, show: sales}"))
  first <- built_yard(folder)
  expect_match(first$text, "No earlier build of this report is known")
  expect_no_match(first$text, "restated")
  change_file(folder, damaged_orders)
  second <- built_yard(folder, today = "2026-10-01", formats = c("txt", "html", "xlsx", "json", "md"))
  expect_match(second$text, "Told before +3,600 +30")
  expect_match(second$text, "Lines gone +1 +\u2212110 +\u22121")
  expect_match(second$text, "Lines changed +1 +\\+891 +0")
  expect_match(second$text, "Lines entered since +1 +\\+7 +\\+1")
  expect_match(second$text, "Now +4,388 +30")
  expect_match(second$text, "changed: amount +9 ")
  expect_match(second$text, "gone +10 ")
  expect_match(second$text, "entered since +99 ")
  # What was whole when it was told is marked in tables, figures, workbooks and files of data.
  mark <- "2026-05 May \u2020|2026-06 Jun \u2020"
  for (file in second$built$files[c(1L, 2L, 5L)]) {
    expect_match(paste(readLines(file, encoding = "UTF-8"), collapse = "\n"), mark, label = file)
  }
  expect_match(second$text, "restated: figures told on 1 September 2026 were others")
  book <- openxlsx::loadWorkbook(second$built$files[3L])
  cells <- unlist(lapply(names(book), function(name) {
    openxlsx::read.xlsx(book, sheet = name,
      colNames = FALSE)
  }))
  expect_gt(sum(grepl("\u2020", cells)), 0L)
  json <- jsonlite::fromJSON(second$built$files[4L], simplifyDataFrame = FALSE)
  restated <- unlist(lapply(json$tables, `[[`, "restated"))
  expect_in_set(restated, c("2026-05", "2026-06"))
  expect_gt(length(restated), 0L)
  third <- built_yard(folder, today = "2026-10-02")
  expect_match(third$text, "Nothing that was told on 1 October 2026 has changed")
  expect_no_match(third$text, "\u2020")
  since <- function(day) {
    lines <- readLines(file.path(folder, "yard.yml"))
    writeLines(sub("label: What changed", paste0("label: What changed, since: ", day), sub(", since: [0-9-]+",
      "", lines)),
      file.path(folder, "yard.yml"))
    built_yard(folder, today = "2026-10-03")$text
  }
  expect_match(since("2026-09-15"), "Lines entered since")
  expect_match(since("2026-08-15"), "No build of this report on or before 15 August 2026")
  expect_raised(since("2026-99-15"), "standing", "since")
})

without_key <- function(folder) {
  file <- file.path(folder, "yard.yml")
  writeLines(sub(", key: \\[id\\]", "", readLines(file)), file)
  folder
}

test_that("without a key what changed is told by days and members, and no lines are kept", {
  folder <- without_key(yard(yard_orders()))
  first <- built_yard(folder)$built
  kept <- told_orders(read_told(first$told_at))
  expect_null(kept$lines)
  expect_identical(names(kept$states$rows)[1:3], c("day", "by1", "n"))
  expect_identical(kept$states$by, "status")
  change_file(folder, damaged_orders)
  second <- built_yard(folder, today = "2026-10-01")
  expect_match(second$text, "Told before +3,600 +30")
  expect_match(second$text, "Fewer order lines +1 +\u2212110 +\u22121")
  expect_match(second$text, "Other amounts +\\+891 +0")
  expect_match(second$text, "More order lines +1 +\\+7 +\\+1")
  expect_match(second$text, "other amounts +2026-05-25 +sent +1 +1 +109 +1,000")
  expect_match(second$text, "more order lines +2026-06-02 +sent +0 +1 +0 +7")
  expect_match(second$text, "told apart by day and status: lines removed")
  expect_match(second$text, "\u2020")
  x <- changes(first, second$built)
  expect_true(all(tie_out(x)$ok))
  expect_identical(changed_lines(x)$lines_now - changed_lines(x)$lines_before, c(0, -1, 1))
  expect_identical(changed_lines(x)$now - changed_lines(x)$before, c(891, -110, 7))
})

test_that("what states do not tell, such as distinct values, is one sum", {
  folder <- without_key(yard(yard_orders(), page = "  - changes: {by: month, show: [sales, ids]}"))
  file <- file.path(folder, "yard.yml")
  writeLines(sub("n: count()", "ids: distinct(id)", readLines(file), fixed = TRUE), file)
  built_yard(folder)
  change_file(folder, damaged_orders)
  expect_match(built_yard(folder, today = "2026-10-01")$text, "Other order lines +0 +\\+788 +0")
})

test_that("another condition, lookup, measure, column or calendar is told by itself", {
  terms <- list(
    "Other conditions" = function(lines) {
      sub("only: .*", "only: ['status != \"cancelled\"', amount > 105]",
        lines)
    },
    "Another measure" = function(lines) sub("show: sum\\(amount\\)", "show: sum(amount) + 5", lines),
    "Columns worked out otherwise" = function(lines) {
      sub("^measures:",
        "work_out: {amount: amount * 2}\nmeasures:", lines)
    }
  )
  said <- c("Other conditions" = "Other conditions: now also: amount > 105.",
    "Another measure" = "Another measure: sales: sum(amount) before, now sum(amount) + 5.",
    "Columns worked out otherwise" = "amount: nothing before, now amount * 2.")
  for (words in names(terms)) {
    folder <- yard(yard_orders())
    built_yard(folder)
    file <- file.path(folder, "yard.yml")
    writeLines(terms[[words]](readLines(file)), file)
    text <- built_yard(folder, today = "2026-10-01")$text
    expect_match(text, paste0(words, " +[0-9]* *[+\u2212]"), label = words)
    expect_match(text, said[[words]], fixed = TRUE, label = words)
    expect_no_match(text, "Lines (gone|changed|entered)", label = words)
  }
  folder <- yard(yard_orders(), page = c("  - changes: {by: town, show: sales}",
    "  - rollup: {by: town, show: sales}"))
  built_yard(folder)
  utils::write.csv(data.frame(depot = c("Skelby", "Garrick"), town = c("North", "North")),
    file.path(folder, "depots.csv"), row.names = FALSE)
  text <- built_yard(folder, today = "2026-10-01")$text
  expect_match(text, "Another lookup: depots, 2 rows that are not in both.", fixed = TRUE)
  folder <- yard(yard_orders(), "calendars: {fiscal: 'fiscal:July'}",
    page = c("  - changes: {by: quarter, show: sales}", "  - rollup: {by: quarter, show: sales}"))
  built_yard(folder)
  file <- file.path(folder, "yard.yml")
  writeLines(sub("fiscal:July", "fiscal:June", readLines(file)), file)
  text <- built_yard(folder, today = "2026-10-01")$text
  expect_match(text, "cannot be compared|Nothing that was told")
  folder <- yard(yard_orders())
  built_yard(folder, as_of = "2026-08-20")
  change_file(folder, function(orders) {
    rbind(orders, data.frame(id = 50, on = "2026-08-25", depot = "Skelby",
      amount = 9, status = "sent"))
  })
  text <- built_yard(folder, today = "2026-10-01")$text
  # Days that were not told are not compared.
  expect_match(text, "Nothing that was told on 1 September 2026 has changed")
})

test_that("what an earlier build told may be damaged, of another version or of other figures", {
  once <- yard(yard_orders())
  built_yard(once)
  change_file(once, damaged_orders)
  fresh <- function() {
    folder <- tempfile(tmpdir = dirname(once))
    dir.create(folder)
    file.copy(list.files(once, full.names = TRUE), folder, recursive = TRUE)
    withr::defer_parent(unlink(folder, recursive = TRUE))
    folder
  }
  told <- function(folder, ending) {
    list.files(file.path(folder, "out", ".yard.told"), ending,
      full.names = TRUE)
  }
  again <- function(folder) built_yard(folder, today = "2026-10-01")$text
  for (damage in list("", "{", "[]", "{\"form\": 2}", "{\"form\": 1, \"built\": \"x\"}", "null")) {
    folder <- fresh()
    writeLines(damage, told(folder, "json$"))
    expect_match(again(folder), "damaged or of another version", label = damage)
  }
  # A whole record of another form, and one without its tables.
  for (change in list(c("\"form\": *[0-9]+", "\"form\": 99"), c("\"tables\":", "\"others\":"))) {
    folder <- fresh()
    file <- told(folder, "json$")
    text <- readLines(file)
    expect_match(text, change[1L], all = FALSE)
    writeLines(sub(change[1L], change[2L], text), file)
    expect_match(again(folder), "damaged or of another version", label = change[2L])
  }
  # Order lines that cannot be read: the figures are compared all the same.
  folder <- fresh()
  whole <- readBin(told(folder, "parquet$"), "raw", 1e6)
  half <- whole[seq_len(length(whole) %/% 2L)]
  for (damage in list(raw(), as.raw(1:40), as.raw(rep(255, 5000)), half)) {
    folder <- fresh()
    writeBin(damage, told(folder, "parquet$"))
    expect_match(again(folder), "Other order lines", label = length(damage))
  }
  folder <- fresh()
  file <- told(folder, "json$")
  text <- readLines(file)
  writeLines(gsub("drystack: 1", "drystack: 9", text, fixed = TRUE), file)
  expect_match(again(folder), "cannot be read any more")
  folder <- fresh()
  yaml <- file.path(folder, "yard.yml")
  writeLines(sub("changes: {by: month, show: [sales, n]", "changes: {by: depot, show: [sales, n]",
    readLines(yaml),
    fixed = TRUE), yaml)
  expect_match(again(folder), "Lines gone +1")
  writeLines(sub(", key: [id]", "", readLines(yaml), fixed = TRUE), yaml)
})

test_that("a key that is not unique is an error that names it, and nothing is written", {
  orders <- yard_orders()
  orders$id[2L] <- 1L
  folder <- yard(orders)
  expect_raised(built_yard(folder), "key", "not unique", "id 1")
  folder <- yard(yard_orders())
  file <- file.path(folder, "yard.yml")
  writeLines(sub("key: [id]", "key: [idd]", readLines(file), fixed = TRUE), file)
  expect_raised(built_yard(folder), "column", "idd")
})

test_that("a page without the block says what changed when it is asked to, in R and on the command line", {
  folder <- yard(yard_orders(), page = "  - rollup: {by: month, show: [sales, n], totals: grand}")
  built_yard(folder)
  change_file(folder, damaged_orders)
  got <- drystack("build", file.path(folder, "yard.yml"), "--as-of", "2026-08-31", "--out", file.path(folder,
    "out"),
    "--format", "txt", "--changes")
  expect_identical(got$status, 0L)
  expect_match(paste(got$out, collapse = "\n"), "Lines changed +1 +\\+891")
  again <- drystack("build", file.path(folder, "yard.yml"), "--as-of", "2026-08-31", "--out",
    file.path(folder, "out"),
    "--format", "txt", "--changes")
  expect_match(paste(again$out, collapse = "\n"), "Lines changed +1 +\\+891")
})

test_that("only the latest builds are kept, and reports for each member are told apart", {
  folder <- yard(yard_orders())
  told <- function() list.files(file.path(folder, "out", ".yard.told"), full.names = TRUE)
  built_yard(folder)
  for (day in format(as.Date("2026-08-01") + 1:15)) {
    first <- grep("2026-09-01", told(), value = TRUE)
    file.copy(first, sub("2026-09-01", day, first))
  }
  expect_length(grep("json$", told()), 16L)
  change_file(folder, damaged_orders)
  built_yard(folder, today = "2026-09-02")
  left <- sub("-[0-9]{6}.*$", "", basename(grep("json$", told(), value = TRUE)))
  expect_identical(left, c(format(as.Date("2026-08-06") + 0:10), "2026-09-01", "2026-09-02"))
  expect_length(left, most_told)
  folder <- yard(yard_orders())
  out <- file.path(folder, "each")
  ask <- function(today) {
    build_report(file.path(folder, "yard.yml"), list(as_of = "2026-08-31"), out, "txt",
      each = "depot", today = as.Date(today))
  }
  ask("2026-09-01")
  change_file(folder, damaged_orders)
  built <- ask("2026-10-01")
  texts <- vapply(built$files, function(file) paste(readLines(file, encoding = "UTF-8"), collapse = "\n"), "")
  # What is told to one is of that one alone.
  skelby <- texts[grepl("skelby", built$files)]
  garrick <- texts[grepl("garrick", built$files)]
  expect_match(skelby, "Lines changed +1 +\\+891")
  expect_match(skelby, "entered since +99 ")
  expect_match(garrick, "Lines gone +1 +\u2212110")
  expect_no_match(skelby, "Garrick")
  expect_no_match(garrick, "Skelby")
  without_key(folder)
  ask("2026-10-02")
  change_file(folder, function(orders) replace(orders, "amount", orders$amount + (orders$id == 5)))
  texts <- vapply(ask("2026-10-03")$files, function(file) {
    paste(readLines(file, encoding = "UTF-8"), collapse = "\n")
  }, "")
  expect_match(texts[grepl("skelby", names(texts))], "Other amounts +\\+1")
  expect_match(texts[grepl("garrick", names(texts))], "Nothing that was told")
})

test_that("columns that a build keeps come back as they were", {
  withr::local_seed(3)
  columns <- list(
    1:5000, c(NA, 3L), round(stats::runif(3000, -500, 900), 2), stats::rnorm(100), c(1e300, -1e-300, Inf,
      NaN),
    c("a", NA, "b", "a", "\u00e9"), c(TRUE, NA, FALSE), as.Date("2026-01-01") + c(0, NA, 400),
    factor(c("x", NA, "y")), 2^52 + (0:3), c(-5, 5), as.POSIXct("2026-01-01 10:00", tz = "UTC") + 1 / 3,
    bit64::as.integer64(c(1, NA)), new_coded(c("a", "b"), c(2L, 1L, NA))
  )
  folder <- withr::local_tempdir()
  for (x in columns) {
    kept <- list(lines = list(x = x, x = x), key = "x")
    write_orders_told(frame_of_orders(kept), file.path(folder, "told.parquet"))
    said <- jsonlite::fromJSON(jsonlite::toJSON(said_of_orders(kept), auto_unbox = TRUE,
      null = "null"), simplifyDataFrame = FALSE)
    again <- told_orders(list(stem = file.path(folder, "told"), orders = said))
    wanted <- if (is_coded(x)) expanded(x) else if (is.factor(x)) as.character(x) else if (inherits(x,
      "integer64")) plain_values(x) else x
    expect_equal(again$lines[[1L]], wanted, tolerance = 0, ignore_attr = "tzone")
    expect_identical(again$lines[[2L]], again$lines[[1L]])
    expect_identical(again$key, "x")
  }
})

test_that("two daybooks are compared line by line and total by total", {
  made <- yard_orders()
  after <- damaged_orders(made)
  after$on <- as.Date(after$on)
  after$note <- "new"
  x <- changes(daybook(made, on), daybook(after, on), key = "id", by = c(depot, month))
  expect_identical(x$counts, c(both = 38L, different = 1L, before = 1L, after = 1L))
  lines <- changed_lines(x)
  expect_identical(lines$.what, c("only before", "different", "only after"))
  expect_identical(lines$id, c(10, 9, 99))
  expect_identical(lines$.differs[2L], "amount: 109 is now 1000")
  totals <- as.data.frame(x)
  whole <- totals[totals$.role == "total" & totals$.measure == "total_amount", ]
  expect_identical(c(whole$before, whole$now), c(sum(made$amount), sum(after$amount)))
  expect_match(paste(format(x), collapse = "\n"), "Only after has the column note")
  alone <- changes(daybook(made, on), daybook(after, on))
  expect_identical(unname(alone$counts[c("before", "after")]), c(2L, 2L))
  expect_raised(changes(daybook(made, on), daybook(after, on), key = "depot"), "key", "not unique")
  expect_raised(changes(daybook(made, on), after), "argument")
})

test_that("two builds are compared as they told their first rollup", {
  folder <- yard(yard_orders())
  first <- built_yard(folder)$built
  change_file(folder, damaged_orders)
  second <- built_yard(folder, today = "2026-10-01")$built
  x <- changes(first, second)
  expect_identical(x$reasons$reason, c("lines gone", "lines changed", "lines entered since"))
  expect_identical(changed_lines(x)$id, c(9, 10, 99))
  expect_true(all(tie_out(x)$ok))
  expect_raised(changes(first, 3), "argument", "a build too")
  unlink(file.path(folder, "out", ".yard.told"), recursive = TRUE)
  expect_raised(changes(first, second), "argument", "no longer kept")
  file <- file.path(folder, "yard.yml")
  writeLines(sub(", key: [id]", "", readLines(file), fixed = TRUE), file)
  bare <- built_yard(folder, today = "2026-10-02")$built
  expect_identical(nrow(changes(bare, bare)$reasons), 0L)
  expect_raised(changes(second, bare), "argument", "no longer kept")

})

test_that("tables of a page are held against those that stood at their places, under the same conditions", {
  folder <- yard(yard_orders(), page = c(
    "  - rollup: {by: month, show: [sales], only: 'depot == \"Skelby\"'}",
    "  - rollup: {by: month, show: [sales], only: 'depot == \"Garrick\"'}",
    "  - changes: {by: month, show: sales}"))
  file <- file.path(folder, "yard.yml")
  writeLines(sub(", key: [id]", "", readLines(file), fixed = TRUE), file)
  built_yard(folder)
  writeLines(sub("title: The yard", "title: The old yard", readLines(file)), file)
  text <- built_yard(folder, today = "2026-10-01")$text
  expect_match(text, "Nothing that was told")
  expect_no_match(text, "\u2020")
  change_file(folder, function(orders) {
    orders$amount[orders$id == 2] <- 5
    orders
  })
  text <- built_yard(folder, today = "2026-10-02")$text
  expect_match(text, "Other amounts +\u221297")
  expect_match(text, "2026-05 May \u2020")
  expect_no_match(text, "2026-06 Jun \u2020")
})

test_that("an earlier build of other columns and measures stops no page", {
  folder <- yard(yard_orders())
  file <- file.path(folder, "yard.yml")
  writeLines(sub(", key: [id]", "", readLines(file), fixed = TRUE), file)
  built_yard(folder)
  change_file(folder, function(orders) {
    names(orders)[names(orders) == "amount"] <- "value"
    orders
  })
  writeLines(sub("sum(amount)", "sum(value)", readLines(file), fixed = TRUE), file)
  expect_match(built_yard(folder, today = "2026-10-01")$text, "cannot be compared:")
  folder <- yard(yard_orders())
  file <- file.path(folder, "yard.yml")
  built_yard(folder)
  lines <- sub("show: [sales, n], label", "show: [sales, most], label", readLines(file), fixed = TRUE)
  writeLines(sub("  n: count()", "  n: count()\n  most: max(amount)", lines, fixed = TRUE), file)
  change_file(folder, damaged_orders)
  text <- built_yard(folder, today = "2026-10-01")$text
  expect_match(text, "Most cannot be compared")
  expect_match(text, "Lines changed +1 +\\+891")
})

# A report over the same orders in one file, in several and in a database.
yard_anywhere <- function(how, orders, env = parent.frame()) {
  folder <- withr::local_tempdir(.local_envir = env)
  said <- c(file = "{file: a.csv, date: on}", parts = "{files: '*.csv', date: on}",
    database = "{database: 'sqlite:shop.db', table: orders, date: on, key: id}")[[how]]
  dir.create(file.path(folder, "lists"))
  utils::write.csv(data.frame(customer = paste0("C", 1:9), kind = rep(c("trade", "house", "works"), 3L)),
    file.path(folder, "lists", "kinds.csv"), row.names = FALSE)
  put_orders(how, orders, folder)
  writeLines(c("drystack: 1", paste("orders:", said), "lookups: [{file: lists/kinds.csv, by: customer}]",
    "work_out: {net: amount - discount}", "only: ['status != \"cancelled\"']", "measures:",
    "  sales: sum(net)", "  n: count()", "  m: mean(net)", "  y: ytd(sales)", "page:",
    "  - rollup: {by: [kind, month], show: [sales, n, m, y], totals: all}"), file.path(folder, "yard.yml"))
  folder
}

put_orders <- function(how, orders, folder) {
  if (how == "database") {
    con <- DBI::dbConnect(RSQLite::SQLite(), file.path(folder, "shop.db"))
    on.exit(DBI::dbDisconnect(con))
    DBI::dbWriteTable(con, "orders", transform(orders, on = format(on)), overwrite = TRUE)
  } else {
    part <- if (how == "file") rep("a", nrow(orders)) else ifelse(orders$id %% 2 == 0, "a", "b")
    for (one in unique(part)) utils::write.csv(orders[part == one, ], file.path(folder, paste0(one, ".csv")),
      row.names = FALSE, na = "")
  }
}

test_that("states tell the same of orders in a file, in several and in a database, as the orders do", {
  for (seed in seq_len(trials(40L))) {
    withr::local_seed(seed)
    n <- 150L
    before <- data.frame(id = seq_len(n), on = as.Date("2026-01-01") + sample(0:100, n, TRUE),
      depot = sample(c("Skelby", "Garrick", NA), n, TRUE), customer = paste0("C", sample(9L, n, TRUE)),
      amount = round(stats::runif(n, -20, 900), 2), discount = round(stats::runif(n, 0, 20), 2),
      status = sample(c("sent", "cancelled"), n, TRUE, c(0.8, 0.2)))
    after <- before[-sample(n, 3L), ]
    after$amount[1:4] <- after$amount[1:4] + 5.5
    after <- rbind(after, transform(after[5:7, ], id = 1000 + 1:3))
    found <- lapply(c("file", "parts", "database"), function(how) {
      folder <- yard_anywhere(how, before)
      first <- built_yard(folder, as_of = "2026-06-30")$built
      put_orders(how, after, folder)
      second <- built_yard(folder, as_of = "2026-06-30", today = "2026-10-01")$built
      x <- changes(first, second)
      expect_true(all(tie_out(x)$ok))
      as.data.frame(x)
    })
    expect_equal(found[[2L]], found[[1L]], tolerance = 1e-12)
    expect_equal(found[[3L]], found[[1L]], tolerance = 1e-12)
    totals <- found[[1L]][is.na(found[[1L]]$kind) & is.na(found[[1L]]$month), ]
    sent <- function(orders) orders[orders$status != "cancelled", ]
    for (side in c("before", "now")) {
      orders <- sent(if (side == "before") before else after)
      net <- orders$amount - orders$discount
      expect_equal(totals[[side]][1:3], c(sum(net), nrow(orders), mean(net)), tolerance = 1e-12)
    }
    # Day by day and member by member, what went and what came.
    cell <- function(orders) paste(orders$on, orders$customer, orders$status)
    counts <- table(factor(c(cell(before), cell(after))), rep(1:2, c(nrow(before), nrow(after))))
    less <- rownames(counts)[counts[, 2L] < counts[, 1L]]
    more <- rownames(counts)[counts[, 2L] > counts[, 1L]]
    moved <- function(cells) {
      one <- function(orders) sum((orders$amount - orders$discount)[cell(orders) %in% cells])
      one(sent(after)) - one(sent(before))
    }
    expect_equal(totals[["fewer order lines"]][1L], moved(less), tolerance = 1e-9)
    expect_equal(totals[["more order lines"]][1L], moved(more), tolerance = 1e-9)
  }
})

test_that("states of one row, of unknown amounts and of orders in another order tell what they can", {
  orders <- yard_orders()
  asked <- function(before, after) {
    folder <- without_key(yard(before))
    built_yard(folder)
    change_file(folder, function(orders) after)
    built_yard(folder, today = "2026-10-01")$text
  }
  one <- orders[1L, ]
  expect_match(asked(one, transform(one, amount = 7)), "Other amounts +\u221294")
  unknown <- transform(orders, amount = replace(amount, -1L, NA))
  expect_match(asked(unknown, orders), "Told before +101 +30\nOther amounts +\\+3,499 +0")
  expect_match(asked(orders, unknown), "Other amounts +\u22123,499 +0")
  expect_match(asked(orders, orders[rev(seq_len(nrow(orders))), ]), "Nothing that was told")
  expect_match(asked(rbind(orders, orders[1L, ]), orders), "Fewer order lines +1 +\u2212101 +\u22121")
})
