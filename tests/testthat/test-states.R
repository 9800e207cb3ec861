# Kept states answer as the orders do, and are refreshed by what is new.

files_of_orders <- function(orders, folder, parts) {
  at <- (seq_len(nrow(orders)) - 1L) %/% ceiling(nrow(orders) / parts) + 1L
  for (i in unique(at)) {
    utils::write.csv(orders[at == i, , drop = FALSE], file.path(folder, sprintf("part%d.csv", i)),
      row.names = FALSE,
      na = "")
  }
  file.path(folder, "*.csv")
}

orders_of_a_day <- function(day) {
  data.frame(ordered_on = day, depot = c("Skelby", "Garrick", "Skelby"), amount = c(10, 20, 30))
}

asked_alike <- function(ask, a, b, name) {
  expect_equal(asked_of_book(ask, b), asked_of_book(ask, a), tolerance = 1e-12, info = name,
    ignore_attr = TRUE)
}

test_that("states answer what they can, and the orders all else", {
  folder <- withr::local_tempdir()
  yard <- harrowgill()
  here <- daybook(files_of_orders(yard$orders, folder, 3L), date = ordered_on)
  kept <- keep_states(here, file.path(folder, "kept"), by = c(depot, status, channel, customer_id), amount,
    amount - discount, quantity)
  there <- daybook(kept, date = ordered_on)
  asks <- c(larger_asks(yard), list(
    sums = function(k) {
      rollup(only(k, status != "cancelled"), by = c(depot, month), s = sum(amount),
        n = count(),
        m = mean(amount - discount), v = sd(quantity), x = max(amount), ly = prior(s, year), totals = "all")
    },
    lookup = function(k) {
      rollup(enrich(k, yard$customers, by = "customer_id"), by = c(kind, year),
        s = sum(amount))
    },
    each = function(k) rollup(k, by = depot, s = mean(each(customer_id, sum(amount)))),
    "worked out anew" = function(k) rollup(work_out(k, amount = quantity), by = depot, s = sum(amount))
  ))
  for (name in names(asks)) asked_alike(asks[[name]], here, there, name)
})

test_that("asks of what is kept do not open the orders", {
  folder <- withr::local_tempdir()
  path <- files_of_orders(harrowgill()$orders, folder, 2L)
  keep_states(daybook(path, date = ordered_on), file.path(folder, "kept"), by = c(depot, status), amount)
  book <- only(daybook(file.path(folder, "kept"), date = ordered_on), status != "cancelled")
  unlink(Sys.glob(path))
  x <- rollup(book, by = c(depot, quarter), s = sum(amount), y = ytd(s), totals = "all")
  expect_gt(length(x$figures$s), 50L)
  expect_raised(behind(x, row = 1L, measure = "s"), "file", "No file of orders")
})

test_that("random asks give the same tables from states", {
  answered <- 0L
  withr::local_preserve_seed()
  for (seed in seq_len(trials(100L))) {
    folder <- withr::local_tempdir()
    trial <- plain_trial(seed)
    utils::write.csv(trial$orders, file.path(folder, "orders.csv"), row.names = FALSE, na = "")
    book <- daybook(file.path(folder, "orders.csv"), date = on)
    kept <- keep_states(book, file.path(folder, "kept"), by = c(depot, channel, customer, paid), amount,
      quantity)
    whole <- asked_of_trial(trial$orders, trial)
    answered <- answered + is.list(whole)
    expect_equal(asked_of_trial(kept, trial), whole, tolerance = 1e-12, info = paste("seed", seed))
  }
  expect_gt(answered, trials(100L) / 2)
})

test_that("what is new, changed or gone is told and folded", {
  folder <- withr::local_tempdir()
  orders <- harrowgill()$orders
  path <- files_of_orders(orders, folder, 3L)
  at <- file.path(folder, "kept")
  keep_states(daybook(path, date = ordered_on), at, by = depot, amount)
  expect_identical(nrow(refresh(at)), 0L)
  unlink(file.path(folder, "part1.csv"))
  utils::write.csv(orders[1:10, ], file.path(folder, "part2.csv"), row.names = FALSE, na = "")
  utils::write.csv(orders[11:30, ], file.path(folder, "part9.csv"), row.names = FALSE, na = "")
  told <- refresh(at)
  expect_identical(told$part, c("part2.csv", "part9.csv", "part1.csv"))
  expect_identical(told$what, c("changed", "new", "gone"))
  expect_identical(told$lines, c(10, 20, -8097))
  # Parts of the list before stand until the next time, for who reads it now.
  refresh(at)
  expect_length(list.files(at, "[.]parquet$"), 3L)
  asked_alike(function(k) rollup(k, by = c(depot, month), s = sum(amount)), daybook(path, date = ordered_on),
    daybook(kept_states(at), date = ordered_on), "after")
})

test_that("of a database the lines past the last key are added", {
  folder <- withr::local_tempdir()
  orders <- harrowgill()$orders
  at <- file.path(folder, "shop.db")
  con <- DBI::dbConnect(RSQLite::SQLite(), at)
  withr::defer(DBI::dbDisconnect(con))
  put_in_sqlite(con, "orders", orders[1:20000, ])
  book <- function() daybook(orders_in(paste0("sqlite:", at), "orders"), date = ordered_on)
  kept <- file.path(folder, "kept")
  keep_states(book(), kept, by = c(depot, status), amount)
  plain <- lapply(orders[20001:24291, ], function(x) if (is.object(x)) as.character(x) else x)
  DBI::dbAppendTable(con, "orders", as.data.frame(plain))
  expect_identical(refresh(kept)$lines, 4291)
  expect_identical(nrow(refresh(kept)), 0L)
  asked_alike(function(k) {
    rollup(only(k, status != "cancelled"), by = c(depot, month), s = sum(amount),
      v = sd(amount),
      totals = "all")
  }, book(), daybook(kept_states(kept), date = ordered_on), "after")
})

test_that("orders of a database that are no longer as kept are told by refresh() and by every table", {
  folder <- withr::local_tempdir()
  at <- file.path(folder, "shop.db")
  con <- DBI::dbConnect(RSQLite::SQLite(), at)
  withr::defer(DBI::dbDisconnect(con))
  orders <- harrowgill()$orders[1:2000, ]
  orders$entered_on <- orders$ordered_on
  put_in_sqlite(con, "orders", orders)
  book <- function() daybook(orders_in(paste0("sqlite:", at), "orders"), date = ordered_on)
  kept <- file.path(folder, "kept")
  entered <- file.path(folder, "entered")
  fresh <- function() {
    keep_states(book(), kept, by = depot, amount)
    keep_states(book(), entered, by = depot, amount, entered = entered_on)
  }
  changes <- c(
    update = "UPDATE orders SET amount = amount + 1 WHERE ordered_on = (SELECT min(ordered_on) FROM orders)",
    delete = "DELETE FROM orders WHERE ordered_on = (SELECT min(ordered_on) FROM orders)",
    restamped = paste("UPDATE orders SET entered_on = '2026-01-01'",
      "WHERE ordered_on = (SELECT min(ordered_on) FROM orders)"),
    far = "INSERT INTO orders SELECT * FROM orders WHERE ordered_on = (SELECT min(ordered_on) FROM orders)"
  )
  for (change in names(changes)) {
    fresh()
    expect_identical(nrow(refresh(kept)), 0L)
    DBI::dbExecute(con, changes[[change]])
    for (states in c(kept, entered)) {
      told <- refresh(states)
      table <- rollup(daybook(kept_states(states), date = ordered_on), by = depot, s = sum(amount))
      whole <- rollup(book(), by = depot, s = sum(amount))
      said <- paste(format(table), collapse = " ")
      same <- isTRUE(all.equal(as.data.frame(table)$s, as.data.frame(whole)$s))
      expect_true(same || any(grepl("not as kept", told$what)), label = paste(change, basename(states)))
      expect_identical(grepl("has other orders than", said), any(grepl("not as kept", told$what)))
      expect_true(grepl("states as of", said) || !same)
      refresh(states, all = TRUE)
      table <- rollup(daybook(kept_states(states), date = ordered_on), by = depot, s = sum(amount))
      expect_equal(as.data.frame(table)$s, as.data.frame(whole)$s)
    }
  }
})

test_that("of a database without a key the lines entered since are added, those of the last day again", {
  folder <- withr::local_tempdir()
  withr::local_seed(4)
  orders <- harrowgill()$orders[1:3000, ]
  day <- as.Date("2026-03-01") + sort(sample(0:40, 3000L, TRUE))
  forms <- list(iso = format(day), time = paste(day, sprintf("%02d:30:00", sample(0:23, 3000L, TRUE))),
    days = as.numeric(day) + stats::runif(3000), serial = as.numeric(day) + 25569)
  for (form in names(forms)) {
    orders$entered_on <- forms[[form]]
    at <- file.path(folder, paste0(form, ".db"))
    con <- DBI::dbConnect(RSQLite::SQLite(), at)
    # Half of a day's lines come before a refresh, half after it.
    ends <- c(1800L, 1801L, 2500L, 2500L, 3000L)
    put_in_sqlite(con, "lines", orders[seq_len(ends[1L]), ])
    DBI::dbExecute(con, "CREATE VIEW orders AS SELECT * FROM lines")
    book <- function() daybook(orders_in(paste0("sqlite:", at), "orders"), date = ordered_on)
    kept <- file.path(folder, form)
    expect_raised(keep_states(book(), kept, by = depot, amount), "states", "one column of numbers")
    keep_states(book(), kept, by = c(depot, status), amount, entered = entered_on)
    for (i in 2:5) {
      more <- orders[seq_len(nrow(orders)) > ends[i - 1L] & seq_len(nrow(orders)) <= ends[i], ]
      plain <- lapply(more, function(x) if (is.object(x)) as.character(x) else x)
      if (nrow(more) > 0L) DBI::dbAppendTable(con, "lines", as.data.frame(plain))
      expect_identical(sum(refresh(kept)$lines), as.numeric(nrow(more)), info = paste(form, i))
      asked_alike(function(k) {
        rollup(k, by = c(depot, month), s = sum(amount), v = sd(amount), n = count(), totals = "all")
      }, book(), daybook(kept_states(kept), date = ordered_on), paste(form, i))
    }
    # A last day that is removed, and comes back.
    day <- if (is.numeric(orders$entered_on)) "CAST(%s AS INTEGER)" else "substr(%s, 1, 10)"
    last <- paste("WHERE", sprintf(day, "entered_on"), ">= (SELECT", sprintf(day, "max(entered_on)"),
      "FROM lines)")
    DBI::dbExecute(con, paste("CREATE TEMP TABLE aside AS SELECT * FROM lines", last))
    n <- DBI::dbExecute(con, paste("DELETE FROM lines", last))
    for (lines in list(-n, 0, n, 0)) {
      if (lines > 0) DBI::dbExecute(con, "INSERT INTO lines SELECT * FROM temp.aside")
      expect_equal(sum(refresh(kept)$lines), lines)
      asked_alike(function(k) rollup(k, by = c(depot, month), s = sum(amount), n = count()), book(),
        daybook(kept_states(kept), date = ordered_on), paste(form, "without", lines))
    }
    DBI::dbExecute(con, "UPDATE lines SET entered_on = NULL WHERE rowid IN (3, 5)")
    expect_raised(refresh(kept), "states", "2 lines have nothing there")
    DBI::dbExecute(con, "UPDATE lines SET entered_on = 'soon'")
    expect_raised(refresh(kept), "date", "holds no days")
    DBI::dbDisconnect(con)
  }
})

test_that("files are refreshed by themselves, and only a column that is there says when lines were entered", {
  folder <- withr::local_tempdir()
  book <- daybook(files_of_orders(harrowgill()$orders, folder, 2L), date = ordered_on)
  at <- file.path(folder, "kept")
  expect_raised(keep_states(book, at, by = depot, amount, entered = ordered_on), "argument", "are files")
  expect_raised(keep_states(book, at, by = depot, amount, entered = orderd_on), "column", "ordered_on")
})

test_that("states that are damaged, of another version or of no file are errors that say it", {
  folder <- withr::local_tempdir()
  path <- files_of_orders(harrowgill()$orders, folder, 2L)
  at <- file.path(folder, "kept")
  book <- daybook(path, date = ordered_on)
  expect_raised(kept_states(at), "states", "There are no states")
  plain <- data.frame(on = "2026-01-05", depot = "Skelby", v = 1)
  expect_raised(keep_states(daybook(plain, date = on), at, by = depot, v), "states", "in files")
  expect_raised(keep_states(book, at, by = c(depot, month), amount), "column", "\"month\" is none")
  expect_raised(keep_states(work_out(book, net = amount), at, by = depot, net), "column", "\"net\" is none")
  kept <- keep_states(book, at, by = depot, amount)
  expect_raised(daybook(kept, date = shipped_on), "date", "kept by the days of \"ordered_on\"")
  files <- list.files(at, "[.]parquet$", full.names = TRUE)
  file.copy(files[2L], files[1L], overwrite = TRUE)
  expect_raised(kept_states(at), "states", "are damaged")
  writeLines("{\"drystack\": 9}", file.path(at, "states.json"))
  expect_raised(kept_states(at), "states", "damaged, or of another version")
  expect_raised(refresh(at), "states", "damaged, or of another version")
})

test_that("columns of any name, files of one name and codes are held apart or refused", {
  folder <- withr::local_tempdir()
  for (yard in c("north", "south")) {
    dir.create(file.path(folder, yard))
    utils::write.csv(data.frame(on = c("2026-01-05", "2026-02-06"), n = c(7, 8), a1_sum = yard, v = c(1, 2)),
      file.path(folder, yard, "orders.csv"), row.names = FALSE)
  }
  book <- daybook(file.path(folder, "*", "orders.csv"), date = on)
  kept <- keep_states(book, file.path(folder, "kept"), by = c(n, a1_sum), v)
  there <- daybook(kept, date = on)
  asked_alike(function(k) rollup(k, by = c(n, a1_sum, month), s = sum(v), lines = count()), book, there,
    "names")
  utils::write.csv(data.frame(on = "2026-03-05", n = 9, a1_sum = "south", v = 5), file.path(folder, "south",
    "orders.csv"),
    row.names = FALSE)
  stale <- rollup(daybook(kept_states(file.path(folder, "kept")), date = on), by = year, s = sum(v))
  expect_match(all_notes(stale), "have changed since their states were kept", all = FALSE)
  expect_identical(refresh(file.path(folder, "kept"))$lines, 1)
  asked_alike(function(k) rollup(k, by = c(n, month), s = sum(v)), daybook(file.path(folder, "*",
    "orders.csv"), date = on),
    daybook(kept_states(file.path(folder, "kept")), date = on), "after")
  expect_raised(keep_states(book, file.path(folder, "north"), by = n, v), "states", "folder of their own")
  lines <- keep_states(book, file.path(folder, "lines"), by = NULL)
  expect_identical(rollup(daybook(lines, date = on), by = year, lines = count())$figures$lines, 3)
})

test_that("a refresh that is killed leaves the states before", {
  skip_on_os("windows")
  folder <- withr::local_tempdir()
  path <- files_of_orders(harrowgill()$orders, folder, 2L)
  at <- file.path(folder, "kept")
  keep_states(daybook(path, date = ordered_on), at, by = c(depot, customer_id), amount)
  utils::write.csv(harrowgill()$orders, file.path(folder, "part3.csv"), row.names = FALSE, na = "")
  for (after in c(0.02, 0.05, 0.1, 0.15, 0.2)) {
    job <- parallel::mcparallel(refresh(at))
    Sys.sleep(after)
    tools::pskill(job$pid, tools::SIGKILL)
    suppressWarnings(parallel::mccollect(job))
    expect_true(sum(unclass(kept_states(at))[[1L]]$rows$n) %in% c(24291, 2 * 24291))
  }
  refresh(at)
  expect_identical(sum(unclass(kept_states(at))[[1L]]$rows$n), 2 * 24291)
  expect_length(list.files(at, "[.]parquet$"), 3L)
})

test_that("a command keeps states, asks them and refreshes them", {
  folder <- yard_folder()
  at <- file.path(folder, "states")
  path <- file.path(folder, "orders.csv")
  kept <- drystack("keep", "--orders", path, "--date", "ordered_on", "--by", "depot,status", "--amount",
    "amount", "--out", at)
  expect_identical(kept$status, 0L)
  asked <- function(orders) {
    drystack("rollup", "--orders", orders, "--date", "ordered_on", "--by", "depot,year", "--show",
      "s = sum(amount)")$out
  }
  expect_identical(asked(at), asked(path))
  expect_identical(drystack("keep", "--refresh", at)$out, "nothing is new")
  cat(readLines(path, 2L)[2L], "\n", file = path, append = TRUE, sep = "")
  expect_identical(drystack("keep", "--refresh", at)$out, "changed: orders.csv, 24,292 lines")
  expect_match(drystack("keep", "--refresh", folder)$err, "There are no states")
  expect_match(drystack("keep", "--orders", path)$err, "--date is missing")
  shop <- file.path(folder, "shop.db")
  con <- DBI::dbConnect(RSQLite::SQLite(), shop)
  withr::defer(DBI::dbDisconnect(con))
  put_in_sqlite(con, "lines", cbind(orders_of_a_day("2026-03-01"), entered_on = "2026-03-01"))
  DBI::dbExecute(con, "CREATE VIEW orders AS SELECT * FROM lines")
  of_database <- c("keep", "--orders", paste0("sqlite:", shop), "--table", "orders", "--date", "ordered_on",
    "--by", "depot", "--amount", "amount", "--out", file.path(folder, "entered"))
  expect_match(drystack(of_database)$err, "name the day lines were entered")
  expect_identical(drystack(c(of_database, "--entered", "entered_on"))$status, 0L)
  DBI::dbExecute(con, "INSERT INTO lines SELECT * FROM lines LIMIT 2")
  expect_identical(drystack("keep", "--refresh", file.path(folder, "entered"))$out,
    "new: entered from 2026-03-01 on, 2 lines")
})

test_that("of dates with times states know the days alone: hours are asked of the orders", {
  folder <- withr::local_tempdir()
  withr::local_seed(1)
  orders <- data.frame(at = as.POSIXct("2026-01-01 00:30", tz = "UTC") + sample(1e6, 200),
    depot = sample(c("Skelby", "Garrick"), 200, TRUE), amount = round(stats::runif(200, 1, 9), 2))
  file <- file.path(folder, "orders.parquet")
  nanoparquet::write_parquet(orders, file)
  here <- daybook(file, date = at)
  there <- daybook(keep_states(here, file.path(folder, "kept"), by = depot, amount), date = at)
  asks <- list(
    hours = function(k) rollup(k, by = hour_of_day, s = sum(amount)),
    morning = function(k) rollup(only(k, hour_of_day(at) < 12), by = depot, s = sum(amount)),
    days = function(k) rollup(k, by = day, s = sum(amount))
  )
  for (name in names(asks)) asked_alike(asks[[name]], here, there, name)
})

# States of the first order lines, in a folder beside their files.
states_of_first <- function(lines, parts, folder) {
  path <- files_of_orders(harrowgill()$orders[seq_len(lines), ], folder, parts)
  at <- file.path(folder, "kept")
  keep_states(daybook(path, date = ordered_on), at, by = depot, amount)
  at
}

test_that("several that refresh at once, some of them killed, leave states that are whole and right", {
  skip_on_os("windows")
  folder <- withr::local_tempdir()
  at <- states_of_first(2000L, 2L, folder)
  for (round in 1:4) {
    utils::write.csv(harrowgill()$orders[2000L + round * 100L + 1:100, ],
      file.path(folder, paste0("part", round + 2L, ".csv")), row.names = FALSE, na = "")
    jobs <- lapply(1:3, function(i) parallel::mcparallel(refresh(at)))
    if (round %% 2L == 0L) tools::pskill(jobs[[1L]]$pid, tools::SIGKILL)
    expect_s3_class(kept_states(at), "drystack_kept_states")
    suppressWarnings(parallel::mccollect(jobs))
    refresh(at)
    expect_identical(sum(unclass(kept_states(at))[[1L]]$rows$n), 2000 + round * 100)
  }
})

test_that("what was said when orders were read is said of their states, of the files that it is of", {
  folder <- withr::local_tempdir()
  put <- function(name, ...) {
    writeLines(c("on;who;amount", ...), file.path(folder, name))
    file.path(folder, name)
  }
  at <- file.path(folder, "kept")
  told <- function(book) all_notes(rollup(book, by = who, s = sum(amount)))
  one <- put("one.csv", "31/01/2026;a;1.234,50", "31-Dec-25;b;1,00", "30/01/2026;a;n/a", "Total;;1.235,50")
  keep_states(daybook(one, date = on), at, by = who, amount)
  kept <- told(daybook(kept_states(at), date = on))
  expect_match(kept, "1 totals line left out.*taken as no date", all = FALSE)
  expect_identical(kept, told(daybook(one, date = on)))
  several <- file.path(folder, "of-month-*.csv")
  put("of-month-1.csv", "31/01/2026;a;1.234,50")
  keep_states(daybook(several, date = on), at, by = who, amount)
  put("of-month-2.csv", "31/03/2026;a;5,50", "30/03/2026;a;1,00", "31-Mar-26;b;1,00")
  refresh(at)
  kept <- told(daybook(kept_states(at), date = on))
  expect_match(kept, "31-Mar-26.*no date \\(of-month-2.csv\\)", all = FALSE)
})

test_that("one that waits too long for another gives up, and says so", {
  skip_on_os("windows")
  at <- states_of_first(100L, 1L, withr::local_tempdir())
  lock <- kernel_lock_file(file.path(at, ".lock"))
  withr::with_options(list(drystack.states_patience = 0L),
    expect_raised(refresh(at), "states", "Another process"))
  kernel_give_back_lock(lock)
  expect_identical(nrow(refresh(at)), 0L)
})

test_that("parts that are damaged are folded anew, and told", {
  folder <- withr::local_tempdir()
  path <- files_of_orders(harrowgill()$orders[1:1000, ], folder, 2L)
  at <- file.path(folder, "kept")
  keep_states(daybook(path, date = ordered_on), at, by = depot, amount)
  writeLines("junk", list.files(at, "[.]parquet$", full.names = TRUE)[1L])
  expect_raised(kept_states(at), "states", "damaged", "refresh")
  expect_identical(refresh(at)$what, "damaged, folded anew")
  expect_identical(sum(unclass(kept_states(at))[[1L]]$rows$n), 1000)
})
