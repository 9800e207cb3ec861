# Order lines that no key tells apart, or that are not in memory, as their states by day and by the
# columns that tables speak of. What moved figures is told by the days and members that have fewer
# order lines, more, or as many with other amounts.
#
# rows: as partial_rows() gives them; by: columns; amounts: list(text, needs), by the beginning of
# the names
#   of their numbers; date: list(name, order, undated); some: some values of each column that is
#   spoken of
new_day_states <- function(rows, by, amounts, date, some) {
  structure(list(rows = rows, by = by, amounts = amounts, date = date, some = some),
    class = "drystack_day_states")
}

with_rows <- function(states, rows) {
  states$rows <- rows[names(states$rows)]
  states
}

# Of more combinations none are kept.
most_day_states <- 200000L

# By which columns and of which amounts states are kept that answer some tables: list(by, amounts).
states_wanted <- function(tables, book) {
  engine <- engine_of(book)
  jobs <- unlist(lapply(tables, function(table) {
    unname(new_plan(table$ask, table_book(table))$jobs)
  }),
    recursive = FALSE)
  jobs <- Filter(function(job) is.null(job$record), jobs)
  ids <- c(
    unlist(lapply(jobs, function(job) c(condition_ids(job$scope), job$entity$id))),
    unlist(lapply(tables, function(table) lapply(dimension_axes(table$ask), `[[`, "column")))
  )
  amounts <- unlist(lapply(jobs, `[[`, "amounts"), recursive = FALSE)
  given <- lapply(unname(amounts), amount_as_given, engine = engine, given = book$made$columns)
  texts <- unique(unlist(lapply(given, `[[`, "text")))
  wanted <- lapply(texts, function(text) {
    same <- Filter(function(one) identical(one$text, text), given)
    list(text = text, needs = intersect(kept_needs, unlist(lapply(same, `[[`, "needs"))))
  })
  list(by = setdiff(given_names(book, ids), book$date),
    amounts = stats::setNames(wanted, paste0("a", seq_along(wanted), recycle0 = TRUE)))
}

# The columns of the orders as they were given that some columns are worked out of.
given_names <- function(book, ids) {
  given <- book$made$columns
  names(given)[given %in% base_ids(engine_of(book), ids)]
}

# An amount in words of the columns given, NULL where states do not hold it.
amount_as_given <- function(amount, engine, given) {
  tree <- expanded_tree(amount$tree, engine)
  fits <- all(amount$needs %in% kept_needs) && !amount$position && all(ids_of(tree) %in% given)
  # The mean about which squares are taken comes of the sum.
  if (fits) list(text = tree_text(tree), needs = union("sum", amount$needs))
}

# The states of the orders of a daybook; NULL where a column is missing, or there are too many.
day_states <- function(book, by, amounts, some = NULL) {
  given <- book$made$columns
  vocabulary <- new_vocabulary(columns = given)
  rows <- if (all(by %in% names(given))) rlang::try_fetch({
    read <- lapply(amounts, function(amount) {
      c(list(tree = parse_row(kept_expression(amount$text), vocabulary)), amount)
    })
    merged_rows(partial_rows(engine_of(book), given[by], read), length(by), names(amounts))
  }, drystack_error = function(e) NULL)
  if (is.null(rows) || nrow(rows) > most_day_states) {
    return(NULL)
  }
  date <- list(name = book$date, order = book$made$date_order, undated = book$made$undated)
  new_day_states(rows, by, amounts, date, some)
}

# Orders as daybook() takes them in, of which only the states are known.
orders_of_states <- function(states) {
  kept <- list(
    rows = states$rows, by = states$by, names = names(states$some), date = states$date$name,
    amounts = states$amounts,
    reading = list(date_order = states$date$order), undated = states$date$undated,
    path = "what was told", told = NULL, some = states$some,
    timed = inherits(states$some[[states$date$name]], "POSIXct"),
    open = function() raise("engine", "Of the orders of an earlier build only daily sums are kept.")
  )
  structure(list(kept), class = "drystack_kept_states")
}

# The steps from states to others, in the shape of line_steps(): those with fewer order lines first,
# then other amounts, then more. asked: a function that makes the table of some states.
state_steps <- function(before, after, told, asked) {
  found <- compare_states(before, after)
  numbers <- list(before = before$rows$n[found$before], now = after$rows$n[found$after])
  numbers <- lapply(numbers, function(n) ifelse(is.na(n), 0, n))
  more <- numbers$now - numbers$before
  what <- ifelse(more < 0, "gone", ifelse(more > 0, "late", "changed"))
  between <- function(done) {
    here <- what %in% done
    kept <- before$rows[setdiff(seq_len(nrow(before$rows)), found$before[here]), , drop = FALSE]
    came <- after$rows[stats::na.omit(found$after[here]), names(kept), drop = FALSE]
    states <- with_rows(before, rbind(kept, came))
    rlang::try_fetch(asked(orders_of_states(states)), drystack_error = function(e) no_rows_of(told))
  }
  steps <- list()
  done <- character()
  for (kind in intersect(names(state_words), what)) {
    done <- c(done, kind)
    lines <- if (kind == "changed") NA_real_ else sum(abs(more[what == kind]))
    steps <- c(steps, list(list(reason = state_words[[kind]], kind = kind, lines = lines,
      table = between(done))))
  }
  list(steps = steps, found = c(found, list(what = what, numbers = numbers)))
}

state_words <- c(gone = "fewer order lines", changed = "other amounts", late = "more order lines")

# The days and members whose states differ: of each its row before and after, NA where there
# is none.
compare_states <- function(before, after) {
  keys <- c("day", paste0("by", seq_along(before$by), recycle0 = TRUE))
  found <- compare_lines(before$rows, after$rows, keys)
  here <- apart_by_more(before$rows[found$changed$before, ], after$rows[found$changed$after, ],
    setdiff(names(before$rows), keys))
  none <- function(rows) rep(NA_integer_, length(rows))
  list(before = c(found$gone, found$changed$before[here], none(found$late)),
    after = c(none(found$gone), found$changed$after[here], found$late))
}

# TRUE where numbers differ by more than the last digits, which come of another order of adding.
apart_by_more <- function(a, b, columns) {
  differ <- lapply(columns, function(name) {
    (is.na(a[[name]]) != is.na(b[[name]])) | (clean_difference(a[[name]], b[[name]]) != 0) %in% TRUE
  })
  Reduce(`|`, differ, rep(FALSE, nrow(a)))
}

# The days and members that moved, each with the figure of a measure before and now.
moved_states <- function(before, after, found, terms, measures) {
  figure <- function(states, at) {
    known <- which(!is.na(at))
    figures <- figures_of_lines(terms, with_rows(before,
      states$rows[at[known], , drop = FALSE]), measures)
    replace(rep(NA_real_, length(at)), known, figures)
  }
  from <- ifelse(is.na(found$after), found$before, found$after)
  members <- function(name) {
    was <- before$rows[[name]][found$before]
    is <- after$rows[[name]][found$after]
    if (is.numeric(was) && is.numeric(is)) ifelse(is.na(found$after), was, is)
      else ifelse(is.na(found$after), as.character(was), as.character(is))
  }
  own <- stats::setNames(lapply(paste0("by", seq_along(before$by), recycle0 = TRUE),
    members), before$by)
  lines <- c(
    list(.what = unname(state_words[found$what]), before = figure(before, found$before),
      now = figure(after, found$after), .differs = rep("", length(from)),
      lines_before = found$numbers$before, lines_now = found$numbers$now),
    stats::setNames(list(as_day_date(members("day"))), before$date$name), own
  )
  structure(lines, class = "data.frame", row.names = seq_along(from))
}
