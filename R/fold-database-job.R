# The fold of a job over orders in a database: one query that groups by span, dimensions and what is
# kept apart, and one more for each amount whose values, or whose first and last, are wanted.

#' @export
fold.drystack_database_engine <- function(engine, job, dimensions, book) {
  cells <- cells_of_job(engine, job, dimensions, book)
  amounts <- lapply(job$amounts, sql_amount, query = cells$query)
  folded <- Map(amount_selected, amounts, seq_along(amounts),
    MoreArgs = list(db = engine$db, figures = figures_given(cells)))
  rows <- grouped_rows(engine, cells, folded)
  ends <- Map(function(amount, wanted) {
    if (wanted$position) ends_of_cells(engine, cells, amount)
  }, amounts, job$amounts)
  handed_over <- new.env(parent = emptyenv())
  # Of many lines it is the dearest query, and counts that are made there do without.
  values <- function(key) {
    ends[[key]] %||% remembered_in(handed_over, key, function() {
      values_of_cells(engine, cells, amounts[[key]], job$amounts[[key]]$repeated)
    })
  }
  groups <- groups_of(rows)
  count <- groups$count
  spans <- job$spans$count
  remembered <- new.env(parent = emptyenv())
  given <- function(state, at, numbers) {
    kernel_given_states(state, count, spans, at, lapply(numbers, as.numeric))
  }
  at <- cell_numbers(rows, groups)
  states <- Map(function(amount, picked) {
    numbers <- lapply(amount$columns, function(name) rows$numbers[[name]])
    amount_states(amount, numbers, rows$n, given, at, ends = picked, groups = groups)
  }, folded, ends)
  list(
    places = stats::setNames(groups$places[seq_along(dimensions)], names(dimensions)),
    entity = if (!is.null(job$entity)) groups$places[[length(groups$places)]],
    entity_id = job$entity$id,
    added_there = added_there(folded), rounded = rounded_sums(folded), count = count,
    lines = given("count", at, list(rows$n)),
    states = states, cells = NULL,
    values = function(key) values(key)$values %||% folded[[key]]$none,
    codes = function(key) kept_codes(values(key)$values, remembered, key),
    sorted = function(what, key, to_group, n_groups) {
      x <- if (what == "codes") kept_codes(values(key)$values, remembered, key)$codes
      sorted_values(values(key), groups, what, x, to_group, n_groups, spans)
    },
    figure = function(figure, key, at, from, to) {
      if (!is.null(handed_over[[key]]) || !is_plain_level(at, job)) {
        return(NULL)
      }
      figure_of_spans(figure, folded[[key]], rows, at, match(from, job$spans$cuts)) %||%
        if (figure == "distinct") counted_there(engine, job, dimensions, book, key, at, from, to)
    }
  )
}

# The amounts whose exact sums have more digits than a double, by their texts.
rounded_sums <- function(amounts) {
  vapply(unname(Filter(function(amount) amount$rounded$any, amounts)), `[[`, "", "text")
}

# What of the orders a job looks at, and into which cells: list(query, conditions, span: SQL,
# columns: the dimensions and the entity as SQL, by_day, job, dimensions, ...).
cells_of_job <- function(engine, job, dimensions, book) {
  query <- new_query(engine)
  cuts <- job$spans$cuts
  from <- cuts[1L]
  to <- from + length(job$spans$of_day) - 1L
  daily <- any(vapply(dimensions, by_day, NA)) ||
    length(rle(job$spans$of_day)$lengths) > most_cuts_said
  day <- sql_of_column(query, job$date$id)
  if (!day$kind %in% kinds_of_days) raise_no_dates(
    plain_values(column_kind(engine, column_node(job$date$name, job$date$id))), job$date$name)
  x <- lapply(Filter(Negate(by_day), dimensions), function(d) sql_of_axis(query, d$axis))
  own <- NULL
  if (!is.null(job$entity)) {
    own <- members(engine, dimension_axis(job$entity$name, job$entity$id))
    x <- c(x, list(sql_of_column(query, job$entity$id)))
  }
  other_day <- job$date$name != book$date && any(vapply(dimensions, by_day, NA))
  list(
    query = query, conditions = c(sql_conditions_met(query, job$scope),
      sql_days_of_job(query, job, book, from, to)),
    span = if (daily) sql_day(engine$db, day) else sql_span(engine$db, day, job$spans),
    own_day = if (other_day) sql_day(engine$db, date_expression(engine)), daily = daily, x = x,
    dimensions = dimensions, entity = own, job = job
  )
}

most_cuts_said <- 400L

kinds_of_days <- c("date", "iso", "days", "serial", "time", "zoned")

# Parts of the date are read off the day that the database groups by.
by_day <- function(dimension) {
  dimension$axis$kind == "cyclic" && dimension$axis$part != "hour_of_day"
}

# The span of a day as a tree of comparisons with the days where spans begin.
#' @export
sql_span.drystack_database <- function(db, day, spans) {
  runs <- rle(spans$of_day)
  begin <- spans$cuts[1L] + c(0L, cumsum(runs$lengths)[-length(runs$lengths)])
  tree <- function(from, to) {
    if (from == to) {
      return(if (runs$values[from] < 0L) "-1" else format(runs$values[from]))
    }
    half <- (from + to + 1L) %/% 2L
    paste0("CASE WHEN ", day$sql, " < ", sql_at_day(db, begin[half], day$kind), " THEN ",
      tree(from, half - 1L),
      " ELSE ", tree(half, to), " END")
  }
  tree(1L, length(begin))
}

# Of each order line its span, the day of the daybook's own date where that is another one, the
# dimensions and what is kept apart: list(inner, from, keys), as sql_query() takes them.
sql_lines <- function(cells) {
  out <- vapply(cells$x, sql_out, "", db = cells$query$db)
  inner <- c(
    ds_s = cells$span, ds_w = cells$own_day,
    stats::setNames(out, if (length(out) > 0L) paste0("ds_d", seq_along(out)))
  )
  from <- paste0(sql_from(cells$query), sql_where(cells$conditions))
  list(inner = inner, from = from, keys = names(inner))
}

# Keys are selected under their own names.
own_names <- function(keys) stats::setNames(keys, keys)

without_marks <- function(found) stats::setNames(found, sub("^ds_", "", names(found)))

# The lines and what is wanted of the amounts, for each group and span that occurs: list(spans,
# places, n, numbers by the names of their columns).
grouped_rows <- function(engine, cells, amounts) {
  lines <- sql_lines(cells)
  outer <- unlist(lapply(unname(amounts), `[[`, "outer"))
  found <- database_rows(engine$db, sql_query(
    engine$db, c(lines$inner, unlist(lapply(unname(amounts), `[[`, "inner"))), lines$from,
    c(own_names(lines$keys), ds_n = "count(*)", outer), lines$keys
  ))
  numbers <- found[names(outer)]
  found <- without_marks(found)
  rows <- placed(cells, found)
  c(rows, list(n = plain_numbers(found$n)[rows$kept], numbers = lapply(numbers, `[`, rows$kept)))
}

# The span of each row that came back, missing for none.
span_of_rows <- function(cells, found) {
  span <- as.integer(found$s)
  if (!cells$daily) {
    return(ifelse(span < 0L, NA, span + 1L))
  }
  of_day <- cells$job$spans$of_day[span - cells$job$spans$cuts[1L] + 1L]
  ifelse(of_day < 0L, NA, of_day + 1L)
}

# Where the rows that came back stand: list(kept: those that are in a span, and of members that no
# limit leaves out; spans, places: theirs).
placed <- function(cells, found) {
  spans <- span_of_rows(cells, found)
  places <- places_of_rows(cells, found)
  kept <- which(!is.na(spans) & within_limits(cells, places, length(spans)))
  if (!is.null(cells$entity)) places <- c(places, list(entity_places(cells, found)))
  list(kept = kept, spans = spans[kept], places = unname(lapply(places, `[`, kept)))
}

within_limits <- function(cells, places, rows) {
  here <- rep(TRUE, rows)
  for (condition in cells$job$scope) {
    limit <- condition$limit
    own <- places[names(limit$dimensions)]
    for (kept in limit$kept) own <- places_put_together(own, kept)
    for (table in limit$members) {
      here <- here & !is.na(match_rows(own[names(table)], table, rows, length(table[[1L]])))
    }
  }
  here
}

places_of_rows <- function(cells, found) {
  day <- as.integer(found$w %||% found$s)
  said <- names(cells$x)
  Map(function(dimension, name) {
    values <- if (by_day(dimension)) part_factor(day, dimension$axis$part, dimension$axis$calendar)
      else values_out(found[[paste0("d", match(name, said))]], cells$x[[name]], cells$query$db)
    place_or_none(values, dimension)
  }, cells$dimensions, names(cells$dimensions))
}

# The values of what is kept apart stand behind those of the dimensions.
entity_places <- function(cells, found) {
  last <- length(cells$x)
  place_or_none(values_out(found[[paste0("d", last)]], cells$x[[last]],
    cells$query$db), cells$entity)
}

# The groups that occur, in the order of their members: list(places, count, id: a function of the
# places of rows).
groups_of <- function(rows) {
  if (length(rows$places) == 0L) {
    return(list(places = list(), count = 1L, id = function(places, n) rep(1L, n)))
  }
  n <- length(rows$spans)
  first <- first_of_rows(rows$places, n)
  order <- first[do.call(base::order, c(unname(lapply(rows$places, `[`, first)), method = "radix"))]
  places <- lapply(rows$places, `[`, order)
  list(places = places, count = length(order), id = function(own, n) {
    match_rows(own, places, n,
      length(order))
  })
}

cell_numbers <- function(rows, groups) {
  id <- groups$id(rows$places, length(rows$spans))
  as.integer((rows$spans - 1L) * groups$count + id)
}
