# Random asks against SQLite: every figure of every row from the definition of its cell.

ask_table <- function(orders, ask) {
  book <- as_of(daybook(orders, on, calendars = fiscal_calendar(ask$starts)), ask$as_of)
  if (!is.null(ask$scope)) book <- add_conditions(book, list(said(str2lang(ask$scope))))
  axes <- if (ask$period_first) c(ask$unit, ask$dims) else c(ask$dims, ask$unit)
  rollup(book, axes,
    sales = sum(amount), lines = count(), least = min(amount), most = max(amount), average = mean(amount),
    ytd = ytd(sales), qtd = qtd(sales), ly = prior(sales, year), ytd_ly = prior(ytd, year), ly_ytd = ytd(
      prior(sales, year)
    ),
    totals = ask$totals
  )
}

expected_figures <- function(db, ask, interval, where, record) {
  exact <- function(sql, interval, empty = 0) {
    if (interval[2L] < record) {
      return(NA_real_)
    }
    value <- oracle_figure(db, sql, interval, where)
    if (is.na(value)) empty else as.numeric(value)
  }
  cents <- function(interval) exact("SUM(cents)", interval) / 100
  so_far <- function(interval, unit) c(base_start(interval[2L], unit, ask$starts), interval[2L])
  last_year <- base_prior(interval, "year")
  # SQLite's sum of cents and count give the mean; a mean of nothing is unknown.
  n <- exact("COUNT(cents)", interval)
  list(
    sales = cents(interval), lines = exact("COUNT(*)", interval),
    least = exact("MIN(cents)", interval, NA) / 100, most = exact("MAX(cents)", interval, NA) / 100,
    average = if (n > 0) cents(interval) / n else NA_real_, ytd = cents(so_far(interval, "year")),
    qtd = cents(so_far(interval, "quarter")), ly = cents(last_year),
    ytd_ly = cents(so_far(last_year, "year")), ly_ytd = cents(base_prior(so_far(interval, "year"), "year"))
  )
}

test_that("random asks give what SQLite gives on integer cents, to the last digit", {
  orders <- untidy_orders(1500L, 42L)
  db <- oracle_open(orders)
  withr::defer(DBI::dbDisconnect(db))
  record <- min(orders$on, na.rm = TRUE)
  for (seed in 1:12) {
    ask <- withr::with_seed(seed, random_ask(all = FALSE))
    rows <- plain(ask_table(orders, ask))
    scope <- if (!is.null(ask$scope)) sub("paid", "paid = 1", sub("amount > 20", "cents > 2000", ask$scope))
    checked <- withr::with_seed(seed, sample.int(nrow(rows), min(nrow(rows), 25L)))
    for (i in checked) {
      row <- rows[i, ]
      where <- c(scope, unlist(lapply(ask$dims, function(d) oracle_member(d, as.character(row[[d]])))))
      expected <- expected_figures(db, ask, row_interval(row, ask, record), where, record)
      expect_identical(as.list(row[names(expected)]), expected, label = paste("seed", seed, "row", i))
    }
  }
})

test_that("rows that no figure has orders for are the only ones left out", {
  orders <- untidy_orders(800L, 7L)
  rows <- plain(rollup(daybook(orders, on), c(depot, channel), n = count()))
  base <- as.data.frame(table(
    depot = ifelse(is.na(orders$depot), "(none)", orders$depot)[!is.na(orders$on)],
    channel = orders$channel[!is.na(orders$on)]
  ))
  base <- base[base$Freq > 0, ]
  key <- function(x) paste(x$depot, x$channel)
  expect_setequal(key(rows), key(base))
  expect_identical(rows$n[match(key(base), key(rows))], as.numeric(base$Freq))
})
