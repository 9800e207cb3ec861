# What can be said on one surface can be said on all: the table of fields against the schema of
# reports, the options of commands and the functions of R; and random documents give one table as a
# command, a report and R.

# What options say otherwise, or what only a page has.
without_option <- c(
  "orders: files, database", # as its orders: FILE is either
  "orders: keep",            # a command reads no column that it does not speak of
  "orders: columns",         # what a report was made with
  "block: since, label, only, shown" # a table of a command has those of the command
)

test_that("every field is an option, but for those whose reason stands here", {
  parts <- c("orders", "book", "shown", "closing", "as_known", "trading", "block")
  none <- lapply(stats::setNames(nm = parts), function(part) {
    fields <- Filter(function(field) field$of == part && is.na(field$option), document_fields())
    vapply(fields, `[[`, "", "name")
  })
  none <- Filter(length, none)
  none$orders <- list(none$orders[1:2], none$orders[3L], none$orders[4L])
  said <- unlist(Map(function(part, names) {
    if (is.list(names)) paste0(part, ": ", vapply(names, paste, "", collapse = ", "))
    else paste0(part, ": ", paste(names, collapse = ", "))
  }, names(none), none), use.names = FALSE)
  expect_setequal(said, without_option)
  options <- lapply(stats::setNames(nm = c(table_names, "figure")), function(kind) {
    vapply(command_options()[[kind]], `[[`, "", "name")
  })
  for (field in Filter(function(field) !is.na(field$option), document_fields())) {
    kinds <- if (field$of == "block") intersect(field$kinds, names(options)) else names(options)
    for (kind in kinds) expect_true(field$option %in% options[[kind]], label = paste(kind, field$option))
  }
})

test_that("every argument in R that says what a table is, is a field", {
  doors <- list(read_orders = c("path"), orders_in = c("con", "user", "password"), daybook = character(),
    within_dates = c("book", "..."), closing = "book", trading = "calendar",
    rollup = c("book", "..."), crosstab = c("book", "..."), listing = c("book", "...", "most"),
    headlines = c("book", "..."))
  told <- vapply(document_fields(), `[[`, "", "r")
  named <- function(argument) any(grepl(paste0("(", argument, " = )"), told, fixed = TRUE)) ||
    any(grepl(paste0("(", argument, "())"), told, fixed = TRUE))
  for (door in names(doors)) {
    for (argument in setdiff(names(formals(door)), doors[[door]])) {
      expect_true(named(argument), label = paste0(door, "(", argument, ")"))
    }
  }
})

test_that("the manual's tables of fields are those of the code", {
  root <- source_root()
  tables <- new.env(parent = asNamespace("drystack"))
  sys.source(file.path(root, "tools", "surfaces.R"), tables)
  expect_identical(readLines(file.path(root, "docs", "surfaces.md")), tables$surface_lines())
})

# A document drawn at random: each key is there or not.
drawn_document <- function(seed, folder) {
  withr::with_seed(seed, {
    maybe <- function(value, share = 0.35) if (stats::runif(1L) < share) value
    one <- function(...) sample(list(...), 1L)[[1L]]
    said <- list(
      orders = list(file = "orders.csv", date = "on", missing = maybe(list("tbc", "?")),
        types = maybe(list(code = "text")), undated = maybe("never", 0.9),
        rename = maybe(list(yard = "depot")),
        currency = maybe(one("money", "none", "none"), 0.5)),
      lookups = maybe(list(one(list(file = "depots.csv", by = "code", key = "id"),
        list(file = "depots.csv", by = "code", key = "id", prefix = "d_"))), 1),
      calendars = one(list(civil = "civil"), list(fiscal = "fiscal:July", civil = "civil"),
        list(week = "week:4-4-5:last Saturday of January"), list(iso = "iso")),
      week_begins = maybe("Sunday"), language = maybe("de"),
      trading = maybe(list(closed = list("Sunday"), holidays = list("2026-01-01", "2026-05-01"))),
      as_of = maybe(one("2026-05-10", "last month end")), covered_to = maybe("2026-12-31"),
      work_out = maybe(list(double = "amount * 2", "big one" = "amount > 50"), 1),
      only = maybe(one(list("amount > -5"), list(list("without small ones" = "amount > 3")))),
      closing = maybe(one(list(after = 14L), list(on = 10L))),
      as_known = maybe(list(entered_on = "entered", day = one("2026-04-20", "last month end")), 0.25),
      labels = maybe(list(code = "Yard code"))
    )
    period <- if ("iso" %in% names(said$calendars)) one("week", "year") else one("month", "year", "week")
    said$shown <- maybe(one(list(from = "2026-02-01"), list(from = "2026-02-01", to = "2026-04-30"),
      list(latest = paste("3", period), complete = TRUE)))
    extent <- if (is.null(said$lookups[[1L]]$prefix)) "area" else "d_area"
    said$sort_keys <- maybe(stats::setNames(list(sub("area", "place", extent)), extent))
    show <- list("s = sum(double)", one("n = count()", "y = ytd(s)", "p = prior(s, year)",
      "days = measure(mean(each(day, s, days = \"trading\")), label = \"A day\")"))
    block <- switch(kind <- sample(table_names, 1L),
      rollup = list(by = list(period, extent), show = show, totals = maybe("all"),
        totals_at = maybe("start"), members = maybe("seen"), keep = maybe(one("keep_top(1, s)",
          "keep_where(s > 20, others = \"Rest\")", "keep_where(n >= 2 & s > 0)")),
        sort = maybe("largest_first(s)"), zeros = maybe("blank")),
      crosstab = list(rows = list(extent), cols = list(period), show = show,
        totals = maybe(one("grand", list(rows = "all", cols = "none"))), measures_at = maybe("rows"),
        sort = maybe(stats::setNames(list("smallest_first(s)"), extent))),
      listing = list(groups = list(extent), lines = list("on", "`big one`", "amount"), show = show[1L],
        totals = maybe("grand"), layout = maybe("indented"), number = maybe(TRUE), after = maybe("blank")),
      headlines = list(show = show, against = maybe(one("year", list(s = "quarter"))),
        history = maybe("none"))
    )
    if (kind == "headlines" && "iso" %in% names(said$calendars)) block$history <- "week"
    some <- function(x) Filter(Negate(is.null), x)
    said$orders <- some(said$orders)
    said$page <- list(stats::setNames(list(some(block)), kind))
    some(said)
  })
}

yard_files <- function(folder) {
  withr::with_seed(1, {
    n <- 300L
    orders <- data.frame(on = format(as.Date("2025-01-01") + sample.int(520L, n, TRUE)),
      code = sample(c("007", "12", "?"), n, TRUE), depot = sample(c("Skelby", "Moor"), n, TRUE),
      money = sample(c("GBP", "EUR"), n, TRUE, prob = c(9, 1)), amount = round(stats::runif(n, -10, 90), 2))
  })
  orders$entered <- format(as.Date(orders$on) + rep(0:9, length.out = nrow(orders)))
  orders$on[1:2] <- "never"
  utils::write.csv(orders, file.path(folder, "orders.csv"), row.names = FALSE, quote = FALSE)
  writeLines(c("id,area,place", "007,North,2", "12,Vale,1"), file.path(folder, "depots.csv"))
}

answered <- function(code) {
  rlang::try_fetch(code, drystack_error = function(e) {
    message <- paste(rlang::cnd_header(e))
    sub("^[^ ]+[.]yml, line [0-9]+: ", "", message)
  })
}

test_that("a random document gives one table as a command, as a report and in R", {
  folder <- withr::local_tempdir()
  yard_files(folder)
  withr::local_dir(folder)
  tables <- 0L
  for (seed in seq_len(trials(300L))) {
    said <- drawn_document(seed)
    kind <- names(said$page[[1L]])
    # As a report.
    writeLines(yaml_text(c(list(drystack = 1L), said)), "r.yml")
    report <- answered({
      build_report("r.yml", out = folder, formats = "csv")
      readLines("r.csv")
    })
    unlink("r.csv")
    # As a command, by the options that say it.
    words <- unlist(lapply(options_of_document(said, kind), function(one) {
      if (length(one$texts) == 0L) paste0("--", one$option) else rbind(paste0("--", one$option), one$texts)
    }))
    read <- document_of_options(read_options(words, table_options(kind), kind), kind)
    expect_identical(options_of_document(read$said, kind), options_of_document(said, kind), label = seed)
    answer <- drystack(kind, words, "--out", "c.csv")
    command <- if (answer$status == 0L) readLines("c.csv") else answer$err
    # As R, by the text that the table becomes.
    if (answer$status == 0L) {
      tables <- tables + 1L
      expect_identical(command, report, label = paste("seed", seed))
      table <- document_table(read)
      lines <- r_of_document(document_of(table, folder, NULL, NULL), names(table_book(table)$columns))
      env <- new.env(parent = asNamespace("drystack"))
      there <- eval(parse(text = lines, keep.source = FALSE), env)
      write_report(there, "there.csv")
      expect_identical(readLines("there.csv"), report, label = paste("seed", seed, "in R"))
    } else {
      expect_length(report, 1L)
    }
  }
  expect_gt(tables, trials(300L) * 0.4)
})
