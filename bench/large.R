# An ask of more order lines than memory should hold: files of five million lines each, as Parquet beside the
# reader of Parquet alone, and as text; whole commands, each once, with the memory of all their
# processes together, shared pages counted once. It makes 4 GB of files and takes a quarter of an
# hour, so that it runs only where
# BENCH_LARGE_ROWS says how many lines (1e8).
rows <- as.numeric(Sys.getenv("BENCH_LARGE_ROWS", "0"))
if (rows < 5e6) {
  cat("large.R: set BENCH_LARGE_ROWS=1e8 to measure asks of 100 million order lines\n")
  quit(status = 0L)
}
suppressMessages(library(drystack))
folder <- tempfile("large")
dir.create(file.path(folder, "parquet"), recursive = TRUE)
dir.create(file.path(folder, "text"))

set.seed(11)
n <- 5e6
for (i in seq_len(ceiling(rows / n))) {
  orders <- data.frame(
    ordered_on = as.Date("2021-01-01") + sort(sample.int(2000L, n, TRUE)),
    region = sample(sprintf("Region %02d", 1:12), n, TRUE), channel = sample(c("web", "phone", "counter"), n,
      TRUE),
    amount = round(stats::rexp(n, 1 / 80), 2)
  )
  nanoparquet::write_parquet(orders, file.path(folder, "parquet", sprintf("part%03d.parquet", i)))
  vroom::vroom_write(orders, file.path(folder, "text", sprintf("part%03d.csv", i)), delim = ",",
    progress = FALSE)
}
rm(orders)

# Runs a command in a session of its own and looks at its processes five times a second.
watcher <- file.path(folder, "watch.sh")
writeLines(c(
  "setsid \"$@\" > /dev/null & leader=$!", "most=0", "begun=$(date +%s.%N)",
  "while kill -0 $leader 2> /dev/null; do",
  "  now=$(for p in $(ps -o pid= --sid $leader); do cat /proc/$p/smaps_rollup 2> /dev/null; done |",
  "    awk '/^Pss:/ { s += $2 } END { print s + 0 }')",
  "  [ \"$now\" -le \"$most\" ] || most=$now", "  sleep 0.2", "done", "wait $leader || exit 1",
  "echo \"$(echo \"$(date +%s.%N) - $begun\" | bc) $most\""
), watcher)

# Seconds and megabytes.
measured <- function(...) {
  said <- system2("bash", shQuote(c(watcher, ...)), stdout = TRUE)
  if (!is.null(attr(said, "status"))) stop("a command failed: ", ..1)
  as.numeric(strsplit(said, " ")[[1L]]) / c(1, 1000)
}

launcher <- install_command_line(file.path(folder, "bin"))
ask <- function(files) {
  measured(launcher, "rollup", "--orders", file.path(folder, files), "--date", "ordered_on", "--by",
    "month,region", "--show", "sales = sum(amount)", "--show", "so_far = ytd(sales)", "--show",
    "before = prior(so_far, year)")
}
told <- function(what, took) cat(sprintf("%-34s %6.1f s %6.0f MB\n", what, took[1L], took[2L]))

cat(sprintf("%s order lines, month x 12 with sum, ytd and prior ytd\n",
  format(rows, big.mark = ",", scientific = FALSE)))
reader <- measured(file.path(R.home("bin"), "Rscript"), "-e", sprintf(paste0(
  "for (file in Sys.glob('%s/parquet/*')) x <- nanoparquet::read_parquet(file, ",
  "col_select = c('ordered_on', 'region', 'amount'))"
), folder))
told("Parquet reader alone", reader)
parquet <- ask("parquet/*.parquet")
told("Parquet", parquet)
cat(sprintf("%-34s %6.2f x\n", "beside the reader", parquet[1L] / reader[1L]))
told("text", ask("text/*.csv"))
unlink(folder, recursive = TRUE)
