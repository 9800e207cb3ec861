# The fold of a job over kept states: theirs are given to the kernel as they are.

# A job is answered where all it looks at is kept.
#' @export
fold.drystack_states <- function(engine, job, dimensions, book) {
  ids <- c(job$date$id, job$entity$id, condition_ids(job$scope), dimension_ids(dimensions))
  amounts <- lapply(job$amounts, kept_amount, engine = engine)
  fits <- job$date$name == engine$date$name && !job$rows && can_answer(engine, ids) &&
    !any(vapply(amounts, is.null, NA))
  if (!fits) {
    part <- of_orders(engine, list(dimensions = dimensions, job = job))
    return(fold(orders_engine(engine), part$job, part$dimensions, book))
  }
  frame <- states_frame(engine)
  rows <- state_rows(engine, frame, job, dimensions)
  groups <- groups_of(rows)
  at <- cell_numbers(rows, groups)
  given <- function(state, numbers) {
    kernel_given_states(state, groups$count, job$spans$count, at, lapply(numbers,
      function(x) as.numeric(x[rows$kept])))
  }
  list(
    places = stats::setNames(groups$places[seq_along(dimensions)], names(dimensions)),
    entity = if (!is.null(job$entity)) groups$places[[length(groups$places)]],
    entity_id = job$entity$id,
    count = groups$count, lines = given("count", list(engine$kept_rows$n)),
    states = lapply(amounts, kept_states_of, engine = engine, given = given), cells = NULL,
    values = function(key) numeric(), codes = NULL, sorted = NULL
  )
}

# The kept rows that a job reads: list(kept: which, spans, places).
state_rows <- function(engine, frame, job, dimensions) {
  day <- as.integer(engine$kept_rows$day)
  at <- day - job$spans$cuts[1L] + 1L
  at[is.na(at) | at < 1L | at > length(job$spans$of_day)] <- NA
  span <- job$spans$of_day[at]
  kept <- which(!is.na(span) & span >= 0L & (scope_mask(frame,
    settled_scope(engine, job$scope)) %||% TRUE))
  coded <- c(unname(dimensions), if (!is.null(job$entity)) list(column_codes(frame, job$entity$id,
    job$entity$name)))
  places <- lapply(coded, function(d) {
    place <- d$place[as.integer(d$codes)[kept]]
    place[is.na(place)] <- length(d$members) + 1L
    place
  })
  list(kept = kept, spans = span[kept] + 1L, places = places)
}

# An amount as it is kept, NULL where it is not, or not in the states that are wanted.
kept_amount <- function(amount, engine) {
  tree <- expanded_tree(amount$tree, engine)
  text <- tree_text(tree)
  for (own in names(engine$amount_texts)) {
    known <- engine$amount_texts[[own]]
    if (identical(known$text, text) && same_columns(engine, tree) &&
      all(amount$needs %in% known$needs) && !amount$position) {
      return(list(columns = own, needs = amount$needs))
    }
  }
}

# Only columns of the orders mean what they did, whatever the names of others.
same_columns <- function(engine, tree) {
  all(vapply(ids_of(tree), function(id) engine$meanings[[id]]$kind == "elsewhere", NA))
}

kept_states_of <- function(amount, engine, given) {
  rows <- engine$kept_rows
  column <- function(what) rows[[paste0(amount$columns, "_", what)]]
  known <- column("known")
  states <- list(missing = given("count", list(rows$n - known)))
  if ("sum" %in% amount$needs) states$sum <- given("sum", as_units(column("sum")))
  if ("moments" %in% amount$needs) {
    mean <- ifelse(known > 0, column("sum") / known, 0)
    states$moments <- given("moments", list(known, mean, column("squares")))
  }
  if ("extremes" %in% amount$needs) states$extremes <- given("extremes", list(column("least"),
    column("greatest")))
  states
}

# Sums that stand for decimals as whole ten-thousandths, others as they are.
as_units <- function(sums) {
  units <- round(sums * 10000)
  on <- !is.na(sums) & abs(units) < 2^51 & abs(sums * 10000 - units) <= 2^-52 * abs(units)
  list(ifelse(on, units, NA), ifelse(on, NA, sums))
}
