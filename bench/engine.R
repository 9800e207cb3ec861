# The engine, ask by ask, side by side in one run: this package, base R, SQLite, and one plain C++
# pass over the same bytes.
suppressMessages(library(drystack))
Rcpp::sourceCpp("bench/plain_pass.cpp")

threads <- 2L
options(drystack.threads = threads, drystack.memory = 16e9)
n <- as.numeric(Sys.getenv("BENCH_ROWS", "1e7"))
compare <- Sys.getenv("BENCH_PEERS", "yes") == "yes"

make_orders <- function(n) {
  set.seed(1)
  data.frame(
    on = as.Date("2023-01-01") + sample.int(1355L, n, TRUE) - 1,
    region = factor(sample(sprintf("region %02d", 1:12), n, TRUE)),
    product = factor(sample(sprintf("product %03d", 1:200), n, TRUE)),
    customer = sample.int(50000L, n, TRUE),
    amount = sample.int(1e6L, n, TRUE) / 100
  )
}

seconds <- function(code, times = 5L) {
  code <- substitute(code)
  env <- parent.frame()
  stats::median(vapply(seq_len(times), function(i) {
    system.time(eval(code, env), gcFirst = TRUE)[["elapsed"]]
  }, 0))
}

report <- function(ask, time, ...) {
  peers <- c(...)
  ratios <- if (length(peers) > 0L) paste(sprintf("%s %.1f", names(peers), peers), collapse = "   ") else ""
  cat(sprintf("%-46s %8.3f s   %s\n", ask, time, ratios))
}

month_of <- function(on) {
  lt <- as.POSIXlt(on)
  lt$year * 12L + lt$mon
}

orders <- make_orders(n)
book <- daybook(orders, on)
cat(sprintf("%s order lines, %d threads\n", format(n, big.mark = ",", scientific = FALSE), threads))

days <- as.numeric(orders$on)
region <- as.integer(orders$region)
plain <- seconds(plain_pass(days, region, orders$amount, threads))
report("plain pass over days, codes and amounts", plain)

small <- seconds(rollup(book, c(month, region), sales = sum(amount), lines = count()))
peer <- if (compare) seconds(rowsum(cbind(orders$amount, 1), month_of(orders$on) * 12L + region), 3L) else NA
report("sum, count by month x 12", small, "rowsum/this" = peer / small, "this/plain" = small / plain)

large <- seconds(rollup(book, c(month, region, product), sales = sum(amount), lines = count()))
peer <- if (compare) {
  seconds(rowsum(cbind(orders$amount, 1),
    (month_of(orders$on) * 12L + region) * 200L + as.integer(orders$product)), 3L)
} else {
  NA
}
report("sum, count by month x 12 x 200", large, "rowsum/this" = peer / large, "this/plain" = large / plain)

only_sum <- seconds(rollup(book, c(month, region), sales = sum(amount)))
report("sum by month x 12", only_sum)
lenses <- seconds(rollup(book, c(month, region),
  sales = sum(amount), ly = prior(sales, year), ytd = ytd(sales),
  ytd_ly = prior(ytd, year), run = running(sales), m12 = moving(sales, 12),
  share = share(sales), totals = "all"
))
report("the same with 6 lenses and all totals", lenses, "this/sum" = lenses / only_sum)

distinct_time <- seconds(rollup(book, c(month, region), buyers = distinct(customer), ytd = ytd(buyers)), 3L)
if (compare && n <= 1e7) { # at 50 million orders SQLite takes the better part of an hour
  db <- DBI::dbConnect(RSQLite::SQLite(), ":memory:")
  DBI::dbWriteTable(db, "o", data.frame(m = month_of(orders$on), r = region, c = orders$customer))
  sql <- "SELECT m, r, COUNT(DISTINCT c) FROM o GROUP BY m, r"
  to_date <- "SELECT a.m, b.r, COUNT(DISTINCT b.c) FROM (SELECT DISTINCT m FROM o) a JOIN o b
    ON b.m / 12 = a.m / 12 AND b.m <= a.m GROUP BY a.m, b.r"
  peer <- seconds(DBI::dbGetQuery(db, sql), 1L) + seconds(DBI::dbGetQuery(db, to_date), 1L)
  DBI::dbDisconnect(db)
} else {
  peer <- NA
}
report("distinct customers by month x 12, with ytd", distinct_time, "SQLite/this" = peer / distinct_time)

median_time <- seconds(rollup(book, c(month, region), mid = median(amount)), 3L)
peer <- if (compare) seconds(tapply(orders$amount, month_of(orders$on) * 12L + region, median), 1L) else NA
report("median by month x 12", median_time, "tapply/this" = peer / median_time)

items <- orders
items$item <- factor(sample.int(2000L, n, TRUE))
items$place <- factor(sample.int(60L, n, TRUE))
items$quantity <- sample.int(50L, n, TRUE)
wide <- daybook(items, on)
rm(items)
plain_wide <- seconds(rollup(wide, c(item, place), sales = sum(amount),
  quantity = sum(quantity), lines = count()))
crossed <- seconds(crosstab(wide, item, place, sales = sum(amount),
  quantity = sum(quantity), lines = count(), totals = "all"))
report("cross-tab 2,000 x 60, 3 measures, all totals", crossed, "this/plain fold" = crossed / plain_wide)
rm(wide)

# A second ask of a daybook with text dimensions, beside one whose codes are ready (factors).
texts <- orders
texts$region <- as.character(texts$region)
texts$product <- as.character(texts$product)
of_texts <- daybook(texts, on)
first <- seconds(rollup(of_texts, c(month, region, product), sales = sum(amount), lines = count()), 1L)
again <- seconds(rollup(of_texts, c(month, region, product), sales = sum(amount), lines = count()))
ready <- seconds(rollup(book, c(month, region, product), sales = sum(amount), lines = count()))
report("text dimensions, first ask", first)
report("text dimensions, second ask", again, "this/ready codes" = again / ready)
rm(texts, of_texts)

double <- daybook(make_orders(2 * n), on)
twice <- seconds(rollup(double, c(month, region), sales = sum(amount), lines = count()))
report("sum, count by month x 12, twice the orders", twice, "this/once" = twice / small)
