# Asks of orders in databases, beside the same grouping written by hand in the database's SQL, in turn; and
# of kept states, beside their orders. PostgreSQL is asked where DRYSTACK_TEST_POSTGRESQL says host:port (as
# under tools/servers).
suppressMessages(library(drystack))

n <- as.numeric(Sys.getenv("BENCH_DATABASE_ROWS", "2e6"))
folder <- tempfile("database")
dir.create(folder)
set.seed(7)
made <- function(n) {
  data.frame(
    ordered_on = as.Date("2023-01-01") + sample.int(1300L, n, TRUE),
    region = sample(c("North", "Peak", "Dale", "Fell", "Moor", "Coast"), n, TRUE),
    status = sample(c("sent", "cancelled", "open"), n, TRUE, c(0.9, 0.05, 0.05)),
    amount = round(stats::rexp(n, 1 / 80), 2)
  )
}
orders <- made(n)
seconds <- function(code) system.time(code)[["elapsed"]]

beside <- function(what, con, by_hand) {
  first <- seconds({
    book <- only(daybook(orders_in(con, "orders"), date = ordered_on), status != "cancelled")
    rollup(book, by = c(region, month), sales = sum(amount))
  })
  rounds <- vapply(1:3, function(i) {
    c(seconds(rollup(book, by = c(region, month), sales = sum(amount))), seconds(DBI::dbGetQuery(con,
      by_hand)))
  }, numeric(2L))
  middle <- apply(rounds, 1L, stats::median)
  cat(sprintf("%-12s first ask %5.2f s   later %5.2f s   by hand %5.2f s   %.2f x\n", what, first, middle[1L],
    middle[2L], middle[1L] / middle[2L]))
}

cat(sprintf("%s order lines in a database\n", format(n, big.mark = ",", scientific = FALSE)))
con <- DBI::dbConnect(RSQLite::SQLite(), file.path(folder, "orders.db"))
DBI::dbWriteTable(con, "orders", transform(orders, ordered_on = as.character(ordered_on)))
beside("SQLite", con, paste("SELECT region, substr(ordered_on, 1, 7) AS m, sum(amount) FROM orders",
  "WHERE status <> 'cancelled' GROUP BY 1, 2"))
DBI::dbDisconnect(con)

at <- Sys.getenv("DRYSTACK_TEST_POSTGRESQL")
if (nzchar(at)) {
  parts <- strsplit(at, ":", fixed = TRUE)[[1L]]
  con <- DBI::dbConnect(RPostgres::Postgres(), host = parts[1L], port = parts[2L], user = "postgres",
    dbname = "postgres")
  DBI::dbWriteTable(con, "orders", orders, field.types = c(amount = "numeric(12,2)"), overwrite = TRUE)
  # What a server does by itself within a minute: without it either query may be planned badly.
  DBI::dbExecute(con, "ANALYZE orders")
  beside("PostgreSQL", con,
    paste("SELECT region, date_trunc('month', ordered_on) AS m, sum(amount) FROM orders",
    "WHERE status <> 'cancelled' GROUP BY 1, 2"))
  DBI::dbDisconnect(con)
}

# Ten files of orders and one more, a tenth as long as each.
for (i in 1:10) {
  nanoparquet::write_parquet(orders[seq(1 + (i - 1) * n / 10, i * n / 10), ], file.path(folder,
    sprintf("part%02d.parquet", i)))
}
path <- file.path(folder, "*.parquet")
states <- file.path(folder, "states")
later <- made(n / 100)
rm(orders)

# Seconds of a piece of work in a session of its own, as it is done each month.
apart <- function(...) {
  script <- sprintf("library(drystack); cat(system.time({%s})[['elapsed']])", sprintf(...))
  as.numeric(system2(file.path(R.home("bin"), "Rscript"), c("-e", shQuote(script)), stdout = TRUE))
}
ask <- paste("invisible(rollup(only(book, status != 'cancelled'), by = c(region, month), ",
  "sales = sum(amount), so_far = ytd(sales)))")
keep <- "keep_states(daybook('%s', date = ordered_on), '%s', by = c(region, status), amount)"
keeping <- stats::median(replicate(3L, {
  unlink(states, recursive = TRUE)
  apart(keep, path, states)
}))
of_orders <- apart(paste0("book <- daybook('%s', date = ordered_on); ", ask), path)
of_states <- apart(paste0("book <- daybook('%s', date = ordered_on); ", ask), states)
refreshing <- stats::median(vapply(11:13, function(i) {
  nanoparquet::write_parquet(later, file.path(folder, sprintf("part%02d.parquet", i)))
  apart("refresh('%s')", states)
}, 0))
cat(sprintf("kept states: opening and an ask %.2f s, of the orders %.2f s   %.2f x\n", of_states, of_orders,
  of_states / of_orders))
cat(sprintf("keeping them %.2f s, refreshing 1 in 100 more %.2f s   %.3f x\n", keeping, refreshing,
  refreshing / keeping))
unlink(folder, recursive = TRUE)
