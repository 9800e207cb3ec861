# What every cell of a table must be, by plain R over the order lines: no spans, no states, no
# levels. Each figure is worked out from scratch: which lines belong to the cell, and what the
# measure says of them. Dates are base R's.
#
# A measure of the oracle is a function of (cell, world) that gives one number; a cell is list(from,
# to, part: a function of days that says which belong to it, members: list by dimension, paid
# and large: whether only such lines count, date: the column that dates them, period: the unit of
# the period it is, or NULL). `world` is list(orders, record, as_of, starts: first month of the
# year, shown_from, shown_to).

plain_lines <- function(cell, world) {
  orders <- world$orders
  days <- orders[[cell$date]]
  # A line without the daybook's own date, or with one after the as-of date, is never seen.
  here <- !is.na(orders$on) & orders$on <= world$as_of & !is.na(days) &
    days >= cell$from & days <= min(cell$to, world$as_of)
  here[is.na(here)] <- FALSE
  if (cell$paid) here <- here & orders$paid %in% TRUE
  if (cell$large) here <- here & (orders$quantity > 5) %in% TRUE
  for (dimension in names(cell$members)) {
    value <- cell$members[[dimension]]
    here <- here & plain_member(orders, dimension, world) %in% value
  }
  cbind(orders[here, ], .dated = days[here])
}

plain_member <- function(orders, dimension, world) {
  if (dimension == "day_of_week") {
    return(ifelse(is.na(orders$on), "(none)", weekdays_of(orders$on)))
  }
  if (dimension == "month_of_year") {
    return(ifelse(is.na(orders$on), "(none)", month.abb[as.POSIXlt(orders$on)$mon + 1L]))
  }
  value <- as.character(orders[[dimension]])
  ifelse(is.na(value), "(none)", value)
}

# A cell that has no day of its own between the beginning of the record and
# the as-of date is unknown.
plain_known <- function(cell, world) {
  if (is.na(cell$from) || is.na(cell$to)) {
    return(FALSE)
  }
  from <- max(cell$from, world$record)
  to <- min(cell$to, world$as_of)
  if (from > to) {
    return(FALSE)
  }
  days <- seq(from, to, by = 1L)
  for (part in intersect(names(cell$members), c("day_of_week", "month_of_year"))) {
    days <- days[plain_member(data.frame(on = days), part, world) %in% cell$members[[part]]]
  }
  length(days) > 0L
}

plain_days <- function(cell, world) {
  days <- seq(max(cell$from, world$record), min(cell$to, world$as_of), by = 1L)
  for (part in intersect(names(cell$members), c("day_of_week", "month_of_year"))) {
    days <- days[plain_member(data.frame(on = days), part, world) %in% cell$members[[part]]]
  }
  days
}

finite_amounts <- function(x) x[is.finite(x)]

plain_aggregates <- list(
  "sum(amount)" = function(lines) sum(finite_amounts(lines$amount)),
  "count()" = function(lines) nrow(lines) + 0,
  "count(amount)" = function(lines) length(finite_amounts(lines$amount)) + 0,
  "mean(amount)" = function(lines) mean(finite_amounts(lines$amount)),
  "median(amount)" = function(lines) stats::median(finite_amounts(lines$amount)),
  "quantile(quantity, 0.8)" = function(lines) unname(stats::quantile(finite_amounts(lines$quantity), 0.8)),
  "min(quantity)" = function(lines) {
    if (all(is.na(lines$quantity))) NA else min(lines$quantity, na.rm = TRUE) + 0
  },
  "max(amount)" = function(lines) {
    if (length(finite_amounts(lines$amount)) == 0L) NA else max(finite_amounts(lines$amount))
  },
  "sd(amount)" = function(lines) stats::sd(finite_amounts(lines$amount)),
  "distinct(customer)" = function(lines) length(unique(lines$customer[!is.na(lines$customer)])) + 0,
  "sum(amount * quantity)" = function(lines) sum(finite_amounts(lines$amount * lines$quantity)),
  "weighted_mean(amount, quantity)" = function(lines) {
    both <- is.finite(lines$amount) & is.finite(lines$quantity)
    w <- sum(lines$quantity[both])
    if (w == 0) NA else sum((lines$amount * lines$quantity)[both]) / w
  },
  "last(quantity)" = function(lines) {
    known <- lines[!is.na(lines$quantity), ]
    if (nrow(known) == 0L) NA else known$quantity[order(known$.dated, seq_len(nrow(known)))][nrow(known)] + 0
  },
  "sum(amount) / count()" = function(lines) {
    if (nrow(lines) == 0L) NA else sum(finite_amounts(lines$amount)) / nrow(lines)
  }
)

plain_leaf <- function(text) {
  aggregate <- plain_aggregates[[text]]
  list(text = text, value = function(cell, world) {
    plain_look(cell, world)
    if (!plain_known(cell, world)) {
      return(NA_real_)
    }
    value <- as.numeric(aggregate(plain_lines(cell, world)))
    if (is.nan(value)) NA_real_ else value
  })
}

# What a figure looks at is noted where somebody asks which members it sees.
plain_look <- function(cell, world) {
  if (is.environment(world$watch)) world$watch$cells <- c(world$watch$cells, list(cell))
}

# How often the cell's days, or months with some day of the cell, came round before the orders end.
plain_occurrences <- function(unit) {
  list(text = sprintf("occurrences(%s)", unit), value = function(cell, world) {
    plain_look(cell, world)
    cell$to <- min(cell$to, max(world$orders$on, na.rm = TRUE))
    if (is.na(cell$from) || cell$from > cell$to || !plain_known(cell, world)) {
      return(NA_real_)
    }
    days <- plain_days(cell, world)
    if (unit == "day") length(days) + 0 else length(unique(format(days, "%Y-%m"))) + 0
  })
}

# Lenses: each takes a measure of the oracle and gives another.

plain_lens <- function(kind, inner, world) {
  start <- function(day, unit) base_start(day, unit, world$starts)
  end <- function(day, unit) base_end(day, unit, world$starts)
  moved <- function(text, move) {
    list(text = text, value = function(cell, world) {
      cell <- move(cell)
      if (is.null(cell)) NA_real_ else inner$value(cell, world)
    })
  }
  so_far <- function(fn, unit) {
    moved(sprintf("%s(%s)", fn, inner$text), function(cell) {
      cell$from <- start(cell$to, unit)
      cell$period <- unit
      cell
    })
  }
  size <- c(month = 1L, quarter = 3L, half = 6L, year = 12L)
  prior <- function(unit, n) {
    moved(sprintf("prior(%s, %s, %d)", inner$text, unit, n),
      function(cell) plain_prior(cell, size[[unit]] * n, world))
  }
  running <- function(from) {
    moved(sprintf("running(%s, from = \"%s\")", inner$text, from), function(cell) {
      if (from == "start") cell$from <- world$shown_from else cell$to <- world$shown_to
      cell$period <- NULL
      cell
    })
  }
  switch(kind,
    ytd = so_far("ytd", "year"),
    qtd = so_far("qtd", "quarter"),
    mtd = so_far("mtd", "month"),
    prior_year = prior("year", 1L),
    prior_two = prior("year", 2L),
    running = running("start"),
    back = running("end"),
    only = list(text = sprintf("only(%s, quantity > 5)", inner$text), value = function(cell, world) {
      cell$large <- TRUE
      inner$value(cell, world)
    }),
    regardless = list(text = sprintf("regardless(%s, paid)", inner$text), value = function(cell, world) {
      cell$paid <- FALSE
      inner$value(cell, world)
    }),
    on = list(text = sprintf("on(%s, shipped)", inner$text), value = function(cell, world) {
      cell$date <- "shipped"
      cell$from <- max(cell$from, world$record)
      inner$value(cell, world)
    }),
    or_zero = list(text = sprintf("or_zero(%s)", inner$text), value = function(cell, world) {
      value <- inner$value(cell, world)
      if (is.na(value)) 0 else value
    }),
    daily_all = list(text = sprintf("mean(each(day, %s, days = \"all\"))", inner$text),
      value = function(cell, world) {
      plain_each_day(inner, cell, world, plain_known(cell, world), all = TRUE)
    }),
    daily = list(text = sprintf("max(each(day, %s))", inner$text), value = function(cell, world) {
      plain_each_day(inner, cell, world, plain_known(cell, world), all = FALSE)
    }),
    customers = list(text = sprintf("sum(each(customer, %s))", inner$text), value = function(cell, world) {
      # Its members are those that any figure inside sees, in the cell that it looks at.
      world$watch <- new.env()
      inner$value(cell, world)
      looked <- Filter(function(one) plain_known(one, world), world$watch$cells)
      world$watch <- NULL
      if (length(looked) == 0L) {
        return(NA_real_)
      }
      seen <- unlist(lapply(looked, function(one) plain_member(plain_lines(one, world), "customer", world)))
      values <- vapply(unique(seen), function(customer) {
        cell$members$customer <- customer
        inner$value(cell, world)
      }, 0)
      sum(values, na.rm = TRUE)
    })
  )
}

plain_each_day <- function(inner, cell, world, known, all) {
  plain_look(cell, world)
  world$watch <- NULL
  if (!known) {
    return(NA_real_)
  }
  days <- plain_days(cell, world)
  if (!all) days <- days[days %in% plain_lines(cell, world)[[cell$date]]]
  values <- vapply(as.list(days), function(day) {
    cell$from <- cell$to <- day
    cell$period <- "day"
    inner$value(cell, world)
  }, 0)
  values <- values[!is.na(values)]
  if (length(values) == 0L) NA_real_ else if (all) mean(values) else max(values)
}

# By position: whole periods to whole periods, a part-way end to its matching day, a single day to
# the same day of the month.
plain_prior <- function(cell, months, world) {
  same_day <- function(day) {
    first <- base_add_months(as.Date(format(day, "%Y-%m-01")), -months)
    min(first + (day - as.Date(format(day, "%Y-%m-01"))), base_add_months(first, 1L) - 1L)
  }
  if (identical(cell$period, "day") || (is.null(cell$period) && cell$from == cell$to)) {
    cell$from <- cell$to <- same_day(cell$from)
    return(cell)
  }
  if (is.null(cell$period)) {
    cell$from <- base_match(cell$from, months)
    cell$to <- base_match(cell$to, months)
    return(cell)
  }
  start <- base_start(cell$from, cell$period, world$starts)
  end <- base_end(cell$from, cell$period, world$starts)
  new_start <- base_add_months(start, -months)
  new_end <- base_end(new_start, cell$period, world$starts)
  within <- function(day) min(max(base_match(day, months), new_start), new_end)
  cell$from <- if (cell$from == start) new_start else within(cell$from)
  cell$to <- if (cell$to == end) new_end else within(cell$to)
  cell
}
