# Random asks of the whole language against plain R over the order lines.

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

# The period rows of an ask: first and last day, cut to what is shown.
plain_periods <- function(ask, world) {
  if (is.null(ask$unit)) {
    return(list(list(from = world$shown_from, to = world$shown_to, period = NULL, label = "")))
  }
  start <- base_start(world$shown_from, ask$unit, world$starts)
  periods <- list()
  while (start <= world$shown_to) {
    end <- base_end(start, ask$unit, world$starts)
    from <- if (is.null(ask$limit)) start else max(start, ask$limit[1L])
    periods <- c(periods, list(list(from = from, to = min(end, world$shown_to),
      period = ask$unit, label = format(start))))
    start <- end + 1L
  }
  periods
}

same_figure <- function(got, want) {
  (is.na(got) && is.na(want)) || (!is.na(got) && !is.na(want) &&
    abs(got - want) <= 1e-9 * max(1, abs(got), abs(want)))
}

# The daybook and the table of an ask; NULL for a comparison that is refused by design.
plain_table <- function(ask, world, measures) {
  calendar <- if (world$starts == 1L) civil_calendar() else fiscal_calendar(world$starts)
  book <- as_of(daybook(world$orders, on, calendars = calendar), world$as_of)
  if (!is.null(ask$limit)) book <- within_dates(book, ask$limit[1L], ask$limit[2L])
  if (ask$paid) book <- only(book, paid)
  said_measures <- stats::setNames(lapply(measures, function(m) said(str2lang(m$text))), c("m1", "m2"))
  axes <- ask_axes(ask)
  cross <- ask_crosses(ask)
  request <- new_request(if (cross) "crosstab" else "rollup",
    rows = lapply(if (cross) axes[-1L] else axes, said),
    cols = lapply(if (cross) axes[1L] else character(), said),
    measures = said_measures, totals = "all", keep = if (!is.null(ask$keep)) keep_top(ask$keep, sum(amount)),
    members = if (ask$seen) "seen" else "shown"
  )
  # A comparison of other lengths is refused, as is a run along members that stand in
  # another order in each period.
  table <- tryCatch(make_table(request, book), drystack_error_period = function(e) NULL,
    drystack_error_sort = function(e) NULL)
  if (!is.null(table)) as.data.frame(table, shape = "long")
}

# The combinations that occur in scope on the dates shown are those of the lines.
same_rows <- function(rows, ask, base, world) {
  if (ask$seen || ask$cross || !is.null(ask$keep) || length(ask$dims) == 0L) {
    return(TRUE)
  }
  occurring <- plain_lines(base, world)
  combos <- unique(do.call(paste, lapply(ask$dims, plain_member, orders = occurring, world = world)))
  told <- unique(do.call(paste, lapply(rows[rows$.role == "line", ask$dims, drop = FALSE], as.character)))
  setequal(combos, told)
}

# The cell of a row.
plain_cell <- function(i, rows, ask, base, periods, world) {
  row <- rows[i, ]
  base$row <- i
  for (dimension in ask$dims) {
    value <- as.character(row[[dimension]])
    if (!is.na(value)) base$members[[dimension]] <- value
  }
  if (stands_for_others(row)) {
    dims <- setdiff(ask_axes(ask), ask$unit)
    last <- dims[length(dims)]
    base$members[[last]] <- plain_others(row, rows, last, setdiff(dims, last), world)
  }
  if (!is.null(ask$unit) && !is.na(row[[ask$unit]])) {
    labels <- vapply(periods, `[[`, "", "label")
    period <- periods[[match(format(start_of(row[[ask$unit]])), labels)]]
    base[c("from", "to")] <- period[c("from", "to")]
    base$period <- period$period
  }
  base
}

# What disagrees in one random ask, told so that it can be asked again.
disagreements <- function(seed) {
  withr::local_seed(seed)
  ask <- plain_ask()
  orders <- plain_orders(seed %% 40L + 1L)
  world <- c(ask$world, list(orders = orders, record = min(orders$on, na.rm = TRUE)))
  world$shown_from <- max(world$record, ask$limit[1L])
  world$shown_to <- min(world$as_of, ask$limit[2L])
  measures <- lapply(1:2, function(i) plain_measure(ask, world))
  rows <- if (world$shown_from <= world$shown_to) plain_table(ask, world, measures)
  if (is.null(rows)) {
    return(list(checked = 0L, wrong = character()))
  }
  base <- list(from = world$shown_from, to = world$shown_to, members = list(),
    paid = ask$paid, large = FALSE, date = "on")
  wrong <- if (same_rows(rows, ask, base, world)) character() else paste("rows of seed", seed)
  periods <- plain_periods(ask, world)
  cells <- lapply(seq_len(nrow(rows)), plain_cell, rows = rows,
    ask = ask, base = base, periods = periods, world = world)
  world$table <- list(rows = rows, axes = ask_axes(ask), cells = cells, base = base)
  some <- sample.int(nrow(rows), min(nrow(rows), 4L))
  for (i in some) {
    cell <- cells[[i]]
    for (k in 1:2) {
      want <- measures[[k]]$value(cell, world)
      got <- as.numeric(rows[[paste0("m", k)]][i])
      if (!same_figure(got, want)) {
        wrong <- c(wrong, sprintf("seed %d, row %d, %s: %s, not %s", seed, i, measures[[k]]$text, got, want))
      }
    }
  }
  list(checked = 2L * length(some), wrong = wrong)
}

test_that("random asks of the whole language give what plain R gives from the order lines", {
  found <- lapply(seq_len(trials(600L)), disagreements)
  expect_identical(as.character(unlist(lapply(found, `[[`, "wrong"))), character())
  expect_gt(sum(vapply(found, `[[`, 1L, "checked")), trials(600L) * 4L)
})
