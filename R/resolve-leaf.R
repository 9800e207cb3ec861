# An aggregate over the groups and intervals of a leaf. A leaf that several measures share is worked out once.

resolve_leaf <- function(leaf, at) {
  key <- rlang::hash(list(leaf$text, job_key(leaf$job), leaf$along, leaf$from, leaf$to))
  remembered_in(at$seen, key, function() {
    spec <- aggregate_spec(leaf$fn)
    if (runs_along(leaf, at) && "rows" %in% spec$needs) resolve_rows_along(leaf, at, spec) else spec$finish(leaf_cell(leaf, at))
  })
}

runs_along <- function(leaf, at) !is.null(along_axis(leaf, at))

# The axis along which a leaf runs on a level. Where the level has released it, a run within some axes goes along the last
# axis it keeps beyond these, so that a total shows how far the run has come.
along_axis <- function(leaf, at) {
  along <- leaf$along
  if (is.null(along) || along$axis %in% at$kept) {
    return(along$axis)
  }
  beyond <- if (!is.null(along$within)) setdiff(at$kept, along$within)
  if (length(beyond) > 0L) beyond[length(beyond)]
}

# What is worked out from rows cannot be carried on from group to group: each is worked out from the rows of all up to it.
resolve_rows_along <- function(leaf, at, spec) {
  run <- along_order(leaf, at)
  start <- cummax(ifelse(run$restart, seq_along(run$order), 0L))
  map <- level_map(leaf, at)
  leaf$along <- NULL
  result <- NULL
  for (k in seq_along(run$order)) {
    one <- rlang::env_clone(at)
    one$count <- 1L
    one$seen <- new.env(parent = emptyenv())
    up_to <- run$order[start[k]:k]
    assign(paste("map", job_key(leaf$job)), ifelse(map %in% up_to, 1L, NA_integer_), envir = one$seen)
    found <- spec$finish(leaf_cell(leaf, one))
    if (is.null(result)) result <- with_face(matrix(NA_real_, at$count, length(found)), attr(found, "face"))
    result[run$order[k], ] <- as.numeric(found)
  }
  result
}

# What an aggregate is finished from: merged states, rows, values, all made when they are asked for.
leaf_cell <- function(leaf, at) {
  job <- at$folded$jobs[[job_key(leaf$job)]]
  cuts <- at$plan$jobs[[job_key(leaf$job)]]$spans$cuts
  cell <- list(first = match(leaf$from, cuts) - 1L, end = match(leaf$to + 1L, cuts) - 1L)
  merged <- function(amount, kind) kernel_merge_spans(level_state(leaf, at, amount, kind), kind, cell$first, cell$end)
  cell$state <- function(kind) merged(leaf$amount, kind)
  cell$known <- function() {
    lines <- merged(NULL, "lines")$a
    if (is.null(leaf$amount)) lines else lines - merged(leaf$amount, "missing")$a
  }
  cell$sum <- function() {
    decimal_sum(merged(leaf$amount, "sum"), job$decimals[[leaf$amount]], job$per_unit[[leaf$amount]])
  }
  cell$within_doubles <- function(m) within_doubles(m, at$plan$notes)
  cell$values <- function() job$values[[leaf$amount]]
  cell$sorted <- function(what) {
    level_sorted(leaf, at, what, switch(what, codes = cell$codes()$codes, values = cell$values()))
  }
  cell$quantile <- function(p) {
    kernel_quantile(cell$sorted("values"), cell$first, cell$end, p, thread_count())
  }
  cell$codes <- function() {
    key <- paste(job_key(leaf$job), leaf$amount)
    remembered_in(at$folded$codes, key, function() value_codes(cell$values(), leaf$amount))
  }
  cell$faced <- function(m) dated(m, cell$values())
  cell$arguments <- function() lapply(leaf$arguments, function(tree) row_values(tree, at$book$columns, at$book$rows))
  cell$constants <- leaf$options
  cell$fn <- leaf$custom
  cell$text <- leaf$text
  cell
}

# What no double can hold is unknown, and said to be so.
within_doubles <- function(m, notes) {
  beyond <- is.infinite(m) | is.nan(m)
  if (any(beyond)) notes$beyond <- TRUE
  m[beyond] <- NA_real_
  m
}

# Extremes of dates and date-times stand for dates and date-times.
dated <- function(m, values) {
  if (inherits(values, "Date")) {
    return(with_face(m, as_day_date))
  }
  if (inherits(values, "POSIXct")) {
    return(with_face(m, function(seconds) .POSIXct(seconds, attr(values, "tzone"))))
  }
  m
}

# Decimal amounts (cents) have a decimal sum: it is known to the last digit, and the binary fractions of the amounts
# are rounded off. Beyond 2^50 last places a double cannot tell them apart.
decimal_sum <- function(state, decimals, per_unit) {
  sum <- state$a
  if (per_unit > 0) {
    return((sum + state$b) / per_unit)
  }
  if (is.na(decimals)) {
    return(sum)
  }
  unit <- 10^decimals
  places <- round(sum * unit + state$b * unit)
  exact <- !is.na(places) & abs(places) < 2^50
  sum[exact] <- places[exact] / unit
  sum
}

# Codes of values, with the value and the order of each code.
value_codes <- function(values, name) {
  if (are_codes(values)) {
    known <- seq_len(max(values, na.rm = TRUE))
    return(list(codes = values, members = known, place = known, values = known))
  }
  coded <- dimension_codes(values, name)
  if (is.factor(values)) {
    return(list(codes = values, members = coded$members, place = coded$place, values = coded$members))
  }
  # In order of first appearance: `values` stand at their codes, `place` is their order.
  list(codes = coded$codes, members = coded$members, place = coded$place, values = coded$values)
}

# Small whole numbers are codes already: no copy is made of them.
are_codes <- function(values) {
  if (!is.integer(values) || is.object(values)) {
    return(FALSE)
  }
  least <- suppressWarnings(min(values, na.rm = TRUE))
  is.finite(least) && least >= 1L && max(values, na.rm = TRUE) <= max(1e5, length(values) / 8)
}

# A state of a job merged to the groups of the level, and along an axis where a running merge is wanted.
level_state <- function(leaf, at, amount, kind) {
  key <- paste(c(job_key(leaf$job), amount, kind, unlist(leaf$along), is.null(leaf$along$within)), collapse = "\r")
  remembered_in(at$seen, key, function() {
    job <- at$folded$jobs[[job_key(leaf$job)]]
    state <- if (is.null(amount)) job$states$lines else job$states[[amount]][[kind]]
    to <- level_map(leaf, at)
    if (!identical(to, seq_len(at$count)) || nrow(state$a) != at$count) {
      state <- kernel_merge_groups(state, kind, to, at$count)
    }
    if (!runs_along(leaf, at)) {
      return(state)
    }
    run <- along_order(leaf, at)
    kernel_merge_along(state, kind, run$order, run$restart)
  })
}

# Which group of the level each group of a job goes to.
level_map <- function(leaf, at) {
  key <- job_key(leaf$job)
  remembered_in(at$seen, paste("map", key), function() {
    job <- at$folded$jobs[[key]]
    if (length(at$kept) == 0L) rep(1L, nrow(job$states$lines$a)) else match(at$job_keys[[key]], at$keys)
  })
}

# The groups in the order of an axis, within the members of the other axes or of those said.
along_order <- function(leaf, at) {
  axis <- along_axis(leaf, at)
  within <- leaf$along$within
  if (is.null(within)) {
    others <- at$places[setdiff(names(at$places), axis)]
    order <- do.call(order, c(unname(others), list(shown_along(axis, at)), method = "radix"))
  } else {
    others <- at$places[intersect(names(at$places), within)]
    order <- do.call(order, c(lapply(unname(at$kept), shown_along, at = at), method = "radix"))
  }
  other <- if (length(others) == 0L) rep(1L, at$count) else do.call(paste, unname(others))
  run <- other[order]
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
      "x" = "Its members stand in another order in each period.",
      ">" = "Put the dimension before the period in the table."
    ))
  }
  if (all(order$leading %in% at$kept)) order_places(at$places, order, axis) else at$places[[axis]]
}

# What the rows of each group and span of the level hold: codes, values, or the rows themselves.
level_sorted <- function(leaf, at, what, x) {
  key <- job_key(leaf$job)
  remembered_in(at$seen, paste("sorted", what, if (what != "rows") leaf$amount, key, sep = "\r"), function() {
    job <- at$folded$jobs[[key]]
    to <- rep(NA_integer_, job$n_raw)
    to[job$groups] <- level_map(leaf, at)
    kernel_sort_by_cell(job$cells, to, at$count, at$plan$jobs[[key]]$spans$count, x, what == "codes", thread_count())
  })
}
