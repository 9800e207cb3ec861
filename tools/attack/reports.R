# Attacks by standing reports: what their queries and calendars would run, change or reach. Every one is
# refused or answered, nothing is changed, and nothing of a file outside the report's folder is told.

hostile_queries <- c(
  "SELECT load_extension('./evil.so') AS x, * FROM orders",
  "SELECT * FROM orders; DROP TABLE orders",
  "SELECT * FROM orders WHERE 1 = (SELECT writefile('left', 'x'))",
  "SELECT *, readfile('secret.txt') AS secret FROM orders",
  "SELECT *, fts3_tokenizer('simple', x'4141414141414141') AS x FROM orders",
  "DELETE FROM orders", "UPDATE orders SET a = 0 RETURNING d, a",
  "INSERT INTO orders VALUES ('2026-01-01', 'x', 1) RETURNING *",
  "WITH x AS (SELECT 1) DELETE FROM orders RETURNING d, a", "ATTACH 'left.db' AS y",
  "SELECT * FROM orders) o; ATTACH 'left.db' AS y; SELECT * FROM (SELECT 1", "VACUUM INTO 'left.db'",
  "PRAGMA writable_schema = 1", "SELECT * FROM pragma_journal_mode('delete')", "CREATE TABLE left (x)",
  "SELECT * FROM orders -- ",
  "SELECT * FROM orders /* ", "SELECT * FROM orders) o WHERE (1 = 1", "", ";", "SELECT 'open"
)

report_faults <- function() {
  folder <- tempfile("reports-")
  dir.create(file.path(folder, "in"), recursive = TRUE)
  on.exit(unlink(folder, recursive = TRUE))
  shop <- file.path(folder, "in", "shop.db")
  con <- DBI::dbConnect(RSQLite::SQLite(), shop)
  DBI::dbWriteTable(con, "orders", data.frame(d = c("2026-01-05", "2026-02-05"), g = c("x", "y"),
    a = c(1, 2)))
  DBI::dbDisconnect(con)
  writeLines(c("start,label", "the-word-that-is-not-told,x"), file.path(folder, "secret.csv"))
  writeLines("the-word-that-is-not-told", file.path(folder, "in", "secret.txt"))
  ran <- build_evil(folder)
  before <- tools::md5sum(shop)
  faults <- lapply(hostile_queries, function(query) {
    source <- list(database = "sqlite:shop.db", query = query, date = "d")
    fault <- fault_of_report(folder, list(orders = source))
    if (fault == "" && !identical(tools::md5sum(shop), before)) fault <- "the database was changed"
    if (fault == "" && file.exists(ran)) fault <- "native code ran"
    if (fault != "") paste0("query of a report, ", encodeString(query, quote = "\""), ": ", fault)
  })
  unlist(faults)
}

# A library that leaves a file where it is loaded; gives the file's path.
build_evil <- function(folder) {
  ran <- file.path(folder, "ran")
  code <- file.path(folder, "in", "evil.c")
  writeLines(c("#include <stdio.h>", sprintf(
    "__attribute__((constructor)) void ran(void) { fclose(fopen(\"%s\", \"w\")); }", ran)), code)
  system2("cc", c("-shared", "-fPIC", "-o", shQuote(file.path(folder, "in", "evil.so")), shQuote(code)))
  unlink(code)
  ran
}

fault_of_report <- function(folder, report) {
  inner <- file.path(folder, "in")
  whole <- c(list(drystack = 1L, title = "Attack"), report,
    list(measures = list(s = "sum(a)"), page = list(list(rollup = list(by = "year", show = list("s"))))))
  yaml::write_yaml(whole, file.path(inner, "report.yml"))
  stood <- c(list.files(inner, all.files = TRUE), "out", "err", "told")
  found <- run(c("build", "report.yml", "--out", "told", "--format", "md"), inner)
  pages <- list.files(file.path(inner, "told"), full.names = TRUE)
  words <- c(found$out, found$err, unlist(lapply(pages, readLines, warn = FALSE)))
  left <- setdiff(list.files(inner, all.files = TRUE), stood)
  unlink(file.path(inner, c("told", left)), recursive = TRUE)
  if (any(grepl("the-word-that-is-not-told", words, fixed = TRUE))) "another file was told"
  else if (length(left) > 0L) paste("files were left:", paste(left, collapse = ", "))
  else fault_of_run(found)
}
