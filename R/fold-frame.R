# The engine for orders in memory: the columns as they are, and what was worked out of them, kept from ask to ask: values of
# columns and conditions, members of dimensions with the code of each order line.

#' @export
as_engine.list <- function(columns, days) frame_engine(length(days), days)

frame_engine <- function(rows, days) {
  engine <- new_engine("drystack_frame", rows, days)
  engine$kept <- new.env(parent = emptyenv())
  engine
}

kept <- function(engine, what, key, make) remembered_in(engine$kept, paste(what, key), make)

# What row trees are worked out over: all order lines, or the first few.
frame_view <- function(engine) list(values = function(id) frame_values(engine, id), rows = engine$rows)

sample_rows <- 20L

sample_view <- function(engine) {
  n <- min(engine$rows, sample_rows)
  view <- list(rows = n)
  view$values <- function(id) {
    meaning <- engine$meanings[[id]]
    switch(meaning$kind,
      source = vctrs::vec_slice(meaning$values, seq_len(n)),
      worked_out = if (needs_all_lines(meaning$tree)) vctrs::vec_slice(frame_values(engine, id), seq_len(n))
      else whole_values(meaning$tree, view),
      looked_up = vctrs::vec_slice(meaning$values, rep_len(seq_along(meaning$values), n)),
      part = vctrs::vec_slice(frame_values(engine, id), seq_len(n))
    )
  }
  view
}

# An R function may look at whole columns, and groups are held against all members.
needs_all_lines <- function(tree) {
  tree$kind == "custom" || identical(tree$fn, "regroup") || any(vapply(subtrees(tree), needs_all_lines, NA))
}

# The values of a column, one for each order line.
frame_values <- function(engine, id) {
  meaning <- engine$meanings[[id]]
  if (meaning$kind == "source") {
    return(meaning$values)
  }
  kept(engine, "values", id, function() {
    switch(meaning$kind,
      worked_out = whole_values(meaning$tree, frame_view(engine)),
      looked_up = vctrs::vec_slice(meaning$values, lookup_match(engine, meaning$lookup)$row),
      part = vctrs::vec_slice(frame_values(meaning$of, meaning$id), meaning$rows)
    )
  })
}

#' @export
lookup_match.drystack_frame <- function(engine, id) {
  kept(engine, "lookup", id, function() {
    lookup <- engine$meanings[[id]]
    if (lookup$kind == "part") {
      whole <- lookup_match(lookup$of, lookup$id)
      return(list(row = whole$row[lookup$rows], unmatched = whole$unmatched, lines = whole$lines))
    }
    coded <- column_codes(engine, lookup$by, "the key")
    rows_by_key(coded, lookup$keys)
  })
}

# The row of the lookup for each order line, NA where there is none; each distinct key is looked for once.
rows_by_key <- function(coded, theirs) {
  at <- match(coded$members, member_text(plain_values(theirs)))[coded$place]
  codes <- as.integer(coded$codes)
  lacking <- is.na(at) & tabulate(codes, length(at)) > 0L
  list(row = at[codes], unmatched = coded$members[coded$place[lacking]], lines = sum(lacking[codes], na.rm = TRUE))
}

column_codes <- function(engine, id, name) {
  kept(engine, "codes", id, function() dimension_codes(frame_values(engine, id), name))
}

# One logical for each order line: whether it meets a condition.
condition_mask <- function(engine, condition) {
  if (!is.null(condition$limit)) {
    return(seq_len(engine$rows) %in% of_members(condition$limit, seq_len(engine$rows)))
  }
  if (!is.null(engine$part)) {
    return(kept(engine, "mask", condition$key, function() condition_mask(engine$part$of, condition)[engine$part$rows]))
  }
  kept(engine, "mask", condition$key, function() whole_values(condition$tree, frame_view(engine)) %in% TRUE)
}

# Whether each order line meets all of some conditions; NULL when there are none.
scope_mask <- function(engine, scope) {
  if (length(scope) == 0L) {
    return(NULL)
  }
  Reduce(`&`, lapply(scope, condition_mask, engine = engine))
}

#' @export
column_kind.drystack_frame <- function(engine, tree) {
  whole <- function() line_values(engine, tree)
  if (needs_all_lines(tree)) {
    return(whole())
  }
  rlang::try_fetch(whole_values(tree, sample_view(engine)), drystack_error = function(e) whole())
}

#' @export
orders_facts.drystack_frame <- function(engine, scope) {
  kept(engine, "facts", paste(vapply(scope, `[[`, "", "key"), collapse = " "), function() {
    mask <- scope_mask(engine, scope)
    days <- if (is.null(mask)) engine$days else engine$days[mask]
    found <- kernel_day_facts(days, thread_count())
    list(
      lines = length(days), undated = found$missing, first = as.integer(found$first), last = as.integer(found$last)
    )
  })
}

#' @export
line_values.drystack_frame <- function(engine, tree, rows = NULL) {
  values <- whole_values(tree, frame_view(engine))
  if (is.null(rows)) values else vctrs::vec_slice(values, rows)
}

#' @export
members.drystack_frame <- function(engine, axis) {
  switch(axis$kind,
    dimension = column_codes(engine, axis$column, axis$name),
    lines = list(
      codes = engine$line_codes, place = seq_len(engine$n_lines), members = as.character(seq_len(engine$n_lines)),
      factor = TRUE
    ),
    cyclic = kept(engine, "part", paste(axis$part, axis$calendar$id), function() {
      dimension_codes(cyclic_values(engine, axis), axis$name)
    })
  )
}

# A cyclic part is read off the dates.
cyclic_values <- function(engine, axis) {
  if (axis$part == "hour_of_day") hour_factor(frame_values(engine, axis$column)) else part_factor(engine$days,
    axis$part, axis$calendar)
}

# How many order lines no figure reads, by the first reason that fits: no date, after the as-of date, each condition unmet.
#' @export
left_out.drystack_frame <- function(engine, book) {
  if (length(book$scope) == 0L && book$as_of >= book$last) {
    return(c(book$undated, 0))
  }
  met <- lapply(book$scope, condition_mask, engine = engine)
  kernel_left_out(engine$days, book$as_of, met, thread_count())
}

# The states of a job: list(places: of its groups among the members of each dimension, one beyond the last for missing;
# entity: of each group the place of what is kept apart, by the column entity_id; count: of groups; lines, states: of lines, and
# of each amount by its key those wanted; values, codes: functions of an amount's key, its values and these as codes; sorted: a
# function that gives what the rows of each group and span hold).
#' @export
fold.drystack_frame <- function(engine, job, dimensions, book) {
  coded <- c(unname(dimensions), if (!is.null(job$entity)) list(column_codes(engine, job$entity$id, job$entity$name)))
  joint <- joint_codes(coded, job$spans$count)
  days <- job_days(engine, job, book)
  values <- lapply(job$amounts, amount_values, engine = engine)
  amounts <- Map(fold_values, values, job$amounts, MoreArgs = list(days = days))
  folded <- kernel_in_bounds(kernel_fold(
    days, job$spans$cuts[1L], job$spans$of_day, job$spans$count, joint$codes, joint$levels, job_mask(engine, job, book),
    unname(amounts), wanted_states(job$amounts), job$rows, thread_count(), getOption("drystack.progress"),
    getOption("drystack.progress_after", 2)
  ))
  occurs <- if (length(coded) == 0L) 1L else folded$occurs
  places <- Map(function(codes, d) c(d$place, length(d$members) + 1L)[codes[occurs]], joint$members, coded)
  # In the order of the members, so that nothing merged from groups depends on which row came first.
  order <- if (length(places) == 0L) 1L else do.call(base::order, c(unname(places), method = "radix"))
  groups <- occurs[order]
  places <- lapply(places, `[`, order)
  remembered <- new.env(parent = emptyenv())
  keep <- function(states) {
    to <- rep(NA_integer_, folded$groups)
    to[groups] <- seq_along(groups)
    if (identical(groups, seq_len(folded$groups))) states else kernel_merge_groups(states, to, length(groups))
  }
  list(
    places = stats::setNames(places[seq_along(dimensions)], names(dimensions)),
    entity = if (!is.null(job$entity)) places[[length(places)]], entity_id = job$entity$id, count = length(groups),
    lines = keep(folded$lines),
    states = stats::setNames(lapply(folded$columns, lapply, keep), names(job$amounts)), cells = folded$cells,
    values = function(key) values[[key]], codes = function(key) kept_codes(values[[key]], remembered, key),
    sorted = function(what, key, to_group, n_groups) {
      to <- rep(NA_integer_, folded$groups)
      to[groups] <- to_group
      x <- switch(what, codes = kept_codes(values[[key]], remembered, key)$codes, values = values[[key]])
      kernel_sort_by_cell(folded$cells, to, n_groups, job$spans$count, x, what == "codes", thread_count())
    }
  )
}

kept_codes <- function(values, remembered, key) remembered_in(remembered, key, function() value_codes(values, key))

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

# What the kernel cannot number or hold is told in our words.
kernel_in_bounds <- function(code) {
  rlang::try_fetch(code, error = unless_ours(function(e) {
    if (!grepl("2 billion cells|bad_alloc|length_error", conditionMessage(e))) {
      return(rlang::zap())
    }
    raise("memory", c(
      "The request asks for more cells than can be held.", "x" = braces_kept(conditionMessage(e)),
      ">" = "Ask for fewer dimensions or coarser periods."
    ))
  }))
}

wanted_states <- function(amounts) {
  matrix(
    as.logical(unlist(lapply(c("sum", "moments", "extremes"), function(state) {
      vapply(amounts, function(a) state %in% a$needs, NA)
    }))), length(amounts), 3L
  )
}

# All dimensions as codes small enough to be addressed directly, or else joined into the combinations that occur.
# `members` holds for each joint code the code in each dimension, one more than the last for missing.
joint_codes <- function(dimensions, spans) {
  sizes <- vapply(dimensions, function(d) length(d$members), 1L)
  if (length(sizes) <= 1L || prod(sizes + 1) * spans <= most_direct_cells) {
    return(list(codes = lapply(dimensions, `[[`, "codes"), levels = as.integer(sizes), members = all_members(sizes)))
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

# Members of every combination, the last dimension running fastest, as the kernel numbers its groups.
all_members <- function(sizes) {
  total <- prod(sizes + 1)
  each <- rev(cumprod(rev(c(sizes[-1L] + 1, 1))))
  lapply(seq_along(sizes), function(i) {
    as.integer(rep_len(rep(seq_len(sizes[i] + 1L), each = each[i]), total))
  })
}

# One logical for each order line of a job, or NULL for all. Read off another date, a line without the daybook's own date, or
# with one after the as-of date, is no order that is seen.
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
  kept(engine, "days", job$date$id, function() read_days(frame_values(engine, job$date$id), job$date$name))
}

# The values of an aggregate's argument, one for each order line. What is no finite number is unknown.
amount_values <- function(amount, engine) {
  values <- whole_values(amount$tree, frame_view(engine))
  if (is.double(values) && !is.object(values) && any(c("any", "ordered") %in% amount$reads)) values <- finite_values(values)
  if (amount$position) {
    return(values)
  }
  if ("amount" %in% amount$reads) check_amount(values, amount$tree)
  if ("ordered" %in% amount$reads && !inherits(values, c("Date", "POSIXct"))) check_amount(values, amount$tree)
  if (amount$code_refused && amount$tree$kind == "column") check_not_code(values, amount$tree$name)
  values
}

finite_values <- function(values) if (is.finite(sum(values, na.rm = TRUE))) values else finite(values)

# As the kernel takes them: numbers; of other values only whether they are known, or where they stand.
fold_values <- function(values, amount, days) {
  if (amount$position) {
    return(positions(days, values))
  }
  if (is.factor(values) || !(is.numeric(values) || is.logical(values) || inherits(values, c("Date", "POSIXct")))) {
    return(ifelse(is.na(values), NA, TRUE))
  }
  values
}

check_amount <- function(values, tree) {
  if (inherits(values, "integer64")) {
    return(values)
  }
  if (!(is.numeric(values) || is.logical(values)) || is.factor(values) || inherits(values, "Date")) {
    raise_not_amount(values, tree)
  }
  values
}

# Whole numbers under a name that codes have, or different on nearly every line with one length, are no amounts.
check_not_code <- function(values, name) {
  if (!looks_like_code(values, name)) {
    return()
  }
  raise("amount", c(
    paste0(quoted(name), " looks like a code, not an amount: adding it up means nothing."),
    "x" = "Its values: {examples_of(utils::head(unique(values), 5))}.",
    ">" = paste0("Count it with {.code distinct(", braces_kept(name_text(name)), ")}; if it is an amount all the same, say ",
                 "{.code sum(as_amount(", braces_kept(name_text(name)), "))}.")
  ))
}

# The order lines of a part of a figure (see table-parts.R): dated within its days, meeting its conditions, of its members.
#' @export
order_lines.drystack_frame <- function(engine, part) {
  days <- as.integer(job_days(engine, part$job, part$book))
  rows <- which(days >= part$from & days <= part$to)
  mask <- job_mask(engine, part$job, part$book)
  if (!is.null(mask)) rows <- rows[mask[rows]]
  of_members(part, rows)
}

# Those of some rows that stand for the members of a part.
of_members <- function(part, rows) {
  places <- lapply(part$dimensions, line_places, rows = rows)
  for (kept in part$kept) places <- places_put_together(places, kept)
  here <- rep(TRUE, length(rows))
  for (table in part$members) {
    here <- here & !is.na(match_rows(places[names(table)], table, length(rows), length(table[[1L]])))
  }
  rows[here]
}

#' @export
rows_of_orders.drystack_frame <- function(engine, rows) if (is.null(engine$part)) rows else engine$part$rows[rows]

line_places <- function(dimension, rows) {
  place <- dimension$place[as.integer(dimension$codes[rows])]
  place[is.na(place)] <- length(dimension$members) + 1L
  place
}

# The orders of some rows only, as an engine in which every column and condition means what it did.
#' @export
orders_part.drystack_frame <- function(engine, rows) {
  part <- frame_engine(length(rows), engine$days[rows])
  part$part <- list(of = engine, rows = rows)
  for (id in ls(engine$meanings)) assign(id, list(kind = "part", of = engine, id = id, rows = rows), envir = part$meanings)
  part$last_id <- engine$last_id
  part$functions <- engine$functions
  part
}

#' @export
number_lines.drystack_frame <- function(engine, per) {
  line <- line_numbers(engine$days, per)
  engine$n_lines <- max(line, 0L)
  engine$line_codes <- structure(line, levels = as.character(seq_len(engine$n_lines)), class = "factor")
  line
}

# Only periods that have lines are members.
#' @export
period_column.drystack_frame <- function(engine, axis) {
  start <- period_start(as.integer(engine$days), axis$unit, axis$calendar)
  starts <- sort(unique(start))
  labels <- period_labels(starts, axis$unit, axis$calendar)
  new_meaning(engine, list(kind = "source", values = factor(labels[match(start, starts)], levels = labels)))
}
