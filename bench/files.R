# Asks of files on the command line, beside readers that only read the columns these asks need: text
# by vroom, typed and on as many threads; Parquet by nanoparquet. Whole commands, the start of R
# included, each in turn; the most memory that a command held is told by the system.
suppressMessages(library(drystack))

n <- as.numeric(Sys.getenv("BENCH_FILE_ROWS", "5e6"))
times <- 3L
folder <- tempfile("files")
dir.create(folder)
text <- file.path(folder, "orders.csv")
parquet <- file.path(folder, "orders.parquet")

set.seed(7)
orders <- data.frame(
  order_id = seq_len(n) %/% 3L + 100000L,
  ordered_on = as.Date("2021-01-01") + sort(sample.int(2000L, n, TRUE)),
  region = sample(c("North", "Peak", "Dale", "Fell", "Moor", "Coast"), n, TRUE),
  customer_id = sprintf("C%05d", sample.int(20000L, n, TRUE)), quantity = sample.int(40L, n, TRUE),
  amount = round(stats::rexp(n, 1 / 80), 2),
  status = sample(c("sent", "cancelled", "open"), n, TRUE, c(0.9, 0.05, 0.05))
)
vroom::vroom_write(orders, text, delim = ",", progress = FALSE)
nanoparquet::write_parquet(orders, parquet)
rm(orders)

launcher <- install_command_line(file.path(folder, "bin"))
ask <- function(file) {
  c(launcher, "rollup", "--orders", file, "--date", "ordered_on", "--by", "month,region", "--show",
    "sales = sum(amount)", "--only", "status != \"cancelled\"")
}
columns <- c("ordered_on", "region", "amount", "status")
listed <- paste(sprintf("'%s'", columns), collapse = ", ")
script <- function(...) c(file.path(R.home("bin"), "Rscript"), "-e", sprintf(...))

# Seconds and the most megabytes of a command.
measured <- function(words) {
  told <- tempfile()
  command <- paste("/usr/bin/time -f '%e %M' -o", shQuote(told),
    paste(shQuote(words), collapse = " "), "> /dev/null")
  if (system(command) != 0L) stop("a command failed: ", paste(words, collapse = " "))
  as.numeric(strsplit(readLines(told), " ")[[1L]]) / c(1, 1000)
}

beside <- function(what, ours, theirs) {
  rounds <- lapply(seq_len(times), function(i) list(measured(ours), measured(theirs)))
  middle <- function(side, part) stats::median(vapply(rounds, function(round) round[[side]][part], 0))
  cat(sprintf("%-34s %6.2f s %6.0f MB   reader alone %6.2f s %6.0f MB   %.2f x\n",
    what, middle(1L, 1L), middle(1L, 2L), middle(2L, 1L), middle(2L, 2L), middle(1L, 1L) / middle(2L, 1L)))
}

cat(sprintf("%s order lines in a file\n", format(n, big.mark = ",", scientific = FALSE)))
beside("text, month x region", ask(text), script(paste0(
  "x <- vroom::vroom('%s', delim = ',', col_select = c(%s), col_types = 'iDccidc', altrep = FALSE, ",
  "num_threads = 2, progress = FALSE)"
), text, listed))
beside("Parquet, month x region", ask(parquet),
  script("x <- nanoparquet::read_parquet('%s', col_select = c(%s))", parquet, listed))
unlink(folder, recursive = TRUE)
