# Sum and count by month and a dimension of 12 members: this package beside base R's rowsum()
# over the same keys (making the keys included) and beside one plain pass over the same
# bytes. Run by `make bench`.
suppressMessages(library(drystack))
Rcpp::sourceCpp("bench/plain_pass.cpp")

threads <- 2L
options(drystack.threads = threads)

make_orders <- function(n) {
  set.seed(1)
  data.frame(
    on = as.Date("2023-01-01") + sample.int(1355L, n, TRUE) - 1,
    region = factor(sample(sprintf("region %02d", 1:12), n, TRUE)),
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

by_rowsum <- function(orders) {
  lt <- as.POSIXlt(orders$on)
  region <- if (is.factor(orders$region)) as.integer(orders$region) else match(
    orders$region, sort(unique(orders$region))
  )
  key <- (lt$year * 12L + lt$mon) * 12L + region
  rowsum(cbind(orders$amount, 1), key)
}

n <- as.numeric(Sys.getenv("BENCH_ROWS", "1e7"))
orders <- make_orders(n)
texts <- transform(orders, region = as.character(region))
ask <- function(orders) rollup(daybook(orders, on), c(month, region), sales = sum(amount), lines = count())

same <- as.data.frame(ask(orders))
base <- by_rowsum(orders)
stopifnot(isTRUE(all.equal(same$sales, unname(base[, 1L]))), identical(same$lines, unname(base[, 2L])))

days <- as.numeric(orders$on)
codes <- as.integer(orders$region)
times <- c(
  rollup = seconds(ask(orders)), rollup_text = seconds(ask(texts)),
  rowsum = seconds(by_rowsum(orders), 3L), rowsum_text = seconds(by_rowsum(texts), 3L),
  plain = seconds(plain_pass(days, codes, orders$amount, threads))
)
line <- function(name, key, peer) {
  cat(sprintf(
    "%-34s %7.3f s   rowsum / this %6.1f   this / plain pass %5.1f\n",
    name, times[[key]], times[[peer]] / times[[key]], times[[key]] / times[["plain"]]
  ))
}
cat(
  sprintf(
    "%s order lines, %d threads, sum and count by month x 12 members\n",
    format(n, big.mark = ",", scientific = FALSE), threads
  )
)
line("rollup(), the dimension a factor", "rollup", "rowsum")
line("rollup(), the dimension text", "rollup_text", "rowsum_text")
cat(sprintf("%-34s %7.3f s\n", c("rowsum(), the dimension a factor",
  "rowsum(), the dimension text", "plain pass"),
            times[c("rowsum", "rowsum_text", "plain")]), sep = "")
