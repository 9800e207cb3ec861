# A folder with the demo's orders and its standing report.
# A small report of few orders, with some lines put in.
small_report <- function(..., env = parent.frame()) {
  folder <- withr::local_tempdir(.local_envir = env)
  utils::write.csv(few_orders(), file.path(folder, "orders.csv"), row.names = FALSE, na = "")
  lines <- c(
    "drystack: 1", "title: Small", "orders: {file: orders.csv, date: 'on'}",
    "measures:", "  sales: sum(amount)", "  n: count()", ...,
    "page:", "  - rollup: {by: depot, show: [sales, n], totals: grand}"
  )
  file <- file.path(folder, "small.yml")
  writeLines(lines, file)
  file
}
built_text <- function(file, ..., out = tempfile("out")) {
  built <- build_report(file, ..., out = out, formats = "txt", today = "2025-03-11")
  paste(unlist(lapply(built$files, readLines, encoding = "UTF-8")), collapse = "\n")
}

test_that("the demo's report is built for another month and one depot, with the figures of its orders", {
  folder <- yard_folder()
  out <- file.path(folder, "out")
  built <- build_report(
    file.path(folder, "monthly.yml"), list(as_of = "2026-07-31", depot = "Skelby"),
    out, c("txt", "json"), today = "2026-08-20"
  )
  expect_identical(basename(built$files), c("monthly.txt", "monthly.json"))
  expect_true(built$tie_out)
  text <- paste(readLines(built$files[1L], encoding = "UTF-8"), collapse = "\n")
  expect_match(text, "to 31 July 2026\nDepot: Skelby")
  tables <- jsonlite::fromJSON(built$files[2L])$tables
  month <- tables$rows[[2L]]
  orders <- harrowgill()$orders
  july <- orders[tolower(trimws(orders$depot)) == "skelby" & orders$status != "cancelled" &
    !is.na(orders$ordered_on) & format(
      orders$ordered_on, "%Y-%m"
    ) == "2026-07", ]
  expect_equal(month$sales[12L], sum(july$amount - july$discount, na.rm = TRUE))
})

test_that("a rebuild with nothing changed says so; changed orders, values or the report build again", {
  file <- small_report()
  out <- withr::local_tempdir()
  build <- function(...) build_report(file, ..., out = out, formats = "txt", today = "2025-03-11")
  expect_true(build()$changed)
  before <- file.info(file.path(out, "small.txt"))$mtime
  expect_false(build()$changed)
  expect_identical(file.info(file.path(out, "small.txt"))$mtime, before)
  expect_match(paste(format(build()), collapse = " "), "nothing has changed")
  expect_true(build(list(as_of = "2025-01-31"))$changed)
  write("2025-03-01,Skelby,1,sent", file.path(dirname(file), "orders.csv"), append = TRUE)
  expect_true(build()$changed)
})

test_that("a calendar that is read from a file is part of what a build was made from", {
  file <- small_report("calendars: {own: 'custom:periods.csv'}")
  starts <- seq(as.Date("2024-01-01"), as.Date("2025-12-01"), by = "month")
  periods <- data.frame(start = starts, end = c(starts[-1L] - 1, as.Date("2025-12-31")),
    month = format(starts, "%Y-%m"))
  utils::write.csv(periods, file.path(dirname(file), "periods.csv"), row.names = FALSE)
  out <- withr::local_tempdir()
  build <- function() build_report(file, out = out, formats = "txt", today = "2025-03-11")$changed
  expect_identical(c(build(), build()), c(TRUE, FALSE))
  periods$month[1L] <- "Opening"
  utils::write.csv(periods, file.path(dirname(file), "periods.csv"), row.names = FALSE)
  expect_true(build())
})

test_that(
  "CSV and Parquet of a page with several tables are a file for each; a folder in the way stops all", {
  file <- small_report("outputs: [txt, csv, parquet]")
  out <- withr::local_tempdir()
  one <- build_report(file, out = out)$files
  expect_identical(basename(one), c("small.txt", "small.csv", "small.parquet"))
  more <- c("  - rollup: {by: status, show: [n], label: 'By status!'}",
    "  - rollup: {by: status, show: [sales]}")
  writeLines(c(readLines(file), more), file)
  several <- build_report(file, out = out)$files
  tables <- c("small-sales-and-n-by-depot.csv", "small-by-status.csv", "small-sales-by-status.csv")
  expect_identical(basename(several[2:4]), tables)
  book <- daybook(few_orders(), on)
  expect_equal(read.csv(several[3L])$n, plain(rollup(book, status, n = count()))$n)
  expect_equal(nanoparquet::read_parquet(several[7L])$sales,
    plain(rollup(book, status, sales = sum(amount)))$sales)
  unlink(several)
  dir.create(file.path(out, "small-by-status.csv"))
  expect_raised(build_report(file, out = out), "output", "is a folder")
  expect_false(any(file.exists(setdiff(several, file.path(out, "small-by-status.csv")))))
})

test_that("parameters are typed, and what has none leaves its condition out", {
  file <- small_report(
    "parameters:", "  depot: {kind: choice, allowed: [Skelby, Thornmoor]}",
    "  least: {kind: number, default: 0, allowed: [0, 100]}",
    "  states: {kind: list, default: sent}", "only:", "  - depot == {depot}",
    "  - amount >= {least}", "  - status %in% {states}"
  )
  expect_match(built_text(file), "Built with depot: all; least: 0; states: sent")
  expect_match(built_text(file), "Thornmoor")
  one <- built_text(file, list(depot = "Skelby", least = 5, states = "sent,open"))
  expect_false(grepl("Thornmoor", one))
  expect_match(one, "states: sent and open")
  expect_raised(built_text(file, list(depot = "Skelbi")), "standing",
    "small.yml, line", "one of Skelby, Thornmoor")
  expect_raised(built_text(file, list(least = "ten")), "standing", "must be a number")
  expect_raised(built_text(file, list(least = 500)), "standing", "from 0 to 100")
  expect_raised(built_text(file, list(dept = "Skelby")), "standing", "Did you mean \"depot\"")
})

test_that("a parameter that is a period limits the days shown by its first or last day", {
  file <- small_report(
    "calendars: {fiscal: 'fiscal:July'}", "parameters:",
    "  first: {kind: period, unit: quarter, default: FY2025-Q3}", "shown: {from: '{first}', to: '{first}'}"
  )
  expect_match(built_text(file), "Built with first: FY2025 Q3")
  expect_match(built_text(file), "1 January 2025 to 10 March 2025")
  expect_match(built_text(file, list(first = "FY2025-Q2")), "1 October 2024 to 31 December 2024")
  expect_raised(built_text(file, list(first = "2025-Q1")), "standing", "a quarter such as FY2025-Q3")
})

test_that("braces, quotes and backslashes within a value stay what they are", {
  file <- small_report(
    "parameters:", "  a: {kind: text}", "  b: {kind: text}", "only:", "  - depot == {a} | status == {b}",
    "subtitle: '{a} and {b}'"
  )
  text <- built_text(file, list(a = "{b}", b = "\" | depot == \"Skelby\" | \"\\"))
  expect_match(text, "\n{b} and \" | depot == \"Skelby\" | \"\\\n", fixed = TRUE)
  expect_match(text, "0 of ", fixed = TRUE)
})

test_that("a question in a terminal is put again until its answer will do; an empty answer is none", {
  file <- small_report(
    "parameters:", "  depot: {kind: choice, allowed: [Skelby, Thornmoor], ask: Which depot}",
    "  least: {kind: number}", "only:", "  - depot == {depot}", "  - amount >= {least}"
  )
  answers <- c("Skelbi", "Skelby", "")
  asked <- character()
  ask <- function(name, declared) {
    asked <<- c(asked, name)
    answer <- answers[length(asked)]
    if (nzchar(answer)) answer
  }
  book <- daybook(few_orders(), on)
  facts <- list(last = as.Date("2025-03-10"), today = as.Date("2025-03-11"), calendar = book$calendars[[1L]])
  told <- capture.output(values <- parameter_values(read_standing(file), list(), facts, ask),
    type = "message")
  expect_match(told, "one of Skelby, Thornmoor", all = FALSE)
  expect_identical(asked, c("depot", "depot", "least"))
  expect_identical(values$depot$value, "Skelby")
  expect_null(values$least$value)
})

test_that("a value that no order has is told with the nearest that some have", {
  file <- small_report("only: ['depot == \"Skelbi\"']")
  built <- build_report(file, out = tempfile(), formats = "txt")
  expect_identical(built$warnings, "No order line meets \"depot is Skelbi\": did you mean \"Skelby\"?")
  expect_raised(build_report(file, out = tempfile(), formats = "txt", strict = TRUE),
    "standing", "did you mean \"Skelby\"")
})

test_that("a condition of another form that no order meets is told without advice", {
  orders <- transform(few_orders(), paid = FALSE)
  for (book in list(only(daybook(orders, on), paid),
    only(daybook(orders, on), !is.na(depot) & amount > 1e9))) {
    expect_match(rollup(book, s = sum(amount))$unmet, "^No order line meets [^:]+[.]$")
  }
})

test_that("dates are said as people say them", {
  file <- small_report("closing: {after: 5}")
  as_of <- function(said) {
    sub(".*?As of ([0-9]+ [A-Za-z]+ [0-9]+).*", "\\1", built_text(file,
      list(as_of = said)))
  }
  expect_identical(as_of("last order"), "10 March 2025")
  expect_identical(as_of("last month end"), "28 February 2025")
  expect_identical(as_of("last closed month"), "28 February 2025")
  expect_identical(as_of("2024-12-31"), "31 December 2024")
  expect_identical(as_of("today"), "11 March 2025")
  expect_raised(as_of("someday"), "standing", "must be a date", "last month end")
})

test_that("texts show parameters and figures, in their formats", {
  file <- small_report("footnotes: [note]")
  lines <- c(readLines(file), "  - text: 'Sales to {as_of}: {sales} from {n} lines'")
  writeLines(lines, file)
  expect_match(built_text(file), "Sales to 10 March 2025: 145.50 from 6 lines")
  writeLines(sub("{n}", "{m}", lines, fixed = TRUE), file)
  expect_raised(built_text(file), "standing", "{m} is not a parameter", "Did you mean \"n\"")
})

test_that("what is expected and does not hold is said, or stops a strict build and leaves what stood", {
  file <- small_report("closing: {after: 14}", "expect:", "  fresh_within: 3 days",
    "  closed: month", "  sales: '> 1000'")
  out <- withr::local_tempdir()
  built <- build_report(file, out = out, formats = "txt", today = "2025-03-20")
  expect_length(built$warnings, 3L)
  text <- readLines(file.path(out, "small.txt"))
  expect_match(paste(text, collapse = "\n"), "Attention: orders are 10 days old")
  expect_match(paste(text, collapse = "\n"), "not closed yet: it closes on 14 April 2025")
  expect_match(paste(text, collapse = "\n"), "sales is 145.50, expected > 1000")
  expect_raised(
    build_report(file, list(as_of = "2025-02-28"), out, "txt", strict = TRUE, today = "2025-03-20"),
    "standing", "nothing was written", "sales is"
  )
  expect_identical(readLines(file.path(out, "small.txt")), text)
  expect_setequal(list.files(out, all.files = TRUE, no.. = TRUE), c("small.txt", ".small.built.json",
    ".small.told"))
})

test_that("one report for each member, and by another calendar beside the first", {
  file <- small_report("calendars: {fiscal: 'fiscal:July', civil: civil}")
  built <- build_report(file, out = tempfile(), formats = "txt", each = "depot", compare = "civil")
  expect_identical(
    basename(built$files), c("small-skelby.txt", "small-thornmoor.txt",
      "small-skelby-civil.txt", "small-thornmoor-civil.txt")
  )
  expect_raised(build_report(file, out = tempfile(), each = "deppot"), "column", "depot")
  asked <- small_report("parameters:", "  depot: {kind: text}",
    "only: ['depot == {depot}']", "subtitle: 'Of {depot}'")
  each <- build_report(asked, out = tempfile(), formats = "txt", each = "depot")
  expect_match(paste(readLines(each$files[1L]), collapse = "\n"),
    "Of Skelby\nAs of 10 March 2025", fixed = TRUE)
})

test_that("what a build is watched for is the report and all it reads", {
  file <- small_report("lookups: [{file: data/depots.csv, by: depot}]")
  dir.create(file.path(dirname(file), "data"))
  lookup <- file.path(dirname(file), "data", "depots.csv")
  writeLines(c("depot,area", "Skelby,North"), lookup)
  builds <- 0L
  build <- function() {
    builds <<- builds + 1L
    if (builds == 1L) writeLines(c("depot,area", "Skelby,North", "Thornmoor,Vale"), lookup)
  }
  watch_report(file, build, force, rounds = 4, wait = 0.01)
  expect_identical(builds, 2L)
})

test_that(
  "each key mistyped, missing, of the wrong type or twice is told with its line and the nearest word", {
  wrong <- function(lines, ...) {
    file <- withr::local_tempfile(fileext = ".yml")
    writeLines(lines, file)
    expect_raised(build_report(file, out = tempfile()), "standing", ...)
  }
  base <- c("drystack: 1", "orders: {file: o.csv, date: on}", "page:", "  - rollup: {show: [a]}")
  wrong(sub("orders", "order", base), "line 2", "no key \"order\"", "Did you mean \"orders\"")
  wrong(base[-3:-4], "needs the key \"page\"", "Write page: [rollup: {by: month, show: 'sales = sum(amount)'}].")
  wrong(base[-1L], "needs the key \"drystack\"", "Write drystack: 1.")
  wrong(sub("drystack: 1", "drystack: 7", base), "line 1", "one of 1")
  wrong(sub("show: \\[a\\]", "show: {b: {c: 1}}", base), "line 4", "a list of texts")
  wrong(c(base, "title: [1, 2]"), "line 5", "must be one text")
  wrong(c(base, "page:", "  - text: x"), "stands twice", "line 5")
  wrong(sub("rollup", "rolup", base), "line 4", "Did you mean \"rollup\"")
  wrong(c(base, "  - {}"), "line 5", "Each part of the page is one of")
  wrong(c(base, "\tx: 1"), "line")
  wrong(c(base, "only: !expr system('id')"), "line 5", "exclamation mark")
  wrong(c(base, "work_out: &a {x: 1}"), "line 5", "Anchors")
  wrong(c("a: &a [x]", "b: *a"), "Anchors")
  wrong(c(base, paste0("title: ", strrep("[", 10000), strrep("]", 10000))), "line 5")
  wrong(strrep("- ", 5000), "line 1")
  wrong(character(), "keys with values")
  wrong("just text", "line 1")
  expect_raised(build_report("nowhere.yml"), "standing", "no standing report")
})

test_that(
  "expressions are told with their line; a measure sees only those before it; paths stay in the folder", {
  expect_raised(built_text(small_report("  loop: loop + 1")), "standing", "line 7", "speaks of itself")
  expect_raised(built_text(small_report("work_out: {x: 'system(\"id\")'}")),
    "standing", "line 7", "cannot be used here")
  file <- small_report()
  writeLines(sub("file: orders.csv", "file: ../orders.csv", readLines(file)), file)
  expect_raised(build_report(file, out = tempfile()), "standing", "line 3", "leads out of the folder")
  linked <- small_report()
  orders <- file.path(dirname(linked), "orders.csv")
  elsewhere <- withr::local_tempfile(fileext = ".csv")
  file.rename(orders, elsewhere)
  skip_if_not(file.symlink(elsewhere, orders), "no links here")
  expect_raised(build_report(linked, out = tempfile()), "standing", "line 3", "leads out of the folder")
  expect_true(build_report(linked, out = tempfile(), outside = TRUE)$changed)
  later <- small_report()
  writeLines(sub("  sales: sum\\(amount\\)", "  sales: n * 2", readLines(later)), later)
  expect_raised(build_report(later, out = tempfile()), "standing", "speaks of \"n\", which comes after it")
})

test_that("orders whose columns changed are told: new, gone, renamed", {
  file <- small_report()
  lines <- readLines(file)
  writeLines(sub("date: 'on'}", "date: 'on', columns: ['on', gone, depo, amount]}",
    lines, fixed = TRUE), file)
  built <- build_report(file, out = tempfile(), formats = "txt", today = "2025-03-11")
  expect_match(paste(built$warnings, collapse = "; "),
    "columns renamed: depo to depot; columns gone: gone; columns new: status")
})

test_that("columns that changed since the build before are news; an error that comes of it tells them too", {
  file <- small_report()
  orders <- file.path(dirname(file), "orders.csv")
  out <- withr::local_tempdir()
  build <- function(...) build_report(file, out = out, formats = "txt", today = "2025-03-11", ...)
  expect_identical(build()$warnings, character())
  lines <- readLines(orders)
  writeLines(c(sub("status", "state", lines[1L]), lines[-1L]), orders)
  built <- build(strict = TRUE)
  expect_identical(built$warnings, "columns renamed: status to state since the build before")
  expect_true(built$tie_out)
  expect_identical(build()$warnings, character())
  writeLines(c(sub("amount", "value", lines[1L]), lines[-1L]), orders)
  expect_raised(build(), "standing", "no column \"amount\"", "columns renamed: amount to value",
    "since the build before")
})

test_that("what is saved builds the same figures: every kind of table, and a page of them", {
  folder <- yard_folder()
  orders <- read_orders(file.path(folder, "orders.csv"))
  customers <- read_orders(file.path(folder, "customers.csv"))
  book <- daybook(
    orders, ordered_on, list(fiscal = fiscal_calendar("July"),
      weeks = week_calendar("4-4-5", "last Saturday of January"))
  ) |>
    enrich(customers, "customer_id") |>
    work_out(net = amount - discount, size = banded(net, c(0, 100))) |>
    only(status != "cancelled", !is.na(region)) |>
    within_dates(latest(4, quarter)) |>
    as_of("2026-08-31")
  sales <- measures(sales = measure(sum(net), label = "Net", format = money(digits = 0, sign = TRUE)))
  parts <- list(
    A = rollup(book, c(depot, quarter), sales, ly = prior(sales, year),
      keep = list(depot = keep_top(3, sales)), totals = "all"),
    crosstab(only(book, paid), size, weeks$quarter, sales, totals = c(rows = "grand"),
      sort = largest_first(sales)),
    headlines(book, m = mtd(sum(net)), u = only(sum(net), !paid),
      against = list(u = share(sum(net))), history = quarter),
    "A text: with a colon",
    listing(within_dates(book, "2026-08-01", "2026-08-03"), c(month, depot),
      ordered_on, sales, per = order_id)
  )
  p <- report(!!!parts, title = "T: x", footnotes = "F", made = "2026-09-01")
  file <- file.path(folder, "saved.yml")
  as_standing(p, file)
  built <- build_report(file, out = file.path(folder, "out"), formats = "txt", today = "2026-09-01")
  expect_identical(readLines(built$files, encoding = "UTF-8"), format(p, width = 100L))
  for (x in parts[c(1L, 2L, 5L)]) {
    one <- file.path(folder, "one.yml")
    as_standing(x, one)
    again <- build_report(one, out = tempfile(), formats = "csv", today = "2026-09-01")
    ours <- tempfile(fileext = ".csv")
    write_report(x, ours)
    expect_identical(readLines(again$files), readLines(ours))
  }
  expect_raised(as_standing(rollup(book, depot, x = custom(length, net)), file), "standing", "R function")
  expect_raised(as_standing(rollup(daybook(few_orders(), on), depot, n = count()), file),
    "standing", "not read from a file")
})

test_that("mutated reports never crash, hang, evaluate, say nothing of where, or leave half a file", {
  report <- readLines(
    small_report(
      "parameters: {d: {kind: text, default: Skelby}}", "only: ['depot == {d}']",
      "sort_keys: {}", "expect: {sales: '> 0'}"
    )
  )
  folder <- withr::local_tempdir()
  utils::write.csv(few_orders(), file.path(folder, "orders.csv"), row.names = FALSE, na = "")
  file <- file.path(folder, "fuzz.yml")
  marker <- file.path(folder, "evaluated")
  pieces <- c(
    "{", "}", "[", "]", ":", "- ", "!", "&a", "*a", "'", "\"",
    "\t", "#", "|", ">", "%", "@", "`", "\\", ",", "0", "-1", "1e9", "null", "~",
    sprintf("file.create('%s')", marker), sprintf(
      "!expr file.create('%s')", marker
    ), "\u00e9", "sum(", "))", strrep("(", 300), "{d}", "{x}", "yes", "drystack: 2"
  )
  outcome <- character(trials(2000L))
  slowest <- 0
  withr::local_seed(77)
  for (i in seq_along(outcome)) {
    text <- report
    for (k in seq_len(sample(1:3, 1L))) {
      line <- sample(length(text), 1L)
      at <- sample(nchar(text[line]) + 1L, 1L)
      text <- switch(sample(5L, 1L),
        replace(text, line, paste0(substr(text[line], 1L, at - 1L),
          sample(pieces, 1L), substr(text[line], at, 1e6))),
        replace(text, line, paste0(substr(text[line], 1L, at - 1L),
          substr(text[line], at + sample(6L, 1L), 1e6))),
        if (length(text) > 1L) text[-line] else text,
        append(text, text[sample(length(text), 1L)], line),
        replace(text, line, paste0(strrep(" ", sample(0:6, 1L)), text[line]))
      )
    }
    writeLines(text, file)
    begun <- proc.time()[["elapsed"]]
    outcome[i] <- tryCatch(
      {
        build_report(file, out = file.path(folder, "out"), formats = "txt", today = "2025-03-11")
        "built"
      },
      drystack_error_standing = function(e) {
        if (grepl("line [0-9]+|does not hold", rlang::cnd_message(e))) "told" else rlang::cnd_message(e)
      },
      drystack_error = function(e) "told",
      error = function(e) paste("untyped:", conditionMessage(e))
    )
    slowest <- max(slowest, proc.time()[["elapsed"]] - begun)
  }
  expect_identical(setdiff(outcome, c("built", "told")), character())
  expect_gt(mean(outcome == "told"), 0.25)
  expect_gt(mean(outcome == "built"), 0.02)
  expect_lt(slowest, 5)
  expect_false(file.exists(marker))
  expect_in_set(list.files(file.path(folder, "out"), all.files = TRUE, no.. = TRUE),
    c("fuzz.txt", ".fuzz.built.json", ".fuzz.told"))
})

test_that("5,000 random expressions are figures or typed errors, and nothing outside the list is called", {
  book <- daybook(few_orders(), on)
  marker <- tempfile()
  words <- c(
    "sum", "count", "mean", "median", "distinct", "min", "last",
    "ytd", "prior", "running", "moving", "only", "share", "rank", "each", "growth",
    "regardless", "overall", "+", "-", "*", "/", "^", "<", "==",
    "round", "abs", "ifelse", "banded", "regroup", "system", "eval", "get", "file.create",
    "quote", "Recall", "do.call", "::"
  )
  leaf <- function() leaves[[sample.int(length(leaves), 1L)]]
  leaves <- list(
    quote(amount), quote(depot), quote(on), quote(sales), quote(nothing),
    1, -2, "Skelby", marker, TRUE, NA, quote(year), quote(day), NULL
  )
  grow <- function(depth) {
    if (depth == 0L || stats::runif(1L) < 0.2) {
      return(leaf())
    }
    as.call(c(as.name(sample(words, 1L)), lapply(seq_len(sample(0:3, 1L)), function(i) grow(depth - 1L))))
  }
  withr::local_seed(5)
  outcome <- vapply(seq_len(trials(5000L)), function(i) {
    expr <- grow(sample(1:4, 1L))
    tryCatch(
      {
        suppressWarnings(
          make_table(new_request(
            "rollup", rows = list(said("depot")),
            measures = list(sales = said(quote(sum(amount))), x = said(expr))
          ), book)
        )
        "figure"
      },
      drystack_error = function(e) "told",
      error = function(e) paste("untyped:", deparse(expr)[1L], conditionMessage(e))
    )
  }, "")
  expect_identical(utils::head(setdiff(outcome, c("figure", "told")), 5L), character())
  expect_gt(sum(outcome == "figure"), 0L)
  expect_false(file.exists(marker))
})

test_that("named conditions, labels, notes, paper, marks and sides are keys, and are saved again", {
  file <- small_report("labels: {depot: Yard}", "notes: brief", "orientation: landscape",
    "only: [{large ones: amount > 5}]")
  text <- built_text(file)
  expect_match(text, "large ones")
  expect_match(text, "Yard +Sales")
  expect_no_match(text, "order lines")
  book <- only(daybook(read_orders(harrowgill_path("orders.csv")), ordered_on),
    "not cancelled" = status != "cancelled") |>
    label_columns(depot = "Yard") |> as_of("2026-08-31") |> within_dates(latest(3, month))
  table <- rollup(book, by = axis(channel, label = "Way", total = "All ways"), sales = measure(sum(amount),
    bar = TRUE,
    history = month), g = measure(growth(sales, year), marks = c("falling" = g < 0)), totals = "grand")
  cross <- crosstab(book, rows = c(depot, channel), cols = month, sales = sum(amount), after = "blank")
  page <- report(title = "A page", "Two" = beside(table, figure(table, kind = "bars",
    axis_labels = c(y = "Pounds"))),
    cross, notes = "brief", paper = "letter", orientation = "landscape")
  saved <- withr::local_tempfile(fileext = ".yml")
  # Measures of one name must mean the same in all tables.
  expect_raised(as_standing(page, saved), "standing", "different measures")
  page <- report(title = "A page", "Two" = beside(table, figure(table, kind = "bars",
    axis_labels = c(y = "Pounds"))),
    notes = "brief", paper = "letter", orientation = "landscape")
  as_standing(page, saved)
  out <- withr::local_tempdir()
  built <- build_report(saved, out = out, formats = "html", outside = TRUE, today = as.Date("2026-09-01"))
  mine <- withr::local_tempfile(fileext = ".html")
  write_report(report(title = "A page", "Two" = beside("Two" = table, figure(table, kind = "bars",
    axis_labels = c(y = "Pounds"))), notes = "brief", paper = "letter", orientation = "landscape",
    made = "2026-09-01"), mine)
  plain <- function(path) gsub("base64,[^\"]*", "", readLines(path, encoding = "UTF-8"))
  body <- function(lines) lines[!grepl("<h[23]>Two</h[23]>", lines)]
  expect_identical(grep("class=\"(figure|bar|history|mark|facts)|<th", plain(built$files), value = TRUE),
    grep("class=\"(figure|bar|history|mark|facts)|<th", plain(mine), value = TRUE))
  expect_match(readLines(saved, n = 1L), "$schema=", fixed = TRUE)
  as_standing(cross, saved)
  expect_true(any(grepl("after: .*blank", readLines(saved))))
})

test_that("a parameter alone in braces needs no quotes, and a comma within braces is explained", {
  file <- small_report("parameters:", "  first: {kind: date, default: 2025-01-01}", "shown: {from: {first}}")
  expect_match(built_text(file), "1 January 2025 to 10 March 2025")
  expect_raised(built_text(small_report("expect: {fresh_within: prior(sales, year)}")), "standing")
  lines <- c("drystack: 1", "orders: {file: orders.csv, date: on}",
    "measures:", "  ly: {show: prior(sales, year), label: x}", "page: []")
  odd <- withr::local_tempfile(lines = lines, fileext = ".yml")
  expect_raised(build_report(odd), "standing", "in quotes")
})

test_that("a build tells when the orders end before the as-of date", {
  file <- small_report()
  built <- build_report(file, list(as_of = "2025-06-30"), withr::local_tempdir())
  expect_identical(built$told, "orders end on 10 March 2025, before the as-of date, 30 June 2025")
  expect_match(format(built), "orders end on 10 March 2025", all = FALSE)
  expect_identical(build_report(file, list(as_of = "2025-03-01"), withr::local_tempdir())$told, character())
})

test_that("a month is open, or a week where the calendar has no months", {
  file <- small_report("closing: {after: 3}", "calendars: {iso: iso}", "as_of: 2025-03-06")
  text <- built_text(file)
  expect_match(text, "2025-W10 is open: late orders may still come in; it closes on 12 March 2025")
  expect_match(built_text(small_report("closing: {after: 3}", "as_of: 2025-03-06")),
    "2025-03 Mar is open: late orders may still come in; it closes on 3 April 2025")
})
