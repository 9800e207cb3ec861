# Random asks of the whole language against plain R over the order lines.

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

# The table of an ask; NULL for a comparison that is refused by design.
plain_table <- function(ask, world, measures) {
  # A comparison of other lengths is refused, as is a run along members that stand in
  # another order in each period.
  table <- tryCatch(make_table(plain_request(ask, measures), plain_book(ask, world, world$orders)),
    drystack_error_period = function(e) NULL, drystack_error_sort = function(e) NULL)
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
