# A lookup that is a table of the orders' own database is joined there, and answers as a data frame does.

put_both <- function(con, orders, customers) {
  put_in_sqlite(con, "orders", orders)
  put_in_sqlite(con, "customers", customers)
}

test_that("columns of a table of the same database are joined there", {
  con <- sqlite_of(character())
  put_both(con, lookup_orders(), lookup_customers())
  there <- enrich(daybook(orders_in(con, "orders", key = "order"), date = ordered_on),
    orders_in(con, "customers"), by = "customer")
  here <- enrich(daybook(lookup_orders(), date = ordered_on), lookup_customers(), by = "customer",
    name = "orders_in(con, \"customers\")")
  for (name in names(looked_up_asks)) {
    ask <- looked_up_asks[[name]]
    # The day of a lookup is a text in SQLite.
    if (name %in% c("days", "crosstab")) ask <- function(book) looked_up_asks$kinds(book)
    expect_equal(as.data.frame(ask(there)), as.data.frame(ask(here)), tolerance = 1e-12, info = name)
    expect_identical(all_notes(ask(there)), all_notes(ask(here)), info = name)
  }
})

test_that("a key that stands twice by now doubles no order line", {
  con <- sqlite_of(character())
  put_both(con, lookup_orders(), lookup_customers())
  book <- enrich(daybook(orders_in(con, "orders"), date = ordered_on), orders_in(con, "customers"),
    by = "customer")
  DBI::dbExecute(con, "INSERT INTO customers SELECT * FROM customers WHERE customer < 'C010'")
  table <- rollup(book, kind, n = count(), totals = "grand")
  expect_identical(plain(table)$n[plain(table)$.role == "total"], 3000)
  again <- orders_in(con, "customers")
  expect_raised(enrich(book, again, by = "customer", prefix = "again_"), "lookup", "C001")
})

test_that("a lookup of more keys than are put beside a column is joined there", {
  con <- sqlite_of(character())
  n <- 2100L
  orders <- data.frame(order = seq_len(n), ordered_on = "2024-02-01", customer = seq_len(n), amount = 1)
  customers <- data.frame(customer = rev(seq_len(n)), kind = rep(c("a", "b", "c"), n / 3))
  put_both(con, orders, customers)
  book <- daybook(orders_in(con, "orders", key = "order"), date = ordered_on)
  ask <- function(book) plain(rollup(book, kind, n = count()))
  joined <- enrich(book, orders_in(con, "customers"), by = "customer")
  withr::local_options(drystack.memory = 1e6)
  expect_identical(ask(joined)$n, rep(n / 3, 3L))
  expect_raised(ask(enrich(book, customers, by = "customer")), "engine", "different values")
})
