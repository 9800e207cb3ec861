# Orders in a database of SQLite in memory: dates as texts, conditions as declared.
sqlite_orders <- function(orders, env = parent.frame(), ...) {
  con <- DBI::dbConnect(RSQLite::SQLite())
  withr::defer(if (DBI::dbIsValid(con)) DBI::dbDisconnect(con), envir = env)
  put_in_sqlite(con, "orders", orders)
  orders_in(con, "orders", ...)
}

put_in_sqlite <- function(con, table, orders) {
  type <- function(x) {
    if (is.logical(x)) "BOOLEAN" else if (is.integer(x)) "INTEGER" else if (is.numeric(x) &&
      !is.object(x)) "REAL" else "TEXT"
  }
  types <- vapply(orders, type, "")
  plain <- lapply(orders, function(x) if (is.object(x)) as.character(x) else x)
  DBI::dbWriteTable(con, table, as.data.frame(plain, optional = TRUE), field.types = types, overwrite = TRUE)
}

# A database in memory made by statements.
sqlite_of <- function(..., env = parent.frame()) {
  con <- DBI::dbConnect(RSQLite::SQLite())
  withr::defer(if (DBI::dbIsValid(con)) DBI::dbDisconnect(con), envir = env)
  for (statement in c(...)) DBI::dbExecute(con, statement)
  con
}

# What is asked of a daybook, as plain values: a table with its notes, or the kind of error.
asked_of_book <- function(ask, book) {
  rlang::try_fetch({
    found <- ask(book)
    if (inherits(found, "drystack_tie_out")) return(as.data.frame(found)[c("check", "measure", "expected",
      "found", "ok")])
    list(data = if (is.data.frame(found) || inherits(found, "drystack_table")) as.data.frame(found)
      else format(found),
      notes = if (inherits(found, "drystack_table")) without_time_of_states(all_notes(found)))
  }, drystack_error = function(e) class(e)[1L])
}

# States tell when they were those of their database, which the orders do not.
without_time_of_states <- function(notes) notes[!grepl("^Reading the orders: states as of", notes)]

# Larger asks, each the work of several questions to an engine.
larger_asks <- function(yard) {
  kept <- function(k) {
    rollup(k, by = customer_id, s = sum(amount), keep = list(customer_id = keep_top(5, s,
      others = "rest")),
      totals = "all")
  }
  sent <- function(k) only(k, status != "cancelled")
  list(
    behind = function(k) {
      behind(rollup(k, by = c(depot, year), s = sum(amount), g = growth(s, year)), row = 3,
        measure = "g")
    },
    "behind others" = function(k) behind(kept(k), row = 6),
    "explain others" = function(k) explain(kept(k), row = 6, measure = "s"),
    explain = function(k) {
      explain(rollup(sent(k), by = c(depot, year), s = sum(amount), ly = prior(s, year),
        totals = "all"),
        row = 7, measure = "ly")
    },
    "explain along" = function(k) {
      explain(rollup(k, by = c(depot, year), s = running(sum(amount),
        along = year)),
        row = 7, measure = "s")
    },
    "tie out" = function(k) {
      tie_out(rollup(sent(k), by = c(depot, year), s = sum(amount), n = count(),
        q = sum(quantity),
        totals = "all"))
    },
    listing = function(k) {
      listing(within_dates(only(k, customer_id == "C4231"), "2026-01-01", "2026-08-31"),
        groups = depot,
        lines = c(ordered_on, order_id), s = sum(amount), r = running(s, along = lines))
    },
    "listing per" = function(k) {
      listing(within_dates(k, "2026-08-01", "2026-08-31"), groups = depot,
        lines = ordered_on,
        per = order_id, s = sum(amount), ly = prior(s, year))
    },
    "listing month" = function(k) {
      listing(within_dates(k, "2026-07-20", "2026-08-10"), groups = c(month,
        depot),
        lines = c(ordered_on, day_of_week), s = sum(amount), sh = share(s))
    },
    headlines = function(k) {
      headlines(k, sales = sum(amount), orders = distinct(order_id),
        compare = "a year before")
    },
    crosstab = function(k) {
      crosstab(k, rows = depot, cols = quarter, s = sum(amount), r = rank(s),
        keep = list(depot = keep_top(3, s)), totals = "all")
    },
    rows_kept = function(k) {
      rollup(within_dates(k, "2026-03-01", "2026-08-31"), by = c(depot, month), s = sum(amount),
        g = growth(s, month),
        n = distinct(customer_id), before = prior(n, month), a = overall(s, within = month, using = median),
        keep = list(depot = keep_where(n > 300, others = "small"), month = keep_where(g < 0)), totals = "all")
    },
    valid_costs = function(k) {
      costs <- expand.grid(product_id = yard$products$product_id, region = c("North", "Peak", "Vale"),
        since = as.Date(c("2023-06-15", "2025-01-01", "2026-03-10")), stringsAsFactors = FALSE)
      costs$cost <- seq_len(nrow(costs)) %% 17 + 0.5
      costs$maker <- c("own", "bought")[seq_len(nrow(costs)) %% 2L + 1L]
      rollup(enrich(k, costs[-(1:4), ], by = c("product_id", "region"), from = "since", name = "costs"),
        by = c(maker, year),
        cost = sum(quantity * cost), margin = sum(amount) - cost, n = count(cost), totals = "all")
    },
    ages = function(k) {
      own <- work_out(k, first_on = of_each(customer_id, min(ordered_on)), cohort = start_of(first_on, year),
        age = periods_between(first_on, ordered_on, quarter))
      crosstab(own, rows = cohort, cols = age, n = distinct(customer_id), last = max(ordered_on),
        totals = "all")
    },
    members_figures = function(k) {
      own <- work_out(sent(k), first_on = of_each(customer_id, min(ordered_on)),
        spent = of_each(customer_id, sum(amount)),
        size = banded(spent, c(5000, 40000)), due = ordered_on + 30)
      rollup(within_dates(own, "2026-01-01", "2026-06-30"), by = c(size, month), s = sum(amount),
        new = only(distinct(customer_id), start_of(first_on, year) == start_of(ordered_on, year)),
          last = max(due),
        age = mean(as_of - first_on), open = open_at(count(), ordered_on, shipped_on),
        like = alike(sum(amount), customer_id, year), gap = median(gaps(ordered_on)),
          away = as_of - max(ordered_on),
        totals = "all")
    },
    days_sold = function(k) {
      rollup(within_dates(only(k, depot == "Garrick"), "2026-08-01", "2026-09-10"), by = day, s = sum(amount),
        p = prior(s, day, sold = TRUE), m = moving(s, 3, day, sold = TRUE), keep = keep_where(count() > 0))
    },
    lookups = function(k) {
      rollup(enrich(enrich(k, yard$customers, by = "customer_id"), yard$products,
        by = "product_id"),
        by = c(kind, channel), s = sum(amount), d = distinct(product_id), totals = "all")
    },
    groups = function(k) {
      rollup(work_out(k, g = regroup(region, Uplands = "North"), u = toupper(depot)),
        by = c(g, u),
        s = sum(amount))
    },
    "no such group" = function(k) work_out(k, g = regroup(region, Uplands = "Nowhere")),
    spelling = function(k) rollup(work_out(k, d = one_spelling(depot)), by = d, s = sum(amount)),
    "parts of dates" = function(k) {
      rollup(work_out(k, m = month_of_year(shipped_on),
        late = shipped_on - ordered_on), by = m,
        s = sum(late), x = max(late), f = min(shipped_on))
    },
    "other date" = function(k) {
      rollup(k, by = month, s = sum(amount), n = on(count(), shipped_on),
        w = on(sum(amount), shipped_on))
    },
    conditions = function(k) {
      rollup(only(k, quantity * discount > 10, !(channel %in% "web"),
        shipped_on >= "2025-06-01"),
        by = depot, s = sum(amount))
    },
    choices = function(k) {
      rollup(work_out(k, w = ifelse(channel == "web", amount, 0), t = paste(depot),
        u = least(quantity, discount),
        b = banded(amount, c(0, 100))), by = c(b, t), s = sum(w), u = sum(u), n = sum(abs(discount)),
          r = sum(round(amount, 0)))
    },
    "nothing known" = function(k) {
      rollup(work_out(k, w = ifelse(channel == "web", NA, amount), o = ifelse(discount > 0, depot, NA)),
        by = o,
        s = sum(w), n = count(w))
    },
    regardless = function(k) {
      rollup(only(sent(k), channel == "web"), by = depot, s = sum(amount),
        a = regardless(sum(amount), status),
        n = regardless(sum(amount), dates))
    },
    sorted = function(k) {
      rollup(k, by = c(region, depot), s = sum(amount),
        sort = list(depot = largest_first(s)), totals = "all")
    },
    cyclic = function(k) {
      rollup(k, by = c(day_of_week, channel), s = mean(each(day, sum(amount))),
        o = occurrences(month))
    },
    seen = function(k) {
      rollup(within_dates(k, "2026-08-01", "2026-08-31"), by = customer_id, s = sum(amount),
        ly = prior(s, year),
        members = "seen")
    },
    ends = function(k) {
      rollup(k, by = c(channel, year), f = first(amount), l = last(product_id),
        totals = "all")
    },
    values = function(k) {
      rollup(k, by = depot, d = distinct(customer_id), m = median(amount),
        q = quantile(amount, 0.9),
        c = most_common(product_id), v = var(amount), n = count(discount))
    },
    unmet = function(k) rollup(only(k, depot == "Skelbi"), by = year, s = sum(amount)),
    "not an amount" = function(k) rollup(k, by = depot, s = sum(channel)),
    "a code" = function(k) rollup(k, by = depot, s = sum(order_id)),
    "no such column" = function(k) rollup(k, by = depo, s = sum(amount)),
    check = function(k) check(k, today = "2026-09-18"),
    lines = function(k) as.data.frame(k, periods = month)
  )
}

# Asks of orders with a lookup of customers, which some of them lack.
looked_up_asks <- list(
  kinds = function(book) rollup(book, c(kind, year), s = sum(amount), n = count(), totals = "all"),
  condition = function(book) rollup(only(book, kind == "trade" | limit > 500), year, s = sum(amount)),
  amounts = function(book) rollup(book, region, s = sum(amount * rate), l = mean(limit), m = max(limit)),
  days = function(book) rollup(only(book, since < ordered_on), kind, n = count()),
  worked_out = function(book) rollup(work_out(book, k = toupper(kind)), k, s = sum(amount)),
  distinct = function(book) rollup(book, year, d = distinct(kind), m = median(rate)),
  crosstab = function(book) {
    crosstab(book, kind, region, s = only(sum(amount), since > as.Date("2020-01-01")))
  },
  listing = function(book) {
    listing(within_dates(book, "2024-03-01", "2024-03-02"), kind, c(order, rate), s = sum(amount))
  }
)

lookup_orders <- function(n = 3000L) {
  withr::with_seed(7, data.frame(
    order = seq_len(n), ordered_on = as.Date("2024-01-01") + sample.int(500L, n, TRUE),
    customer = sample(c(sprintf("C%03d", 1:60), NA, "c001"), n, TRUE), region = sample(c("N", "S"), n, TRUE),
    amount = round(stats::runif(n, -20, 300), 2)
  ))
}

lookup_customers <- function() {
  withr::with_seed(8, data.frame(
    customer = c(sprintf("C%03d", 1:50), "other"),
    kind = sample(c("trade", "private", NA, "it's"), 51L, TRUE),
    rate = sample(c(0.5, 1.25, NA), 51L, TRUE), limit = sample(c(100L, 1000L, NA), 51L, TRUE),
    since = as.Date("2019-06-01") + 40L * sample.int(50L, 51L, TRUE)
  ))
}

# Letters of texts are worked out there, as there may be too many texts to work each out here.
letters_asked <- expression(substr(t, 1, 2) == "ab", substr(t, 2, 9) != "", substr(t, 2, 3) %in% c("b", "bc"),
  substr(t, 1, 1) > "a", is.na(substr(t, 1, 2)), substr(t, 1, 1) %in% c("(none)", "x"), startsWith(t, "\u00e9"),
  !startsWith(t, "a\""), startsWith(t, ""), startsWith(t, "\u540d\u524d"), substr(t, 0, 1) == "x", substr(t, 3, 2) == "")

letters_orders <- function() {
  texts <- c("abc", "\u00e9t\u00e9 d'or", "", " ", "x", NA, "\u540d\u524d\u6f22\u5b57", "a\"b\\c%_", "AbC", "  lead",
    "\U0001F600ok", "e\u0301", "line\nbreak", "12", "2026-01-05")
  data.frame(on = "2026-01-05", t = texts, v = 2^(seq_along(texts) - 1))
}
