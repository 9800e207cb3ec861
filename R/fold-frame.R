# The engine for orders in memory: the columns as they are, and what was worked out of
# them, kept from ask to ask: values of columns and conditions, members of dimensions with
# the code of each order line.

#' @export
as_engine.drystack_taken <- function(taken, date) {
  values <- taken$values(date$name)
  dates <- read_dates(values, date$name, date$order, date$undated)
  engine <- frame_engine(length(dates$days), dates$days)
  engine$date <- list(name = date$name, settled = is_settled(values))
  engine$told <- dates$told
  engine
}

frame_engine <- function(rows, days) {
  engine <- new_engine("drystack_frame", rows)
  engine$days <- days
  engine$kept <- new.env(parent = emptyenv())
  engine$before <- 0
  engine
}

#' @export
told_of_columns.drystack_frame <- function(engine) {
  if (is_late(engine$given)) unique(late(engine$given)$later$told)
}

kept <- function(engine, what, key, make) remembered_in(engine$kept, paste(what, key), make)

# What row trees are worked out over: all order lines, or the first few.
frame_view <- function(engine) {
  list(values = function(id) frame_values(engine, id), rows = engine$rows)
}

sample_rows <- 20L

sample_view <- function(engine) {
  n <- min(engine$rows, sample_rows)
  view <- list(rows = n)
  view$values <- function(id) {
    if (!is.null(engine$each_some[[id]])) {
      return(rep_len(engine$each_some[[id]], n))
    }
    meaning <- engine$meanings[[id]]
    switch(meaning$kind,
      source = vctrs::vec_slice(meaning$values, seq_len(n)),
      day = as_day_date(engine$days[seq_len(n)]),
      late = first_values(late_column(meaning$orders, meaning$place), n),
      worked_out = if (needs_all_lines(meaning$tree)) vctrs::vec_slice(
        frame_values(engine, id), seq_len(n))
      else whole_values(meaning$tree, view),
      looked_up = vctrs::vec_slice(meaning$values, rep_len(seq_along(meaning$values), n)),
      part = vctrs::vec_slice(frame_values(engine, id), seq_len(n))
    )
  }
  view
}

# An R function may look at whole columns, and groups are held against all members.
needs_all_lines <- function(tree) {
  tree_any(tree, function(one) one$kind == "custom" || identical(one$fn, "regroup"))
}

# The values of a column, one for each order line.
frame_values <- function(engine, id) {
  meaning <- engine$meanings[[id]]
  if (meaning$kind == "source") {
    return(meaning$values)
  }
  kept(engine, "values", id, function() {
    switch(meaning$kind,
      day = as_day_date(engine$days),
      late = expanded(late_column(meaning$orders, meaning$place)),
      worked_out = whole_of_tree(engine, meaning$tree),
      looked_up = vctrs::vec_slice(meaning$values, lookup_match(engine, meaning$lookup)$row),
      part = line_values(meaning$of, column_node("", meaning$id), meaning$rows)
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

# The row of the lookup for each order line, NA where there is none; each
# distinct key is looked for once.
rows_by_key <- function(coded, theirs) {
  at <- match(coded$members, member_text(plain_values(theirs)))[coded$place]
  codes <- as.integer(coded$codes)
  lacking <- is.na(at) & tabulate(codes, length(at)) > 0L
  list(row = at[codes], unmatched = sort_values(coded$members[coded$place[lacking]]),
    lines = sum(lacking[codes], na.rm = TRUE))
}

column_codes <- function(engine, id, name) {
  kept(engine, "codes", id, function() {
    coded <- coded_column(engine, id)
    if (is.null(coded)) dimension_codes(frame_values(engine, id),
      name) else codes_of_texts(coded, name)
  })
}

# A column of texts as its file gave it; NULL for any other.
coded_column <- function(engine, id) {
  meaning <- engine$meanings[[id]]
  column <- if (meaning$kind == "late") late_column(meaning$orders, meaning$place)
  if (is_coded(column)) column
}

# What an expression is on each order line. One of a single column of texts is worked
# out of the different texts.
whole_of_tree <- function(engine, tree, finish = identity) {
  ids <- ids_of(tree)
  coded <- if (length(ids) == 1L && !needs_all_lines(tree)) coded_column(engine, ids)
  if (is.null(coded) || length(coded$texts) >= engine$rows) {
    return(finish(whole_values(tree, frame_view(engine))))
  }
  texts <- c(coded$texts, NA)
  of_texts <- finish(whole_values(tree, list(values = function(id) texts, rows = length(texts))))
  codes <- coded$codes
  if (anyNA(codes)) codes[is.na(codes)] <- length(texts)
  vctrs::vec_slice(of_texts, codes)
}

# One logical for each order line: whether it meets a condition.
condition_mask <- function(engine, condition) {
  if (!is.null(condition$limit)) {
    return(seq_len(engine$rows) %in% of_members(condition$limit, seq_len(engine$rows)))
  }
  if (!is.null(engine$part)) {
    return(kept(engine, "mask", condition$key,
      function() condition_mask(engine$part$of, condition)[engine$part$rows]))
  }
  if (is.null(engine$kept[[paste("mask", condition$key)]]))
    make_room_for_mask(engine, condition$key)
  kept(engine, "mask", condition$key, function() {
    whole_of_tree(engine, condition$tree, function(met) met %in% TRUE)
  })
}

# Of ever other conditions, as by hand in the explorer, those met long ago are forgotten.
most_masks <- 200

make_room_for_mask <- function(engine, key) {
  most <- max(8, min(most_masks, allowed_memory() / 4 / (4 * engine$rows)))
  engine$masks <- c(engine$masks, key)
  while (length(engine$masks) > most) {
    old <- paste("mask", engine$masks[1L])
    if (!is.null(engine$kept[[old]])) rm(list = old, envir = engine$kept)
    engine$masks <- engine$masks[-1L]
  }
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
member_pairs.drystack_frame <- function(engine, a, b) {
  own <- lapply(list(a, b), members, engine = engine)
  first <- kernel_encode_pair(own[[1L]]$codes, own[[2L]]$codes, thread_count())$first
  lapply(own, function(dimension) dimension$place[dimension$codes[first]])
}

#' @export
orders_facts.drystack_frame <- function(engine, scope) {
  kept(engine, "facts", paste(vapply(scope, `[[`, "", "key"), collapse = " "), function() {
    mask <- scope_mask(engine, scope)
    days <- unclass(engine$days)
    if (!is.null(mask)) days <- days[mask]
    found <- kernel_day_facts(days, thread_count())
    list(
      lines = length(days), undated = found$missing, first = as.integer(found$first),
      last = as.integer(found$last)
    )
  })
}

#' @export
line_values.drystack_frame <- function(engine, tree, rows = NULL) {
  values <- whole_of_tree(engine, tree)
  if (is.null(rows)) values else vctrs::vec_slice(values, rows)
}

#' @export
line_days.drystack_frame <- function(engine) engine$days

#' @export
members.drystack_frame <- function(engine, axis) {
  switch(axis$kind,
    dimension = column_codes(engine, axis$column, axis$name),
    lines = list(
      codes = engine$line_codes, place = seq_len(engine$n_lines),
      members = as.character(seq_len(engine$n_lines)), factor = TRUE
    ),
    cyclic = kept(engine, "part", paste(axis$part, axis$calendar$id), function() {
      dimension_codes(cyclic_values(engine, axis), axis$name)
    })
  )
}

# A cyclic part is read off the dates.
cyclic_values <- function(engine, axis) {
  if (axis$part == "hour_of_day") hour_factor(frame_values(engine,
    axis$column)) else part_factor(engine$days, axis$part, axis$calendar)
}

# How many order lines no figure reads, by the first reason that fits: no date, after the as-of
# date, each condition unmet.
#' @export
left_out.drystack_frame <- function(engine, book) {
  if (length(book$scope) == 0L && book$as_of >= book$last) {
    return(c(book$undated, 0))
  }
  met <- lapply(book$scope, condition_mask, engine = engine)
  kernel_left_out(engine$days, book$as_of, met, thread_count())
}

#' @export
begin_anew.drystack_frame <- function(engine) engine$masks <- NULL
