# Figures of a record that stands beside the orders: its jobs, and its leaves. A leaf is known where
# its days are whole periods of the record and its level keeps only axes that the record has;
# elsewhere a rule spreads the record's lines (plan-records-spread.R), or the figure is unknown.
#
# Of such a leaf `beside` tells: list(record; lacking: axes that the record does not have; cut: the
# cells with a part of its periods; spread: whether a rule divides it; conditions: those it does
# not know)

# Under of() the job is the record's, under the same conditions; a cell that begins with the orders
# begins with the period that holds their first day.
trace_of <- function(tree, at, frame) {
  record <- frame$records[[tree$record]]
  at$job <- record_job(record, at$job, frame)
  at$base <- opened_cells(at$base, record, frame)
  at$cells <- opened_cells(moved_alike(at$base, at$moves, at$level), record, frame)
  trace_measure(tree$child, at, frame_beside(record, frame))
}

# The record's frame: its own beginning, and whole to its end; `of_orders`: that of the orders.
frame_beside <- function(record, frame) {
  frame$of_orders <- frame
  opens <- opening_day(record, frame)
  frame$covered <- frame$as_of
  if (is.null(frame$cut_from)) frame$show_first <- opens
  frame$first <- frame$book_first <- record$first
  frame$date <- record$book$date
  frame
}

# The first day of the period that holds the first order: of the table, else of the record.
opening_day <- function(record, frame) {
  unit <- frame$grain %||% record$per %||% list(unit = "day", calendar = frame$book$calendars[[1L]])
  period_start(frame$show_first, unit$unit, unit$calendar)
}

opened_cells <- function(cells, record, frame) {
  if (is.null(frame$cut_from)) {
    begins <- !is.na(cells$from) & cells$from == frame$show_first
    cells$from[begins] <- opening_day(record, frame)
  }
  cells
}

# The job of a record under the conditions of a job of the orders; `unmet`: list(words, columns) of
# each that speaks of columns the record does not have, and depends on.
record_job <- function(record, job, frame) {
  scope <- lapply(job$scope, condition_beside, record = record, book = frame$book)
  lacking <- job$scope[vapply(scope, is.null, NA)]
  depends <- Filter(function(condition) !all(condition$columns %in% record$regardless), lacking)
  keyed_job(list(
    scope = c(Filter(Negate(is.null), scope), record$book$scope),
    date = list(name = record$book$date, id = record$book$columns[[record$book$date]]),
    entity = entity_beside(job$entity, record, frame$book),
    first = record$first, last = record$last, key = NULL, amounts = list(),
    rows = FALSE, spans = NULL,
    record = record$name, spread = NULL,
    unmet = lapply(depends, function(condition) condition[c("words", "columns")])
  ))
}

# A column kept apart in the orders, as the record has it; `ours`: its id in the orders, by which
# both are one.
entity_beside <- function(entity, record, book) {
  if (is.null(entity)) {
    return(NULL)
  }
  id <- column_beside(entity$id, record, book)
  if (is.null(id)) {
    raise("expression", c(
      paste0("The record ", quoted(record$name), " has no column ", quoted(entity$name), "."),
      ">" = "Its figures cannot be compared member by member: take a column that it has."))
  }
  list(name = entity$name, id = id, ours = entity$id)
}

# The records that an ask speaks of.
records_asked <- function(ask) {
  unique(c(ask$records, unlist(lapply(ask$measures, `[[`, "records")),
    unlist(lapply(rule_trees(ask), records_of))))
}

# The axes of a table that a record does not have.
axes_lacking <- function(record, frame) {
  dimensions <- Filter(Negate(is_period_axis), frame$axes)
  names(Filter(function(axis) is.null(axis_beside(axis, record, frame$book)), dimensions))
}

# Those that it may be spread over: order lines are no members, and where they are listed
# nothing is.
axes_to_spread <- function(record, frame) {
  if (any(vapply(frame$axes, is_line_axis, NA))) character() else axes_lacking(record, frame)
}

trace_leaf_beside <- function(tree, at, frame) {
  record <- frame$records[[at$job$record]]
  days <- days_of_leaf(at, frame, at$job$last)
  kept <- union(names(frame$axes)[at$level$keeps], at$along$axis)
  lacking <- intersect(axes_lacking(record, frame), kept)
  cut <- !is.na(days$from) & !whole_periods(days, record$per)
  spread <- record_rule(record, tree, axes_to_spread(record, frame), any(cut))
  if (!is.null(at$job$spread)) cut[] <- FALSE
  unknown <- length(at$job$unmet) > 0L | (length(lacking) > 0L & is.null(spread$members)) |
    (cut & is.null(spread$days))
  days <- lapply(days, function(day) replace(day, rep_len(unknown, length(day)), NA_integer_))
  leaf <- leaf_node(tree, at, days)
  leaf$beside <- list(record = record$name, lacking = lacking, cut = which(cut), spread = spread,
    conditions = at$job$unmet)
  if (is.null(spread) || all(is.na(days$from))) leaf else spread_leaf(leaf, record, spread, frame)
}

# Which rules spread an aggregate, and over which axes: sums alone can be divided. In a table by
# members that the record lacks all its levels read the lines as spread, so that they add up to
# the cent.
record_rule <- function(record, tree, lacking, by_days) {
  members <- if (length(lacking) > 0L) record$spread$members
  days <- if (by_days || !is.null(members)) record$spread$days
  if (tree$fn == "sum" && (!is.null(members) || by_days && !is.null(days))) {
    list(days = days, members = members, over = if (!is.null(members)) lacking else character())
  }
}

# Whether days are whole periods of a record.
whole_periods <- function(days, per) {
  if (is.null(per)) {
    return(TRUE)
  }
  period_start(days$from, per$unit, per$calendar) == days$from &
    period_end(days$to, per$unit, per$calendar) == days$to
}

# The leaf over the lines as they are spread: each amount is a column of theirs.
spread_leaf <- function(leaf, record, spread, frame) {
  lines <- spread_lines(record, spread[c("days", "members")], spread$over, frame)
  amount <- spread_amount(lines, leaf$arguments[[1L]])
  leaf$job$spread <- lines$key
  leaf$job <- keyed_job(leaf$job)
  leaf$arguments <- list(amount)
  leaf$key <- tree_key(amount)
  leaf$amount <- leaf$key
  leaf
}

# For each record asked the job of its own lines under the daybook's conditions on the dates shown:
# they say which members occur, beside the orders.
record_bases <- function(ask, base, frame) {
  lapply(records_asked(ask), function(name) {
    record <- frame$records[[name]]
    job <- record_job(record, base, frame)
    opens <- if (is.null(frame$cut_from)) opening_day(record, frame) else frame$cut_from
    ends <- frame$show_last
    if (!is.null(record$per)) {
      opens <- period_start(opens, record$per$unit, record$per$calendar)
      ends <- period_end(ends, record$per$unit, record$per$calendar)
    }
    lacking <- axes_to_spread(record, frame)
    if (length(lacking) > 0L && !is.null(record$spread$members)) {
      job$spread <- spread_lines(record, record$spread, lacking, frame)$key
      job <- keyed_job(job)
    }
    job$shown <- list(from = opens, to = ends)
    job
  })
}

# The daybook whose engine folds a job.
book_of_job <- function(job, book) {
  if (is.null(job$record)) {
    return(book)
  }
  record <- book$records[[job$record]]
  if (is.null(job$spread)) record$book else current_lines(record, job$spread)$book
}

# By record what its leaves met on the levels of the table: list(record, lacking, spread_over:
# axes; unknown,
# spread: whether parts of its periods are unknown or spread; days, members: the rules; conditions).
beside_told <- function(levels) {
  leaves <- unlist(lapply(levels, function(level) lapply(level$figures, leaves_of)),
    recursive = FALSE)
  beside <- Filter(Negate(is.null), lapply(unlist(leaves, recursive = FALSE), `[[`, "beside"))
  by_record <- split(beside, vapply(beside, `[[`, "", "record"))
  lapply(by_record, function(all) {
    of <- function(which, what) unique(unlist(lapply(Filter(which, all), what)))
    is_spread <- function(of) function(one) !is.null(one$spread[[of]])
    list(
      record = all[[1L]]$record, conditions = unique(unlist(lapply(all, `[[`, "conditions"),
        recursive = FALSE)),
      lacking = of(Negate(is_spread("members")), function(one) one$lacking),
      over = of(is_spread("members"), function(one) one$spread$over),
      members = of(is_spread("members"), function(one) one$spread$members),
      unknown = any(vapply(all, function(one) {
        is.null(one$spread$days) && length(one$cut) > 0L
      }, NA)),
      days = of(function(one) length(one$cut) > 0L, function(one) one$spread$days)
    )
  })
}
