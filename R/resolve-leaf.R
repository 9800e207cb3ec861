# An aggregate over the groups and intervals of a leaf. A leaf that several measures
# share is worked out once.

resolve_leaf <- function(leaf, at) {
  key <- rlang::hash(list(leaf$key, leaf$job$key, leaf$along, leaf$from, leaf$to))
  remembered_in(at$seen, key, function() {
    spec <- aggregate_spec(leaf$fn)
    by_rows <- !is.null(along_axis(leaf, at)) && "rows" %in% spec$needs
    figure <- if (by_rows) resolve_up_to(leaf, at,
      resolve_leaf) else spec$finish(leaf_cell(leaf, at))
    unknown_without_days(figure, leaf, at)
  })
}

# The axis along which a figure runs on a level. Where the level has released it, a run
# within some axes goes along the last axis it keeps beyond these, so that a total shows
# how far the run has come.
along_axis <- function(tree, at) {
  along <- tree$along
  if (is.null(along) || along$axis %in% at$kept) {
    return(along$axis)
  }
  beyond <- if (!is.null(along$within)) setdiff(at$kept, along$within)
  if (length(beyond) > 0L) beyond[length(beyond)]
}

# What is worked out from rows or members cannot be carried on from group to group: each is
# worked out from all up to it.
resolve_up_to <- function(tree, at, resolve) {
  run <- along_order(tree, at)
  start <- cummax(ifelse(run$restart, seq_along(run$order), 0L))
  tree$along <- NULL
  result <- NULL
  for (k in seq_along(run$order)) {
    one <- rlang::env_clone(at)
    one$count <- 1L
    one$places <- lapply(at$places, `[`, run$order[k])
    one$seen <- new.env(parent = emptyenv())
    up_to <- run$order[start[k]:k]
    one$maps <- lapply(at$maps, function(map) ifelse(map %in% up_to, 1L, NA_integer_))
    found <- resolve(tree, one)
    if (is.null(result)) result <- with_face(matrix(NA_real_, at$count, length(found)),
      attr(found, "face"))
    result[run$order[k], ] <- as.numeric(found)
  }
  result %||% matrix(NA_real_, at$count, length(tree$from %||% tree$lines_seen[[1L]]$from))
}

# What an aggregate is finished from, made when it is asked for:
#
# first, end: of each interval the first span, and the one after its last
# sum, variance, extreme, known, quantile, gaps, sorted: figures and lists of rows from the states
# values, codes: of the amount, one for each order line; arguments: those of an R function
# given: a figure as it is given where the orders are, NULL where their values have to be looked at
# faced, within_doubles: how a figure is shown, and what no double holds
# constants, fn, text: what was said beside the amount
leaf_cell <- function(leaf, at) {
  job <- at$folded$jobs[[leaf$job$key]]
  engine <- function() engine_of(book_of_job(leaf$job, at$folded$book))
  cuts <- at$plan$jobs[[leaf$job$key]]$spans$cuts
  first <- match(leaf$from, cuts) - 1L
  end <- match(leaf$to + 1L, cuts) - 1L
  finished <- function(state, figure, amount = leaf$amount) {
    kernel_finish(kernel_merge_spans(level_state(leaf, at, amount, state), first, end), figure)
  }
  sorted <- function(what) level_sorted(leaf, at, what)
  values <- function() job$values(leaf$amount)
  list(
    first = first, end = end,
    sum = function() finished("sum", "sum"),
    variance = function() finished("moments", "variance"),
    extreme = function(end) finished("extremes", end),
    known = function() {
      lines <- finished("lines", "count", NULL)
      if (is.null(leaf$amount)) lines else lines - finished("missing", "count")
    },
    quantile = function(p) kernel_quantile(sorted("values"), first, end, p, thread_count()),
    gaps = function(fn, p) kernel_gaps(sorted("values"), first, end, fn, p, thread_count()),
    sorted = sorted,
    values = values,
    codes = function() job$codes(leaf$amount),
    given = function(figure) {
      if (!is.null(job$figure)) job$figure(figure, leaf$amount, at, leaf$from, leaf$to)
    },
    arguments = function() lapply(leaf$arguments, line_values, engine = engine()),
    faced = function(m) dated(m, column_kind(engine(), leaf$arguments[[1L]])),
    within_doubles = function(m) within_doubles(m, at$plan$notes),
    constants = leaf$options, fn = leaf$custom, text = leaf$text
  )
}

# What no double can hold is unknown, and said to be so.
within_doubles <- function(m, notes) {
  if (is.finite(sum(m))) {
    return(m)
  }
  beyond <- is.infinite(m) | is.nan(m)
  if (any(beyond)) notes$beyond <- TRUE
  m[beyond] <- NA_real_
  m
}

# Extremes of dates and date-times stand for dates and date-times.
dated <- function(m, some) {
  if (inherits(some, "Date")) {
    return(with_face(m, as_day_date))
  }
  if (inherits(some, "POSIXct")) {
    return(with_face(m, function(seconds) .POSIXct(seconds, attr(some, "tzone"))))
  }
  m
}

# A state of a job merged to the groups of the level, and along an axis where
# a running merge is wanted.
level_state <- function(leaf, at, amount, state) {
  key <- rlang::hash(list(leaf$job$key, amount, state, leaf$along))
  remembered_in(at$seen, key, function() {
    job <- at$folded$jobs[[leaf$job$key]]
    states <- if (state == "lines") job$lines else job$states[[amount]][[state]]
    to <- at$maps[[leaf$job$key]]
    if (!identical(to, seq_len(at$count)) || job$count != at$count)
      states <- kernel_merge_groups(states, to, at$count)
    if (is.null(along_axis(leaf, at))) {
      return(states)
    }
    run <- along_order(leaf, at)
    kernel_merge_along(states, run$order, run$restart)
  })
}

# The groups in the order of an axis, within the members of the other axes or of those said.
along_order <- function(tree, at) {
  axis <- along_axis(tree, at)
  within <- tree$along$within
  others <- at$places[if (is.null(within)) setdiff(names(at$places), axis)
    else intersect(names(at$places), within)]
  others <- c(unname(others), if (!is.null(at$entity)) list(at$entity))
  along <- if (is.null(within)) axis else setdiff(at$kept, within)
  shown <- c(others, lapply(unname(along), shown_along, at = at))
  order <- do.call(order, c(shown, list(method = "radix")))
  if (identical(tree$along$from, "end")) order <- rev(order)
  run <- row_ids(others, at$count)[order]
  list(order = order, restart = c(TRUE, run[-1L] != run[-length(run)])[seq_along(order)])
}

# The place of each group on an axis in the shown order.
shown_along <- function(axis, at) {
  order <- at$folded$order[[axis]]
  if (is.null(order)) {
    return(at$places[[axis]])
  }
  if (any(vapply(at$ask$axes[order$leading], is_period_axis, logical(1L)))) {
    raise("sort", c(
      paste0("{.fn running} along ", quoted(axis), " needs one order for all periods."),
      "x" = "Its members are in a different order in each period.",
      ">" = "Put the dimension before the period in the table."
    ))
  }
  if (all(order$leading %in% at$kept)) order_places(at$places, order, axis) else at$places[[axis]]
}

# What the rows of each group and span of the level hold: codes, values, or the rows themselves.
level_sorted <- function(leaf, at, what) {
  key <- leaf$job$key
  remembered_in(at$seen, paste("sorted", what, if (what != "rows") leaf$amount, key), function() {
    at$folded$jobs[[key]]$sorted(what, leaf$amount, at$maps[[key]], at$count)
  })
}
