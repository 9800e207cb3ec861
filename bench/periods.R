# Assigning a period to each of many dates, beside one plain pass over the same dates
# that writes as many integers.
suppressMessages(library(drystack))
Rcpp::sourceCpp("bench/plain_dates.cpp")

threads <- 2L
options(drystack.threads = threads)
n <- as.numeric(Sys.getenv("BENCH_ROWS", "1e7"))
set.seed(1)
dates <- as.Date("2023-01-01") + sample.int(1355L, n, TRUE) - 1

seconds <- function(code, times = 7L) {
  code <- substitute(code)
  env <- parent.frame()
  stats::median(vapply(seq_len(times), function(i) {
    system.time(eval(code, env), gcFirst = TRUE)[["elapsed"]]
  }, 0))
}

calendars <- list(
  "fiscal month" = list(fiscal_calendar("July"), "month"),
  "4-4-5 month" = list(week_calendar(), "month"),
  "civil week" = list(civil_calendar(), "week")
)
# Makes the calendar's tables.
for (calendar in calendars) as_period(dates[1:10], calendar[[2L]], calendar[[1L]])
plain <- seconds(plain_dates(dates, threads))
cat(sprintf("%s dates, %d threads\n", format(n, big.mark = ",", scientific = FALSE), threads))
cat(sprintf("%-34s %7.3f s\n", "plain pass, one integer a date", plain))
for (name in names(calendars)) {
  time <- seconds(as_period(dates, calendars[[name]][[2L]], calendars[[name]][[1L]]))
  cat(sprintf("%-34s %7.3f s   this / plain pass %5.1f\n", paste("as_period(),", name), time, time / plain))
}
