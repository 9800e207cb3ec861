# Made-up orders of members, and the same on every engine that needs no server.

each_orders <- function(n, seed) {
  set.seed(seed)
  orders <- data.frame(
    order = seq_len(n), on = as.Date("2025-01-01") + sort(sample(0:500, n, TRUE)),
    who = sample(c(paste0("C", 1:25), NA), n, TRUE), shop = sample(c("p", "q", "r"), n, TRUE),
    status = sample(c("sent", "void"), n, TRUE, c(0.85, 0.15)), v = round(rnorm(n, 30, 20), 2)
  )
  orders$on[sample(n, 3L)] <- NA
  orders
}

# The same orders on every engine there is here.
each_books <- function(orders, env = parent.frame()) {
  file <- withr::local_tempfile(fileext = ".csv", .local_envir = env)
  utils::write.csv(orders, file, row.names = FALSE, na = "")
  folder <- withr::local_tempdir(.local_envir = env)
  half <- nrow(orders) %/% 2L
  utils::write.csv(orders[seq_len(half), ], file.path(folder, "a.csv"), row.names = FALSE, na = "")
  utils::write.csv(orders[-seq_len(half), ], file.path(folder, "b.csv"), row.names = FALSE, na = "")
  db <- DBI::dbConnect(RSQLite::SQLite(), ":memory:")
  withr::defer(DBI::dbDisconnect(db), envir = env)
  DBI::dbWriteTable(db, "o", as.data.frame(lapply(orders, function(column) {
    if (inherits(column, "Date")) format(column) else column
  })))
  list(frame = daybook(orders, on), file = daybook(file, on), folder = daybook(folder, on),
    database = daybook(orders_in(db, "o", key = "order"), on))
}
