# The same asks of the same orders in memory, in PostgreSQL, in its words and in
# those of the SQL standard alone, and over a cluster of three servers.

test_that("random asks give the same tables on servers", {
  con <- postgresql()
  answered <- 0L
  withr::local_preserve_seed()
  for (seed in seq_len(trials(300L))) {
    trial <- plain_trial(seed)
    whole <- asked_of_trial(trial$orders, trial)
    answered <- answered + is.list(whole)
    put_in_postgresql(con, "orders", trial$orders)
    put_in_cluster("orders", trial$orders)
    there <- list(postgresql = orders_in(con, "orders"), standard = orders_in(of_no_dialect(con), "orders",
      key = "line_no"), cluster = orders_in(cluster_at(), "orders", key = "line_no"))
    for (name in names(there)) {
      got <- asked_of_trial(there[[name]], trial)
      expect_equal(got, whole, tolerance = 1e-12, info = paste(name, "of seed", seed, latest_refusal$words))
    }
  }
  expect_gt(answered, trials(300L) / 2)
})

test_that("a lookup on the same server is joined there and answers as a data frame does", {
  con <- postgresql()
  put_in_postgresql(con, "looked_orders", lookup_orders())
  put_in_postgresql(con, "looked_customers", lookup_customers())
  put_in_cluster("looked_orders", lookup_orders())
  here <- enrich(daybook(lookup_orders(), date = ordered_on), lookup_customers(), by = "customer",
    name = "them")
  there <- function(con, key = "line_no") {
    customers <- if (is.character(con)) lookup_customers() else orders_in(con,
      query = "SELECT customer, kind, rate, \"limit\", since FROM looked_customers")
    enrich(daybook(orders_in(con, "looked_orders", key = key), date = ordered_on), customers, by = "customer",
      name = "them")
  }
  books <- list(postgresql = there(con), standard = there(of_no_dialect(con)), cluster = there(cluster_at()))
  for (name in names(looked_up_asks)) {
    for (server in names(books)) {
      got <- looked_up_asks[[name]](books[[server]])
      expect_equal(as.data.frame(got), as.data.frame(looked_up_asks[[name]](here)), tolerance = 1e-12,
        info = paste(name, "of", server))
    }
  }
})

test_that("larger asks of servers answer as those of orders in memory, decimals to the last digit", {
  yard <- harrowgill()
  here <- daybook(numbered(yard$orders), date = ordered_on)
  con <- postgresql()
  put_in_postgresql(con, "yard", yard$orders, c(amount = "numeric(12,2)"))
  put_in_cluster("yard", yard$orders, list(amount = "Nullable(Decimal(12, 2))"))
  there <- list(
    postgresql = daybook(orders_in(con, "public.yard"), date = ordered_on),
    cluster = daybook(orders_in(cluster_at(), "yard", key = "line_no"), date = ordered_on)
  )
  asks <- larger_asks(yard)
  for (name in names(asks)) {
    for (server in names(there)) {
      expect_equal(asked_of_book(asks[[name]], there[[server]]), asked_of_book(asks[[name]], here),
        tolerance = 1e-12,
        info = paste(name, "of", server), ignore_attr = TRUE)
    }
  }
  exact <- function(book) {
    rollup(book, by = c(depot, month), s = sum(amount), q = sum(quantity), y = ytd(s),
      totals = "all")
  }
  for (server in names(there)) {
    expect_identical(as.data.frame(exact(there[[server]])), as.data.frame(exact(here)), info = server)
  }
})

test_that("letters of texts are the same on servers as here", {
  con <- postgresql()
  orders <- transform(letters_orders(), on = as.Date(on))
  put_in_postgresql(con, "letters_of", orders)
  put_in_cluster("letters_of", orders)
  here <- daybook(orders, date = on)
  there <- list(postgresql = daybook(orders_in(con, "letters_of"), date = on),
    standard = daybook(orders_in(of_no_dialect(con), "letters_of", key = "line_no"), date = on),
    cluster = daybook(orders_in(cluster_at(), "letters_of", key = "line_no"), date = on))
  for (server in names(there)) {
    for (condition in as.list(letters_asked)) {
      asked <- function(k) plain(rollup(only(k, !!condition), t, s = sum(v)))
      expect_identical(asked(there[[server]]), asked(here), info = paste(server, deparse(condition)))
    }
    asked <- function(k) plain(rollup(work_out(k, w = substr(t, 2, 3)), w, s = sum(v)))
    expect_identical(asked(there[[server]]), asked(here), info = server)
  }
})

test_that("date-times of PostgreSQL count on the day of the zone that is said", {
  con <- postgresql()
  DBI::dbExecute(con, "DROP TABLE IF EXISTS times")
  DBI::dbExecute(con, "CREATE TABLE times (at timestamptz, plain timestamp, v int)")
  DBI::dbExecute(con, "INSERT INTO times VALUES ('2026-01-31 23:30:00+00', '2026-01-31 23:30:00', 1)")
  months <- function(...) {
    format(rollup(daybook(orders_in(con, "times", ...), date = at), by = month,
      s = sum(v))$axes$month)
  }
  expect_identical(months(), "2026-01 Jan")
  expect_identical(months(zone = "Europe/Paris"), "2026-02 Feb")
  book <- daybook(orders_in(con, "times", zone = "Europe/Paris"), date = at)
  x <- rollup(book, by = hour_of_day, s = sum(v))
  expect_identical(x$figures$s[as.character(x$axes$hour_of_day) == "00"], 1)
  expect_match(all_notes(x), "days of Europe/Paris", all = FALSE)
  expect_identical(rollup(only(book, plain < "2026-02-01"), by = year, s = sum(v))$figures$s, 1)
})

test_that("what PostgreSQL holds that is odd is unknown, exact or told", {
  con <- postgresql()
  DBI::dbExecute(con, "DROP TABLE IF EXISTS odd")
  DBI::dbExecute(con, "CREATE TABLE odd (d text, n numeric, f float8, b bigint, j json)")
  DBI::dbExecute(con, "INSERT INTO odd VALUES ('2026-01-05', 0.10001, 'NaN', 9007199254740993, '{}'),
    ('2026-01-06', 'NaN', 'Infinity', 1, '{}'), ('', 12345678901234.5678, 2, 2, NULL), ('2026-01-06', 0.2, 1,
      3, NULL)")
  book <- daybook(orders_in(con, "odd"), date = d)
  x <- rollup(book, by = year, n = sum(n), f = sum(f), big = sum(as_amount(b)))
  expect_identical(x$figures, list(n = 0.30001, f = 1, big = 9007199254740997))
  expect_match(all_notes(x), "N is unknown on 1 line", all = FALSE)
  expect_raised(rollup(book, by = j, n = count()), "column", "cannot be read", "json")
  expect_raised(orders_in(con, "odds"), "database", "Did you mean \"odd\"")
})

test_that("infinite days are lines without a date, and arrays are refused by name", {
  con <- postgresql()
  DBI::dbExecute(con, "DROP TABLE IF EXISTS endless")
  DBI::dbExecute(con, "CREATE TABLE endless
    (on_day date, at timestamp, zoned timestamptz, n int, tags text[], sizes int[])")
  DBI::dbExecute(con, "INSERT INTO endless VALUES
    ('2026-01-05', '2026-01-05 10:00', '2026-01-05 10:00Z', 1, '{a,b}', '{1}'),
    ('infinity', 'infinity', 'infinity', 2, NULL, NULL),
    ('-infinity', '-infinity', '-infinity', 4, NULL, NULL)")
  for (date in c("on_day", "at", "zoned")) {
    book <- daybook(orders_in(con, "endless"), date = !!rlang::sym(date))
    x <- rollup(book, by = month, s = sum(n))
    expect_identical(x$figures$s, 1, info = date)
    expect_match(all_notes(x), "2 lines without a date", all = FALSE, info = date)
    expect_identical(as.character(as.data.frame(listing(book, on_day, n))$on_day[1L]), "2026-01-05",
      info = date)
  }
  expect_raised(rollup(book, by = tags, s = sum(n)), "column", "cannot be read", "an array, text[]",
    "in a query")
  expect_raised(rollup(book, s = sum(sizes)), "column", "cannot be read", "an array, integer[]")
})

# put_in: a function that puts order lines into a table; open: one that opens them as a daybook
expect_refreshed_by_entry <- function(orders, put_in, open, forms) {
  folder <- withr::local_tempdir()
  ask <- function(book) rollup(book, by = c(depot, month), s = sum(amount), v = sd(amount), n = count())
  for (n in c(1000L, 1001L, 2400L)) {
    put_in(orders[seq_len(n), ])
    for (form in forms) {
      kept <- file.path(folder, form)
      if (n == 1000L) keep_states(open(), kept, by = depot, amount, entered = !!rlang::sym(form))
        else refresh(kept)
      expect_equal(asked_of_book(ask, daybook(kept_states(kept), date = ordered_on)),
        asked_of_book(ask, open()), tolerance = 1e-12, ignore_attr = TRUE, info = paste(form, n))
    }
  }
}

test_that("lines entered since are added to kept states, whatever form the day they were entered has", {
  orders <- harrowgill()$orders[1:2400, ]
  withr::local_seed(7)
  entered <- as.POSIXct("2026-03-01", tz = "UTC") + sort(stats::runif(2400L, 0, 20 * 86400))
  orders$entered_on <- as.Date(entered)
  orders$entered_at <- format(entered, "%Y-%m-%d %H:%M:%S")
  orders$of_zone <- orders$entered_at
  expect_refreshed_by_entry(orders, function(rows) {
    put_in_cluster("entries", rows, list(entered_at = "DateTime"))
  }, function() {
    daybook(orders_in(cluster_at(), "entries", zone = "Europe/Paris"), date = ordered_on)
  }, c("entered_on", "entered_at"))
  con <- postgresql()
  withr::local_envvar(DRYSTACK_USER = "postgres")
  at <- paste0("postgresql://", server_at(), "/postgres")
  expect_refreshed_by_entry(orders, function(rows) {
    put_in_postgresql(con, "entries", rows, c(entered_on = "date", entered_at = "timestamp",
      of_zone = "timestamptz"))
    DBI::dbExecute(con, "ALTER TABLE entries DROP COLUMN line_no")
  }, function() {
    daybook(orders_in(at, "entries", zone = "Europe/Paris"), date = ordered_on)
  }, c("entered_on", "entered_at", "of_zone"))
})

test_that("a cluster reads days in text before 1970, and lookups of many rows", {
  n <- 30000L
  orders <- data.frame(d = as.character(as.Date("1969-11-01") + seq_len(n) %% 120L),
    customer = paste0("c", seq_len(n)), v = seq_len(n) %% 100L)
  towns <- data.frame(customer = orders$customer, town = c("Skelby", "Garrick")[seq_len(n) %% 2L + 1L])
  put_in_cluster("early", orders)
  ask <- function(book) rollup(enrich(book, towns, by = "customer"), by = c(town, month), s = sum(v))
  expect_identical(as.data.frame(ask(daybook(orders_in(cluster_at(), "early"), date = d))),
    as.data.frame(ask(daybook(orders, date = d))))
})

test_that("a server that is not there, or goes away, is an error that says it", {
  expect_raised(orders_in("postgresql://127.0.0.1:1/x", "t"), "database", "cannot be reached")
  con <- postgresql()
  put_in_postgresql(con, "yard", harrowgill()$orders)
  book <- daybook(orders_in(con, "yard"), date = ordered_on)
  pid <- DBI::dbGetQuery(con, "SELECT pg_backend_pid() AS pid")$pid
  DBI::dbExecute(postgresql(), paste0("SELECT pg_terminate_backend(", pid, ")"))
  expect_raised(rollup(book, by = year, s = sum(amount)), "database", "could not answer")
  expect_raised(orders_in(cluster_at(), "nowhere"), "database", "There is no table")
})

test_that("user and password come from arguments or the environment, and are never shown", {
  put_in_cluster("yard", harrowgill()$orders)
  open <- function(...) orders_in(cluster_at(), "yard", ...)
  expect_true("amount" %in% names(open(user = "reader", password = "quarry")))
  error <- tryCatch(open(user = "reader", password = "wrong-word"), error = identity)
  expect_s3_class(error, "drystack_error_database")
  expect_no_match(conditionMessage(error), "wrong-word")
  withr::local_envvar(DRYSTACK_USER = "reader", DRYSTACK_PASSWORD = "quarry")
  expect_true("amount" %in% names(open()))
})

test_that("each server of a cluster adds up its part, and states cross the wire, no lines", {
  n <- 1e6L
  to_shard(shard_ports()[1L], "DROP TABLE IF EXISTS million")
  for (port in shard_ports()) {
    to_shard(port, "DROP TABLE IF EXISTS million_part")
    to_shard(port, paste("CREATE TABLE million_part (d Date, depot String, amount Decimal(12, 2))",
      "ENGINE = MergeTree() ORDER BY d PARTITION BY toYear(d)"))
    to_shard(port, paste0("INSERT INTO million_part SELECT toDate('2024-01-01') + number % 900, ",
      "arrayElement(['Skelby', 'Garrick', 'Thornmoor'], 1 + number % 3), toDecimal64(number % 1000, 2) FROM ",
      "system.numbers LIMIT ", n %/% 3L))
  }
  to_shard(shard_ports()[1L], paste("CREATE TABLE million (d Date, depot String, amount Decimal(12, 2))",
    "ENGINE = Distributed(yard, default, million_part)"))
  book <- daybook(orders_in(cluster_at(), "million"), date = d)
  expect_identical(book$rows, 3 * (n %/% 3L))
  x <- rollup(book, by = c(depot, month), s = sum(amount))
  line <- seq_len(n %/% 3L) - 1
  expect_identical(sum(x$figures$s), 3 * sum(line %% 1000))
  # The first server works its own part out with the query; the others log what they were asked.
  for (port in shard_ports()[-1L]) {
    to_shard(port, "SYSTEM FLUSH LOGS")
    logged <- to_shard(port, paste("SELECT max(read_rows), argMax(result_rows, read_rows) FROM",
      "system.query_log WHERE type = 2 AND is_initial_query = 0 AND query LIKE '%sum(%million_part%'"))
    counts <- as.numeric(strsplit(trimws(logged), "\t")[[1L]])
    expect_identical(counts[1L], n %/% 3L + 0)
    expect_lt(counts[2L], 200)
  }
})

test_that("a query of PostgreSQL that is named by text may only read, and ours still make their tables", {
  con <- postgresql()
  put_in_postgresql(con, "yard", harrowgill()$orders[1:200, ])
  DBI::dbExecute(con, "CREATE SEQUENCE IF NOT EXISTS counted")
  at <- paste0("postgresql://", Sys.getenv("DRYSTACK_TEST_POSTGRESQL"), "/postgres")
  withr::local_envvar(DRYSTACK_USER = "postgres")
  for (query in c("SELECT y.*, nextval('counted') AS n FROM yard y",
    paste("SELECT y.*, set_config('default_transaction_read_only', 'off', false) AS s,",
      "nextval('counted') AS n FROM yard y"))) {
    for (again in 1:2) expect_error(
      plain(rollup(daybook(orders_in(at, query = query), ordered_on), n = sum(n))),
      class = "drystack_error_database")
  }
  expect_identical(as.numeric(DBI::dbGetQuery(con,
    "SELECT last_value AS v FROM counted WHERE is_called")$v), numeric())
  book <- work_out(daybook(orders_in(at, "yard"), ordered_on), w = toupper(order_id))
  expect_identical(sum(plain(rollup(book, w, n = count()))$n), 200)
})

test_that("a transaction of the user on PostgreSQL goes on, whatever of ours fails in it", {
  con <- postgresql()
  put_in_postgresql(con, "yard", harrowgill()$orders[1:50, ])
  DBI::dbBegin(con)
  DBI::dbExecute(con, "CREATE TABLE mine (x int)")
  expect_error(orders_in(con, "nowhere"), class = "drystack_error_database")
  book <- work_out(daybook(orders_in(con, "yard"), ordered_on), w = toupper(order_id))
  expect_identical(sum(plain(rollup(book, w, n = count()))$n), 50)
  DBI::dbExecute(con, "INSERT INTO mine VALUES (1)")
  DBI::dbRollback(con)
  expect_identical(sum(plain(rollup(book, w, n = count()))$n), 50)
  left <- DBI::dbGetQuery(con,
    "SELECT count(*) AS n FROM pg_class WHERE relnamespace = pg_my_temp_schema()")$n
  expect_identical(as.numeric(left), 0)
})

test_that("an interrupt ends a query in a cluster, and comes as an interrupt", {
  script <- withr::local_tempfile(fileext = ".R", lines = c(
    paste0("db <- unclass(drystack::orders_in('", cluster_at(), "', 'early'))[[1L]]"),
    "cat('begun\\n')",
    "sql <- paste('SELECT count() AS n FROM system.numbers WHERE sleepEachRow(0.01) = 7',",
    "  'SETTINGS max_block_size = 50')",
    "tryCatch(drystack:::database_rows(db, sql),",
    "  interrupt = function(e) cat('interrupted\\n'),",
    "  error = function(e) cat('error', conditionMessage(e), '\\n'))"
  ))
  out <- withr::local_tempfile()
  run <- paste(shQuote(file.path(R.home("bin"), "Rscript")), script, ">", out, "2>&1 & echo $!")
  # A shell that runs in the background lets its programs ignore the signal: it is asked for again.
  pid <- as.integer(system(paste("set -m;", run), intern = TRUE)[1L])
  running <- function() {
    sum(as.numeric(vapply(shard_ports(), to_shard, "", statement =
      "SELECT count() - 1 FROM system.processes WHERE query LIKE '%sleepEachRow%'")))
  }
  until <- function(met) for (i in 1:300) if (isTRUE(met())) break else Sys.sleep(0.1)
  until(function() running() > 0)
  tools::pskill(pid, tools::SIGINT)
  until(function() any(grepl("interrupted|error", readLines(out))))
  expect_identical(Filter(nzchar, readLines(out)), c("begun", "interrupted"))
  until(function() running() == 0)
  expect_identical(running(), 0)
})

test_that("amounts in a currency by the rates of their days are the same on servers", {
  con <- postgresql()
  set.seed(7L)
  orders <- data.frame(on = as.Date("2025-01-10") + sort(sample.int(200L, 300L, TRUE)),
    ccy = sample(c("GBP", "EUR", "USD"), 300L, TRUE), net = round(stats::runif(300L, 1, 500), 2))
  rates <- data.frame(currency = rep(c("GBP", "USD"), each = 2L), date = as.Date(c("2025-01-05",
    "2025-04-01")),
    rate = c(1.19, 1.18, 0.92, 0.91))
  ask <- function(source) {
    book <- daybook(source, on, currency = ccy, rates = rates)
    as.data.frame(rollup(book, by = month, euro = sum(in_currency(net, "EUR")),
      ends = sum(in_currency(net, "USD", at = "month end"))))[2:3]
  }
  put_in_postgresql(con, "in_currencies", orders)
  put_in_cluster("in_currencies", orders)
  expect_equal(ask(orders_in(con, "in_currencies", key = "line_no")), ask(orders), tolerance = 1e-12)
  expect_equal(ask(orders_in(cluster_at(), "in_currencies", key = "line_no")), ask(orders), tolerance = 1e-12)
  mixed <- daybook(orders_in(con, "in_currencies", key = "line_no"), on)
  expect_raised(rollup(mixed, s = sum(net)), "currencies", "EUR, GBP and USD")
})

# Orders of 20 days with columns of the types that databases of their own have.
type_asks <- list(
  function(b) rollup(b, by = c(mood, month), n = count(), s = sum(v)),
  function(b) rollup(only(b, mood == "low"), mood, n = count()),
  function(b) rollup(work_out(b, w = substr(mood, 1, 1)), w, m = most_common(mood)),
  function(b) rollup(b, month, f = first(mood), d = distinct(mood)),
  function(b) listing(b, groups = mood, lines = c(d, v), s = sum(v)),
  function(b) rollup(enrich(b, data.frame(mood = c("low", "high"), w = c("L", "H")), by = "mood"), w,
    n = count())
)

types_orders <- function() {
  data.frame(d = as.Date("2026-01-01") + 0:19, v = 0:19 + 0, mood = rep(c("low", "high"), 10L))
}

expect_types_read <- function(book, unreadable) {
  here <- daybook(types_orders(), d)
  for (i in seq_along(type_asks)) {
    expect_equal(as.data.frame(type_asks[[i]](book)), as.data.frame(type_asks[[i]](here)), info = i)
  }
  # What means nothing here is told by name, and in the way of no other column.
  for (name in unreadable) expect_raised(rollup(book, by = name, n = count()), "column", name, "Its type is")
  expect_identical(nrow(behind(rollup(book, n = count()), 1L, "n")), 20L)
  expect_s3_class(check(book), "drystack_check")
}

test_that("PostgreSQL: enumerations, domains and what means its text are read, arrays are told by name", {
  con <- postgresql()
  run <- function(...) DBI::dbExecute(con, paste0(...))
  for (drop in c("TABLE typed", "TYPE mood", "DOMAIN deep", "DOMAIN cents", "DOMAIN dom_day")) {
    run("DROP ", sub(" ", " IF EXISTS ", drop))
  }
  run("CREATE TYPE mood AS ENUM ('high', 'low')")
  run("CREATE DOMAIN cents AS numeric(12,2)")
  run("CREATE DOMAIN deep AS cents")
  run("CREATE DOMAIN dom_day AS date")
  run("CREATE TABLE typed (id serial primary key, d dom_day, v deep, mood mood, arr int[], j jsonb, ",
    "b bytea, ",
    "u uuid, ip inet, ti time, endless date)")
  run("INSERT INTO typed (d, v, mood, arr, j, b, u, ip, ti, endless) SELECT date '2026-01-01' + i, i, ",
    "(CASE WHEN ",
    "i % 2 = 0 THEN 'low' ELSE 'high' END)::mood, ARRAY[i], '{}', '\\x00', ",
    "'00000000-0000-0000-0000-000000000001', '10.0.0.1', '10:00', 'infinity' FROM generate_series(0, 19) i")
  expect_types_read(daybook(orders_in(con, "typed"), d), c("arr", "j", "b"))
  expect_types_read(daybook(orders_in(con, query = "SELECT * FROM typed", key = "id"), d), c("arr", "j", "b"))
  expect_identical(rollup(daybook(orders_in(con, "typed"), d), by = ti, n = count())$figures$n, 20)
})

test_that("the cluster: enumerations, UUIDs and texts of fixed length are read, arrays are told by name", {
  for (port in shard_ports()[1L]) {
    to_shard(port, "DROP TABLE IF EXISTS typed")
    to_shard(port,
      paste("CREATE TABLE typed (id UInt32, d Date, v Decimal(12, 2), mood Enum8('high' = 1, 'low' = 2),",
      "u UUID, f FixedString(6), arr Array(Int32)) ENGINE = MergeTree() ORDER BY id"))
    to_shard(port, paste("INSERT INTO typed SELECT number, toDate('2026-01-01') + number, number,",
      "number % 2 = 0 ? 'low' : 'high', generateUUIDv4(), 'ab', [1] FROM numbers(20)"))
  }
  book <- daybook(orders_in(cluster_at(), "typed", key = "id"), d)
  expect_types_read(book, "arr")
  expect_identical(as.character(rollup(book, by = f, n = count())$axes$f), "ab")
  expect_identical(rollup(book, n = distinct(u))$figures$n, 20)
  onlooker <- daybook(orders_in(cluster_at(), "typed", key = "id", user = "onlooker"), d)
  expect_types_read(onlooker, "arr")
})

test_that("PostgreSQL: what needs no right is done without it, what needs one says which", {
  con <- postgresql()
  run <- function(...) DBI::dbExecute(con, paste0(...))
  run("DROP TABLE IF EXISTS fenced")
  run("CREATE TABLE fenced AS SELECT date '2026-01-01' + i AS d, i::float8 AS v, 'x' AS hidden FROM ",
    "generate_series(0, 19) i")
  for (role in c("poor_reader",
    "no_reader")) run("DO $$ BEGIN IF NOT EXISTS (SELECT FROM pg_roles WHERE rolname = '",
    role, "') THEN CREATE ROLE ", role, " LOGIN; END IF; END $$")
  run("GRANT SELECT (d, v) ON fenced TO poor_reader")
  run("REVOKE TEMP ON DATABASE postgres FROM PUBLIC")
  run("ALTER ROLE poor_reader SET default_transaction_read_only = on")
  withr::defer(run("GRANT TEMP ON DATABASE postgres TO PUBLIC"))
  at <- strsplit(server_at(), ":", fixed = TRUE)[[1L]]
  as_role <- function(role, env = parent.frame()) {
    own <- DBI::dbConnect(RPostgres::Postgres(), host = at[1L], port = at[2L], user = role,
      dbname = "postgres")
    withr::defer(DBI::dbDisconnect(own), envir = env)
    own
  }
  text <- paste0("postgresql://", at[1L], ":", at[2L], "/postgres")
  looked <- data.frame(v = as.numeric(0:19), kind = rep(c("a", "b"), 10L))
  for (form in list(orders_in(as_role("poor_reader"), "fenced"), orders_in(text, "fenced",
    user = "poor_reader"),
    orders_in(as_role("poor_reader"), query = "SELECT d, v FROM fenced"))) {
    book <- daybook(form, d)
    expect_identical(rollup(book, s = sum(v))$figures$s, 190)
    expect_identical(rollup(enrich(book, looked, by = "v"), kind, s = sum(v))$figures$s, c(90, 100))
    expect_s3_class(check(book), "drystack_check")
  }
  expect_raised(orders_in(as_role("no_reader"), "fenced"), "database", "no_reader", "no right to read",
    "grant SELECT")
  run("CREATE SCHEMA IF NOT EXISTS \"my.schema\"")
  run("CREATE TABLE IF NOT EXISTS \"my.schema\".\"a \"\"b\" AS SELECT * FROM fenced")
  name <- "\"my.schema\".\"a \"\"b\""
  expect_identical(rollup(daybook(orders_in(con, name), d), s = sum(v))$figures$s, 190)
  expect_true(name %in% tables_in(unclass(orders_in(con, "fenced"))[[1L]]))
  run("CREATE MATERIALIZED VIEW IF NOT EXISTS stacked_view AS SELECT * FROM fenced")
  expect_raised(orders_in(con, "stacked_viev"), "database", "stacked_view")
})

test_that("the cluster counts and finds the middle of its own cells, by months however they are cut", {
  set.seed(11L)
  n <- 400L
  orders <- data.frame(on = as.Date("2024-01-01") + sample.int(800L, n, TRUE),
    depot = sample(c("Abbot", "Skelby", "Thorn"), n, TRUE), amount = round(stats::rnorm(n, 50, 80), 2),
    pallets = sample(c(-3:9, NA), n, TRUE), weight = ifelse(stats::runif(n) < 0.3, NA, stats::rnorm(n)),
    large = sample(c(1, 1e200), n, TRUE))
  asks <- list(
    months = function(b) rollup(b, month, m = median(amount), p = median(pallets), w = median(weight)),
    cells = function(b) rollup(b, c(year, depot), m = median(amount), d = distinct(pallets), s = sum(amount)),
    before = function(b) rollup(b, c(depot, quarter), m = median(amount), p = prior(median(pallets), year)),
    to_date = function(b) rollup(b, c(depot, month), m = median(amount), y = ytd(m), d = distinct(pallets)),
    totals = function(b) rollup(b, c(depot, year), m = median(amount), totals = "all"),
    across = function(b) crosstab(b, depot, quarter, w = median(weight), totals = "none"),
    beyond = function(b) rollup(b, year, m = median(large * large)),
    cut = function(b) {
      rollup(within_dates(b, "2024-05-17", "2025-11-20"), c(quarter, depot), s = sum(amount),
        m = median(weight))
    }
  )
  types <- list(list(), list(on = "Date", depot = "String", amount = "Decimal(12, 2)"))
  for (type in types) {
    put_in_cluster("middles", orders, type)
    for (begins in c("January", "February")) {
      of <- function(source) as_of(daybook(source, on, calendar = fiscal_calendar(begins)), "2026-02-11")
      there <- of(orders_in(cluster_at(), "middles", key = "line_no"))
      here <- of(orders)
      for (ask in asks) expect_equal(as.data.frame(ask(there)), as.data.frame(ask(here)), ignore_attr = TRUE)
    }
  }
})
