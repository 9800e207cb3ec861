# The fold of a job over orders in memory.

# The states of a job: list(places: of its groups among the members of each dimension, one beyond
# the last for missing; entity: of each group the place of what is kept apart, by the column
# entity_id; count: of groups; lines, states: of lines, and of each amount by its key those wanted;
# values, codes: functions of an amount's key, its values and these as codes; sorted: a function
# that gives what the rows of each group and span hold).
#' @export
fold.drystack_frame <- function(engine, job, dimensions, book) {
  coded <- c(unname(dimensions), if (!is.null(job$entity))
    list(column_codes(engine, job$entity$id, job$entity$name)))
  joint <- joint_codes(coded, job$spans$count)
  days <- job_days(engine, job, book)
  values <- lapply(job$amounts, amount_values, engine = engine)
  amounts <- Map(fold_values, values, job$amounts,
    MoreArgs = list(days = days, before = engine$before))
  folded <- kernel_fold(
    days, job$spans$cuts[1L], job$spans$of_day, job$spans$count,
    joint$codes, joint$levels, job_mask(engine, job, book), unname(amounts),
    unname(lapply(job$amounts, `[[`, "needs")), job$rows, thread_count(),
    getOption("drystack.progress"), getOption("drystack.progress_after", 2)
  )
  occurs <- if (length(coded) == 0L) 1L else folded$occurs
  places <- Map(function(codes, d) c(d$place, length(d$members) + 1L)[codes[occurs]],
    joint$members, coded)
  # In the order of the members, so that nothing merged from groups depends on which row came first.
  order <- if (length(places) == 0L) 1L else do.call(base::order,
    c(unname(places), method = "radix"))
  groups <- occurs[order]
  places <- lapply(places, `[`, order)
  remembered <- new.env(parent = emptyenv())
  keep <- function(states) {
    to <- rep(NA_integer_, folded$groups)
    to[groups] <- seq_along(groups)
    if (identical(groups, seq_len(folded$groups))) states else kernel_merge_groups(states, to,
      length(groups))
  }
  list(
    places = stats::setNames(places[seq_along(dimensions)], names(dimensions)),
    entity = if (!is.null(job$entity)) places[[length(places)]],
    entity_id = job$entity$id, count = length(groups), lines = keep(folded$lines),
    states = stats::setNames(lapply(folded$columns, lapply, keep), names(job$amounts)),
    cells = folded$cells,
    values = function(key) values[[key]], codes = function(key) {
      kept_codes(values[[key]], remembered, key)
    },
    sorted = function(what, key, to_group, n_groups) {
      to <- rep(NA_integer_, folded$groups)
      to[groups] <- to_group
      x <- switch(what, codes = kept_codes(values[[key]], remembered, key)$codes,
        values = values[[key]])
      kernel_sort_by_cell(folded$cells, to, n_groups, job$spans$count, x, what == "codes",
        thread_count())
    }
  )
}

kept_codes <- function(values, remembered, key) {
  remembered_in(remembered, key, function() value_codes(values, key))
}

# Codes of values, with the value and the order of each code.
value_codes <- function(values, name) {
  if (are_codes(values)) {
    known <- seq_len(max(values, na.rm = TRUE))
    return(list(codes = values, members = known, place = known, values = known))
  }
  if (is.factor(values)) {
    coded <- dimension_codes(values, name)
    return(list(codes = values, members = coded$members, place = coded$place,
      values = coded$members))
  }
  check_dimension(values, name)
  coded <- coded_values(values)
  list(codes = coded$codes, members = coded$distinct, place = coded$place, values = coded$values)
}

# Small whole numbers are codes already: no copy is made of them.
are_codes <- function(values) {
  if (!is.integer(values) || is.object(values)) {
    return(FALSE)
  }
  least <- suppressWarnings(min(values, na.rm = TRUE))
  is.finite(least) && least >= 1L && max(values, na.rm = TRUE) <= max(1e5, length(values) / 8)
}

# All dimensions as codes small enough to be addressed directly, or else joined into the
# combinations that occur. `members` holds for each joint code the code in each dimension, one more
# than the last for missing.
joint_codes <- function(dimensions, spans) {
  sizes <- vapply(dimensions, function(d) length(d$members), 1L)
  if (length(sizes) <= 1L || prod(sizes + 1) * spans <= most_direct_cells) {
    return(list(codes = lapply(dimensions, `[[`, "codes"), levels = as.integer(sizes),
      members = all_members(sizes)))
  }
  joined <- list(codes = dimensions[[1L]]$codes)
  for (d in dimensions[-1L]) joined <- kernel_encode_pair(joined$codes, d$codes, thread_count())
  members <- lapply(seq_along(dimensions), function(i) {
    code <- as.integer(dimensions[[i]]$codes[joined$first])
    code[is.na(code)] <- sizes[i] + 1L
    code
  })
  list(codes = list(joined$codes), levels = length(joined$first), members = members)
}

most_direct_cells <- 2^22

# Members of every combination, the last dimension running fastest, as the
# kernel numbers its groups.
all_members <- function(sizes) {
  total <- prod(sizes + 1)
  each <- rev(cumprod(rev(c(sizes[-1L] + 1, 1))))
  lapply(seq_along(sizes), function(i) {
    as.integer(rep_len(rep(seq_len(sizes[i] + 1L), each = each[i]), total))
  })
}

# One logical for each order line of a job, or NULL for all. Read off another date, a line without
# the daybook's own date, or with one after the as-of date, is no order that is seen.
job_mask <- function(engine, job, book) {
  mask <- scope_mask(engine, job$scope)
  if (job$date$name == book$date) {
    return(mask)
  }
  seen <- !is.na(engine$days) & engine$days <= book$as_of
  if (is.null(mask)) seen else mask & seen
}

job_days <- function(engine, job, book) {
  if (job$date$name == book$date) {
    return(engine$days)
  }
  kept(engine, "days", job$date$id, function() {
    read_days(frame_values(engine, job$date$id), job$date$name)
  })
}
