# Random asks of the whole language, over orders drawn with a seed.

plain_orders <- function(seed) {
  withr::with_seed(seed, {
    n <- 260L
    on <- as.Date("2023-02-10") + sample.int(900L, n, TRUE)
    data.frame(
      on = replace(on, sample.int(n, 6L), NA),
      shipped = replace(on + sample(-2:40, n, TRUE), sample.int(n, 15L), NA),
      depot = sample(c("Skelby", "Garrick", "Thornmoor", NA), n, TRUE, c(5, 4, 2, 1)),
      channel = sample(c("web", "phone"), n, TRUE),
      customer = sample(c(sprintf("C%d", 1:9), NA), n, TRUE),
      amount = replace(round(stats::rnorm(n, 40, 60), sample(0:3, 1L)),
        sample.int(n, 12L), sample(c(NA, Inf, NaN), 12L, TRUE)),
      quantity = sample(c(-2:20, NA), n, TRUE), paid = sample(c(TRUE, FALSE, NA), n, TRUE, c(6, 2, 1))
    )
  })
}

# The dates shown and the axes of a random ask.
plain_ask <- function() {
  world <- list(starts = sample(c(1L, 7L, 4L), 1L), as_of = as.Date("2023-02-10") + sample(500:950, 1L))
  dims <- sample(list(character(), "depot", "channel", c("depot", "channel"), "customer"), 1L)[[1L]]
  cyclic <- if (stats::runif(1L) < 0.25) sample(c("day_of_week", "month_of_year"), 1L)
  unit <- if (stats::runif(1L) < 0.7) sample(c("month", "quarter", "year", "half"), 1L)
  limit <- if (stats::runif(1L) < 0.4) sort(world$as_of - sample(0:500, 2L))
  keep <- if (is.null(cyclic) && length(dims) > 0L && stats::runif(1L) < 0.25) sample(1:3, 1L)
  list(
    world = world, dims = c(dims, cyclic), keep = keep, unit = unit, cyclic = cyclic, limit = limit,
    paid = stats::runif(1L) < 0.4,
    period_first = stats::runif(1L) < 0.5, cross = is.null(keep) && stats::runif(1L) < 0.3,
    seen = stats::runif(1L) < 0.2
  )
}

plain_measure <- function(ask, world) {
  measure <- if (stats::runif(1L) < 0.06) plain_occurrences(sample(c("day", "month"), 1L))
    else plain_leaf(sample(names(plain_aggregates), 1L))
  lenses <- c("only", "regardless", "on", "or_zero", "daily_all", "daily", "customers")
  if (is.null(ask$cyclic)) lenses <- c(lenses, "ytd", "qtd", "mtd",
    "prior_year", "prior_two", "running", "back", "ytd", "prior_year")
  text <- ""
  for (kind in sample(lenses, sample(0:3, 1L), TRUE)) {
    if (kind == "customers" && grepl("customer", paste(measure$text, text))) next
    measure <- plain_lens(kind, measure, world)
    text <- measure$text
  }
  if (stats::runif(1L) < 0.3) plain_looking(measure, ask) else measure
}

# A lens on the table around a measure, where the ask has axes for it.
plain_looking <- function(measure, ask) {
  axes <- ask_axes(ask)
  kinds <- c("overall", "share", "rank", if (length(axes) > 0L)
    c("overall_within", "share_within", "rank_within"))
  if (!ask_crosses(ask)) kinds <- c(kinds, "parent")
  if (length(ask$dims) > 0L && is.null(ask$cyclic)) kinds <- c(kinds, "along", "along")
  kind <- sample(kinds, 1L)
  axis <- if (length(axes) > 0L) sample(if (kind == "along") ask$dims else axes, 1L) else ""
  plain_table_lens(kind, measure, axis)
}

ask_axes <- function(ask) if (ask$period_first) c(ask$unit, rev(ask$dims)) else c(ask$dims, ask$unit)

ask_crosses <- function(ask) ask$cross && length(ask_axes(ask)) > 1L

# The daybook of an ask, of orders as a data frame or a path.
plain_book <- function(ask, world, orders) {
  calendar <- if (world$starts == 1L) civil_calendar() else fiscal_calendar(world$starts)
  book <- as_of(daybook(orders, on, calendars = calendar), world$as_of)
  if (!is.null(ask$limit)) book <- within_dates(book, ask$limit[1L], ask$limit[2L])
  if (ask$paid) only(book, paid) else book
}

plain_request <- function(ask, measures) {
  said_measures <- stats::setNames(lapply(measures, function(m) said(str2lang(m$text))), c("m1", "m2"))
  axes <- ask_axes(ask)
  cross <- ask_crosses(ask)
  new_request(if (cross) "crosstab" else "rollup",
    rows = lapply(if (cross) axes[-1L] else axes, said),
    cols = lapply(if (cross) axes[1L] else character(), said),
    measures = said_measures, totals = "all", keep = if (!is.null(ask$keep)) keep_top(ask$keep, sum(amount)),
    members = if (ask$seen) "seen" else "shown"
  )
}

# What an ask gives: the figures, the notes and its order lines, or the error.
asked_of <- function(form, ask, world, request) {
  rlang::try_fetch({
    table <- make_table(request, plain_book(ask, world, form))
    list(
      data = as.data.frame(table, shape = "long"),
        notes = Filter(function(note) !grepl("^Reading|added up by the database", note),
        all_notes(table)), facts = table_facts(table)
    )
  }, drystack_error = function(e) {
    latest_refusal$words <- conditionMessage(e)
    class(e)[1L]
  })
}

# What the latest refusal said, for those that were not expected.
latest_refusal <- new.env()

# A random ask with its orders: list(ask, orders, world, request).
plain_trial <- function(seed) {
  set.seed(seed)
  ask <- plain_ask()
  orders <- plain_orders(seed)
  orders$amount[!is.finite(orders$amount)] <- NA
  world <- c(ask$world, list(orders = orders))
  list(ask = ask, orders = orders, world = world,
    request = plain_request(ask, lapply(1:2, function(i) plain_measure(ask, world))))
}

# What the orders of a trial answer in some form.
asked_of_trial <- function(form, trial) asked_of(form, trial$ask, trial$world, trial$request)
