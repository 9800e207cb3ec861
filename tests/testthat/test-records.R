# A record beside the orders: what its figures are, held against days worked out here; where they
# are unknown, how they are spread, and that the orders stay what they were.

yard_read <- made_once(function() harrowgill())

# The oracle: each line of the record by day, its cents to the largest remainders, and sums
# over days.
oracle_start <- function(d, unit) {
  y <- as.integer(format(d, "%Y"))
  m <- as.integer(format(d, "%m"))
  switch(unit,
    day = d, week = d - (as.integer(format(d, "%u")) - 1L), month = as.Date(sprintf("%d-%02d-01", y, m)),
    quarter = as.Date(sprintf("%d-%02d-01", y, 3L * ((m - 1L) %/% 3L) + 1L)),
    year = as.Date(sprintf("%d-01-01", y)))
}

oracle_end <- function(d, unit) {
  oracle_start(oracle_start(d, unit) + c(day = 1, week = 7, month = 32, quarter = 93, year = 367)[[unit]],
    unit) - 1
}

oracle_cents <- function(total, weight) {
  quota <- round(abs(total) * 100) * weight / sum(weight)
  cents <- floor(quota + 1e-9)
  more <- round(abs(total) * 100) - sum(cents)
  first <- utils::head(order(cents - quota, seq_along(weight)), more)
  cents[first] <- cents[first] + 1
  sign(total) * cents / 100
}

oracle_days <- function(targets, per, rule) {
  do.call(rbind, lapply(seq_len(nrow(targets)), function(i) {
    day <- seq(oracle_start(targets$p[i], per), oracle_end(targets$p[i], per), by = "day")
    open <- if (rule == "trading days") as.numeric(!format(day, "%u") %in% c("6", "7")) else rep(1,
      length(day))
    data.frame(depot = targets$depot[i], day = day, v = oracle_cents(targets$t[i], open))
  }))
}

random_records <- function(seed) {
  set.seed(seed)
  n <- sample(20:80, 1L)
  on <- as.Date("2024-01-01") + sample(0:40, 1L) + sample(0:400, n, TRUE)
  orders <- data.frame(d = on, depot = sample(c("A", "B", "C"), n, TRUE), prod = sample(c("x", "y"), n, TRUE),
    amt = round(stats::rnorm(n, 100, 60), 2))
  per <- sample(c("day", "month", "quarter", "week"), 1L)
  days <- seq(min(on) - sample(c(0, 60), 1L), max(on) + sample(c(-40, 0, 90), 1L), by = "day")
  periods <- unique(oracle_start(days, per))
  if (per == "day") periods <- sample(periods, 60L)
  targets <- expand.grid(p = periods, depot = c("A", "B", "D")[seq_len(sample(2:3, 1L))],
    stringsAsFactors = FALSE)
  targets$t <- round(stats::rnorm(nrow(targets), 300, 200), sample(c(0L, 2L), 1L))
  list(orders = orders, targets = targets, per = per,
    rule = if (per == "day") "none" else sample(c("none", "days", "trading days"), 1L))
}

test_that("random asks of two records are what days added up by hand give", {
  for (seed in seq_len(max(8L, trials(160)))) {
    made <- random_records(seed)
    calendar <- civil_calendar()
    if (made$rule == "trading days") calendar <- trading(calendar, closed = c("Saturday", "Sunday"))
    book <- alongside(daybook(made$orders, d, calendars = calendar), targets = made$targets, date = p,
      per = !!made$per, spread = made$rule)
    if (seed %% 2L == 0L) book <- as_of(book, max(made$orders$d) - sample(0:60, 1L))
    unit <- sample(c("week", "month", "quarter", "year"), 1L)
    by <- c("depot", if (seed %% 3L == 0L) "prod", unit)
    x <- rollup(book, by = !!by, s = sum(amt), t = of(targets, sum(t)), y = ytd(of(targets, sum(t))),
      w = whole(of(targets, sum(t)), quarter), totals = "all")
    rows <- plain(x)
    daily <- oracle_days(made$targets, made$per, made$rule)
    first <- oracle_start(as_day_date(x$shown$first), unit)
    last <- as_day_date(x$shown$last)
    sum_of <- function(a, z, row) {
      lies <- z < oracle_start(min(made$targets$p), made$per) || a > max(daily$day)
      cut <- a != oracle_start(a, made$per) || z != oracle_end(z, made$per)
      if (lies || cut && made$rule == "none" || "prod" %in% by && !is.na(rows$prod[row])) {
        return(NA_real_)
      }
      own <- is.na(rows$depot[row]) | daily$depot == rows$depot[row]
      sum(daily$v[daily$day >= a & daily$day <= z & own])
    }
    want <- vapply(seq_along(rows$depot), function(row) {
      period <- as.data.frame(x)[[unit]][row]
      a <- if (is.na(period)) first else as.Date(start_of(period))
      z <- if (is.na(period)) last else min(as.Date(end_of(period)), last)
      c(sum_of(a, z, row), sum_of(oracle_start(z, "year"), z, row),
        sum_of(oracle_start(z, "quarter"), oracle_end(z, "quarter"), row))
    }, numeric(3L))
    expect_equal(rbind(rows$t, rows$y, rows$w), want, info = paste("seed", seed), ignore_attr = TRUE)
    alone <- plain(rollup(book, by = !!by, s = sum(amt), totals = "all"))
    both <- match(do.call(paste, alone[c(by, ".role")]), do.call(paste, rows[c(by, ".role")]))
    expect_identical(rows$s[both], alone$s, info = paste("seed", seed))
    expect_no_error(tie_out(x))
  }
})

yard_with_targets <- function(...) {
  yard <- yard_read()
  daybook(yard$orders, ordered_on, calendars = list(fiscal = fiscal_calendar("July"),
    civil = civil_calendar())) |>
    work_out(depot = one_spelling(depot)) |>
    alongside(targets = yard$targets, date = month, ...)
}

notes_of <- function(x) paste(format(x), collapse = " ")

test_that("what is coarser than the rows is unknown, and notes say how it would be known", {
  book <- yard_with_targets()
  x <- rollup(book, c(depot, channel), t = of(targets, sum(target)), totals = "all")
  rows <- plain(x)
  expect_true(all(is.na(rows$t)))
  expect_match(gsub("\\s+", " ", notes_of(x)), "\"targets\" has no channel: its figures are unknown")
  whole <- plain(rollup(as_of(book, "2026-08-31"), depot, t = of(targets, sum(target)), totals = "all"))
  targets <- yard_read()$targets
  known <- targets[targets$order_month <= "2026-08", ]
  expect_identical(whole$t[5L], sum(as.numeric(known$target)))
  weeks <- rollup(within_dates(book, "2026-08-03", "2026-08-30"), week, t = of(targets, sum(target)))
  expect_true(all(is.na(plain(weeks)$t)))
  expect_match(gsub("\\s+", " ", notes_of(weeks)), "by month: it is unknown for a part of a month")
})

test_that("a condition on what the record does not know makes it unknown until that is said not to matter", {
  sold <- function(book) only(book, status != "cancelled")
  ask <- function(book) rollup(within_dates(book, "2026-07-01", "2026-08-31"), depot, t = of(targets,
    sum(target)))
  x <- ask(sold(yard_with_targets()))
  expect_true(all(is.na(plain(x)$t)))
  expect_match(gsub("\\s+", " ", notes_of(x)), "does not know .*status is not cancelled.*regardless")
  y <- ask(sold(yard_with_targets(regardless = "status")))
  expect_identical(plain(y)$t, plain(ask(yard_with_targets()))$t)
  one <- ask(only(yard_with_targets(), depot == "Skelby"))
  expect_identical(plain(one)$t,
    plain(ask(yard_with_targets()))$t[plain(ask(yard_with_targets()))$depot == "Skelby"])
})

test_that("what is spread over days and members adds up to the cent at every level", {
  for (rule in list(c("days", "equally"), c("trading days", "last year"), "last year")) {
    book <- yard_with_targets(spread = rule, shape = amount)
    shown <- within_dates(book, "2026-01-01")
    x <- crosstab(shown, rows = c(depot, channel), cols = month, t = of(targets, sum(target)), totals = "all")
    expect_no_error(tie_out(x))
    long <- as.data.frame(x, shape = "long")
    grand <- long$t[long$.role == "total"]
    lines <- long$t[long$.role == "line"]
    expect_identical(round(sum(lines), 2), grand[length(grand)], info = rule)
    expect_identical(lines, round(lines, 2))
    august <- plain(rollup(within_dates(book, "2026-08-01", "2026-08-31"), c(depot, channel),
      t = of(targets, sum(target)), totals = "all"))
    given <- yard_read()$targets
    expect_identical(august$t[august$.role == "total"],
      sum(as.numeric(given$target[given$order_month == "2026-08"])))
  }
})

test_that("the note of a part-way period says both figures, whole() gives the whole, days_left() the rest", {
  book <- yard_with_targets(spread = "days") |> within_dates("2026-09-01")
  x <- rollup(book, month, t = of(targets, sum(target)), w = whole(t), left = days_left(month))
  rows <- plain(x)
  expect_identical(c(rows$w, rows$left), c(504000, 12))
  expect_equal(rows$t, 302400, tolerance = 1e-6)
  expect_match(gsub("\\s+", " ", notes_of(x)), "18 of 30 days: t 302,400.18 of 504,000")
  said <- paste(format(explain(x, 1L, "t")), collapse = " ")
  expect_match(gsub("\\s+", " ", said), "4 lines of targets .* spread by days \\(18 of 30\\)")
  expect_identical(behind(x, 1L, "t")$depot, c("Skelby", "Thornmoor", "Garrick", "Eskholme"))
})

test_that("members of one record alone are named with their total, and have rows", {
  orders <- data.frame(d = as.Date(c("2026-01-05", "2026-02-05")), depot = c("A", "B"), amt = c(10, 20))
  targets <- data.frame(m = c("2026-01", "2026-02"), depot = c("A", "D"), t = c(5, 7.5))
  x <- rollup(as_of(alongside(daybook(orders, d), targets = targets, date = m), "2026-02-28"), depot,
    s = sum(amt),
    t = of(targets, sum(t)), totals = "grand")
  expect_identical(plain(x)$depot, c("A", "B", "D", NA))
  expect_identical(plain(x)$t, c(5, 0, 7.5, 12.5))
  expect_match(gsub("\\s+", " ", notes_of(x)),
    "1 member of depot has targets and no orders: \"D\" \\(t 7.50\\)")
  expect_match(gsub("\\s+", " ", notes_of(x)),
    "1 member of depot has orders and no targets: \"B\" \\(s 20\\)")
  expect_identical(behind(x, 3L, "t")$t, 7.5)
})

test_that("every engine gives the same, for the orders and for the record", {
  skip_if_not_installed("RSQLite")
  yard <- yard_read()
  file <- withr::local_tempfile(fileext = ".csv")
  daily <- data.frame(on = as.Date("2026-06-01") + 0:99, depot = c("Skelby", "Garrick"), visits = 1:100 / 4)
  utils::write.csv(daily, file, row.names = FALSE)
  ask <- function(orders, record) {
    book <- alongside(daybook(orders, ordered_on), visits = record, date = on)
    plain(rollup(within_dates(book, "2026-06-10"), c(depot, week), s = sum(amount), v = of(visits,
      sum(visits)),
      best = of(visits, max(visits)), each = of(visits, mean(each(depot, sum(visits)))),
      p = prior(of(visits, sum(visits))), r = rank(v), share = share(v), totals = "all"))
  }
  memory <- ask(yard$orders, daily)
  expect_identical(ask(yard$orders, file), memory)
  expect_equal(ask(harrowgill_path("orders.csv"), sqlite_orders(daily)), memory)
  expect_equal(ask(sqlite_orders(yard$orders), daily), memory)
  orders <- file.path(yard_folder(), "orders.csv")
  withr::local_options(drystack.memory = 4e6)
  parts <- ask(orders, file)
  expect_equal(parts, memory)
})

test_that("a daybook tells its records, which move neither its as-of date nor its last day", {
  book <- yard_with_targets()
  expect_match(format(book), "record +targets by month, 1 July 2024 to 30 June 2027", all = FALSE)
  expect_identical(book[c("as_of", "last", "rows")], demo_book()[c("as_of", "last", "rows")])
})

test_that("periods are read as calendars and files have them", {
  yard <- yard_read()
  book <- daybook(yard$orders, ordered_on,
    calendars = list(fiscal = fiscal_calendar("July"), civil = civil_calendar()))
  total <- function(periods, by = quarter) {
    record <- data.frame(when = periods, t = c(100, 200))
    x <- rollup(alongside(as_of(book, "2026-06-30"), g = record, date = when), by = {{ by }}, t = of(g,
      sum(t)))
    rows <- plain(x)
    rows$t[!is.na(rows$t) & rows$t != 0]
  }
  expect_identical(total(c("FY2026 Q3", "FY2026 Q4")), c(100, 200))
  expect_identical(total(c("Q1 2026", "2026-Q2")), c(100, 200))
  expect_identical(total(c("Jan 2026", "2026-04")), c(100, 200))
  expect_identical(total(c(202601, 202605)), c(100, 200))
  expect_identical(total(c(2024L, 2025L), year), numeric())
  expect_identical(total(as.Date(c("2026-01-31", "2026-05-31"))), c(100, 200))
  fiscal_alone <- daybook(yard$orders, ordered_on, calendars = fiscal_calendar("July"))
  expect_error(alongside(fiscal_alone, g = data.frame(when = c("2025", "2026"), t = 1:2), date = when),
    class = "drystack_error_record")
})

test_that("what is wrong is told with its mend", {
  book <- daybook(yard_read()$orders, ordered_on)
  targets <- yard_read()$targets
  expect_error(alongside(book, targets, date = month), "needs a name", class = "drystack_error_record")
  expect_error(alongside(book, t = targets, date = nowhere), class = "drystack_error_column")
  expect_error(alongside(book, t = targets, date = month, spread = "evenly"),
    class = "drystack_error_argument")
  expect_error(alongside(book, t = targets, date = month, spread = c("days", "trading days")),
    class = "drystack_error_record")
  expect_error(alongside(book, t = targets, date = month, spread = "last year"), "shape",
    class = "drystack_error_record")
  expect_error(alongside(book, t = targets, date = month, by = c(region = "area")),
    class = "drystack_error_column")
  expect_error(rollup(book, depot, t = of(targets, sum(target))), "no record",
    class = "drystack_error_record")
  two <- alongside(book, targets = targets, date = month)
  expect_error(rollup(two, depot, t = of(target, sum(target))), "targets", class = "drystack_error_record")
  expect_error(rollup(two, year, t = mean(each(channel, of(targets, sum(target))))), "has no column",
    class = "drystack_error_expression")
  doubled <- alongside(book, t = rbind(targets, targets[1:2, ]), date = month)
  expect_match(gsub("\\s+", " ", notes_of(rollup(doubled, depot, t = of(t, sum(target))))),
    "2 lines for a month")
})

test_that("headlines compare with a target, and figures draw it as a line", {
  book <- yard_with_targets(spread = "days") |> within_dates("2026-01-01", "2026-08-31")
  h <- headlines(book, sales = sum(amount), target = of(targets, sum(target)), against = list(sales = target))
  expect_identical(as.data.frame(h)$before[1L], as.data.frame(h)$figure[2L])
  part <- headlines(yard_with_targets(spread = "days"), sales = mtd(sum(amount)), target = of(targets,
    sum(target)),
    against = list(sales = target))
  expect_identical(lengths(gregexpr(" of 504,000", gsub("\\s+", " ", notes_of(part)))), 1L)
  drawn <- function(x) attr(suppressMessages(figure(x)), "drystack")$kind
  expect_identical(drawn(rollup(book, month, s = sum(amount), t = of(targets, sum(target)))), "targets")
  expect_identical(drawn(rollup(book, depot, s = sum(amount), t = of(targets, sum(target)))), "targets")
})

test_that("a command, a report and R say the same record, and each can be turned into the others", {
  folder <- yard_folder()
  withr::local_dir(folder)
  book <- daybook("orders.csv", ordered_on, calendars = fiscal_calendar("July")) |>
    alongside(targets = "targets.csv", date = month, spread = c("last year", "equally"),
      shape = amount - discount,
      regardless = "status") |>
    only(status != "cancelled")
  x <- rollup(book, c(depot, quarter), s = sum(amount), t = of(targets, sum(target)), totals = "all")
  command <- as_command(x)
  words <- scan(text = gsub("\\\\\n", " ", paste(command, collapse = "\n")), what = "", quiet = TRUE)
  expect_match(paste(command, collapse = " "), "--alongside", fixed = TRUE)
  saved <- as_standing(x, "plan.yml")
  built <- build_report("plan.yml", out = "out", formats = "csv")
  csv <- utils::read.csv(list.files("out", "csv$", full.names = TRUE)[1L], check.names = FALSE)
  expect_equal(sum(csv$t, na.rm = TRUE), sum(plain(x)$t, na.rm = TRUE))
  said <- records_of_texts("targets = \"targets.csv\", date = month, by = c(depot = \"depot\")",
    list(option = "alongside"))
  expect_identical(records_of_texts(record_text("targets", said), list(option = "alongside")), said)
  expect_error(records_of_texts("targets", list(option = "alongside")), class = "drystack_error_argument")
})

test_that("a target that has changed since is a term of what changed", {
  book <- function(targets) daybook(yard_read()$orders, ordered_on) |> alongside(targets = targets,
    date = month)
  before <- yard_read()$targets
  after <- before
  after$target[1L] <- after$target[1L] + 1000
  ask <- function(targets) rollup(as_of(book(targets), "2026-08-31"), year, t = of(targets, sum(target)))
  told <- paste(format(changes(ask(before), ask(after))), collapse = " ")
  expect_match(told, "Another record beside the orders +\\+1,000")
})

test_that("unknown amounts are no part of what is spread, and text is refused with its lines", {
  orders <- data.frame(d = as.Date("2026-01-10") + 0:3, amt = 1)
  spread <- function(values) {
    record <- data.frame(m = c("2026-01", "2026-01", "2026-02"), t = values)
    book <- as_of(alongside(daybook(orders, d), g = record, date = m, spread = "days"), "2026-02-14")
    plain(rollup(book, month, t = of(g, sum(t))))$t
  }
  expect_identical(spread(c(31, NA, 28)), c(31, 14))
  expect_identical(spread(c(-31, 0, 1 / 3)), c(-31, 0.1667))
  expect_error(spread(c("31 pounds", "b", "2")), "at rows 1, 2", class = "drystack_error_amount")
})

test_that("a listing shows a record in its groups, and not on the order lines", {
  book <- yard_with_targets(spread = c("days", "equally")) |> within_dates("2026-09-14")
  x <- listing(book, groups = c(depot, month), lines = c(ordered_on, order_id), s = sum(amount),
    t = of(targets, sum(target)))
  rows <- plain(x)
  expect_true(all(is.na(rows$t[rows$.role == "line"])))
  expect_false(anyNA(rows$t[rows$.role == "total"]))
})

test_that("another currency is refused, lookups are shared, and lines on closed days are counted", {
  orders <- data.frame(d = as.Date("2026-01-05") + 0:4, depot = rep_len(c("A", "B"), 5L), amt = 10,
    currency = "GBP")
  record <- function(currency) data.frame(on = as.Date("2026-01-03") + 0:4, depot = rep_len(c("A", "B"), 5L),
    t = 1:5,
    currency = currency)
  ask <- function(record, calendar = civil_calendar()) {
    daybook(orders, d, calendars = calendar) |>
      enrich(data.frame(depot = c("A", "B"), manager = c("Ann", "Bo")), by = "depot") |>
      alongside(g = record, date = on) |> rollup(manager, s = sum(amt), g = of(g, sum(t)))
  }
  expect_identical(plain(ask(record("GBP")))$g, c(8, 4))
  expect_error(ask(record("EUR")), "in EUR, the orders in GBP", class = "drystack_error_currencies")
  expect_error(ask(record(c("EUR", "GBP", "EUR", "GBP", "EUR"))), class = "drystack_error_currencies")
  closed <- ask(record("GBP"), trading(civil_calendar(), closed = "Monday"))
  expect_match(gsub("\\s+", " ", notes_of(closed)), "1 line of the record \"g\" lies on days without trade")
  mixed <- transform(orders, currency = rep_len(c("GBP", "EUR"), 5L))
  expect_error(rollup(daybook(mixed, d), o = outlook(sum(amt), month)), class = "drystack_error_currencies")
})

test_that("a short record can be typed in a report, and one typed in R is saved so", {
  folder <- yard_folder()
  withr::local_dir(folder)
  typed <- data.frame(month = c("2026-07", "2026-08"), depot = "Skelby", goal = c(240000, 200000.5))
  x <- daybook("orders.csv", ordered_on) |> alongside(goals = typed, date = month) |> as_of("2026-08-31") |>
    within_dates("2026-07-01") |> rollup(month, s = sum(amount), g = of(goals, sum(goal)))
  as_standing(x, "typed.yml")
  expect_true(any(grepl("lines:", readLines("typed.yml"))))
  build_report("typed.yml", out = "out", formats = "csv")
  expect_equal(utils::read.csv("out/typed.csv")$g, plain(x)$g)
  expect_error(as_command(x), "keep|Keep", class = "drystack_error_standing")
  expect_match(r_record("goals", list(lines = list(list(month = "2026-07", goal = 5)), date = "month")),
    "data.frame(month = \"2026-07\", goal = 5)", fixed = TRUE)
})

test_that("last year's shape is that of the matching days and members", {
  orders <- data.frame(d = as.Date(c("2025-01-10", "2025-01-20", "2025-01-20", "2026-01-02")),
    depot = "A", ch = c("w", "w", "c", "w"), v = c(30, 6, 4, 1))
  goal <- data.frame(m = c("2026-01", "2026-02"), depot = "A", t = c(100, 28))
  ask <- function(day, by = NULL) {
    book <- alongside(daybook(orders, d), g = goal, date = m, spread = "last year", shape = v)
    plain(rollup(within_dates(as_of(book, day), "2026-01-01"), {{ by }}, t = of(g, sum(t)), totals = "all"))
  }
  to_date <- vapply(c("2026-01-09", "2026-01-10", "2026-01-19", "2026-01-20", "2026-01-31"), function(day) {
    ask(day, month)$t[1L]
  }, 0)
  expect_identical(unname(to_date), c(0, 75, 75, 100, 100))
  # February had no orders a year before: it is spread by days.
  expect_identical(ask("2026-02-14", month)$t, c(100, 14, 114))
  # Only members on the dates shown take a part: all of it is of the web.
  expect_identical(ask("2026-01-20", ch)$t, c(100, 100))
})

test_that("odd records and orders: no rows, all unknown, a leap day, one line, amounts beyond counting", {
  orders <- data.frame(d = as.Date(c("2025-02-28", "2024-02-29", "2025-01-31")), p = c("a", "b", NA),
    v = c(10, 20, 5))
  goal <- data.frame(m = c("2025-02", "2024-02", "2025-02"), p = c("a", "b", "a"), t = c(28, 29, NA))
  beside <- function(goal, ...) alongside(daybook(orders, d), g = goal, date = m, ...)
  leap <- rollup(within_dates(beside(goal, spread = "days"), "2024-02-29", "2024-02-29"), day, t = of(g,
    sum(t)))
  expect_identical(plain(leap)$t, 1)
  none <- rollup(only(beside(goal), v > 1e9), p, t = of(g, sum(t)))
  expect_true(all(is.na(plain(none)$t)))
  expect_match(gsub("\\s+", " ", notes_of(none)), "say so where it is put beside them: regardless = \"v\"",
    fixed = TRUE)
  unknown <- rollup(beside(transform(goal, t = NA_real_), spread = "days"), p, t = of(g, sum(t)))
  expect_match(gsub("\\s+", " ", notes_of(unknown)), "T is unknown on 3 lines of the record \"g\"")
  expect_match(gsub("\\s+", " ", notes_of(as_of(daybook(orders, d), "2025-02-10") |>
    alongside(g = goal, date = m, spread = "days") |> rollup(p, t = of(g, mean(t))))),
      "only sums can be spread")
  wide <- data.frame(m = c("2025-01", "2025-02"), t = c(123456789012.35, 1e12 + 0.1))
  huge <- plain(rollup(within_dates(as_of(beside(wide, spread = "days"), "2025-02-27"), "2025-01-01"), day,
    t = of(g, sum(t))))$t
  expect_identical(huge, round(huge, 2))
  expect_equal(sum(huge[1:31]), 123456789012.35, tolerance = 1e-15)
  expect_error(beside(goal[0L, ]), class = "drystack_error_orders")
  expect_error(beside(transform(goal, m = NA_character_)), class = "drystack_error_date")
})

test_that("a report is built again when a record in a database has changed", {
  skip_if_not_installed("RSQLite")
  folder <- yard_folder()
  withr::local_dir(folder)
  keep <- function(goal) {
    con <- DBI::dbConnect(RSQLite::SQLite(), "plan.db")
    DBI::dbWriteTable(con, "goals", data.frame(id = 1:2, on = c("2026-08-01", "2026-07-01"), goal = c(goal,
      1)),
      overwrite = TRUE)
    DBI::dbDisconnect(con)
  }
  writeLines(c("drystack: 1", "orders: {file: orders.csv, date: ordered_on}", "as_of: 2026-08-31",
    "shown: {latest: 1 month}",
    "records: {plan: {database: 'sqlite:plan.db', table: goals, key: id, date: on, per: month}}",
    "page: [{rollup: {by: month, show: ['g = of(plan, sum(goal))']}}]"), "r.yml")
  built <- function() {
    build_report("r.yml", out = "out", formats = "csv")
    utils::read.csv("out/r.csv")$g
  }
  keep(100)
  expect_equal(built(), 100)
  keep(250)
  expect_equal(built(), 250)
})
