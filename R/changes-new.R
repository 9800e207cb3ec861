#' What changed since an earlier table, and why
#'
#' Compares an earlier table with the same table now. For each cell it gives the figure before, the
#' figure now and the difference, split by cause: order lines removed, changed or entered since, a
#' later as-of date, and different conditions, worked-out columns, lookups, calendars and measures.
#' The parts add up to the difference: each is the figure after a step less the figure before it,
#' order lines first, in the order shown. The dates compared are those of the earlier table.
#'
#' For two daybooks the order lines are compared: those that only one has, and those that differ,
#' with the columns they differ in.
#'
#' @param before,after Two tables of the same axes ([rollup()] or [crosstab()]), two builds of a
#'   report (their first rollup is compared), or two daybooks.
#' @param key The columns that identify every order line, such as `c("order_id", "product_id")`.
#'   Without it lines are compared as a whole: a changed line counts as one removed and one entered.
#' @param ... Not used.
#' @return A `drystack_changes`. As a data frame of two tables: the axes, `.measure`, `before`,
#'   `now`, `difference`, a column for each reason, `.role`. `changed_lines()`: the order lines,
#'   with `.what` (`"gone"`, `"changed"`, `"entered since"`), the figure of the first measure
#'   `before` and `now`, and which columns differ (`.differs`), with the lines that moved the figure
#'   most first. For builds that kept no order lines,
#'   days and members (`"fewer order lines"`, `"other amounts"`, `"more order lines"`, with
#'   `lines_before` and `lines_now`). [tie_out()] proves that the reasons
#'   add up; [figure()] draws the steps from the earlier figure to the present one.
#' @section Errors: `drystack_error_argument` for tables of different axes or without a measure in
#'   common; `drystack_error_key` for a key that is not unique, with the lines;
#'   `drystack_error_standing` for what cannot be asked again, such as R functions in measures.
#' @seealso [build_report()], which keeps its figures and says what changed since; [as_known()].
#' @examples
#' orders <- harrowgill()$orders
#' ask <- function(orders) {
#'   daybook(orders, date = ordered_on) |> as_of("2026-08-31") |> within_dates(latest(3, month)) |>
#'     rollup(by = month, sales = sum(amount), totals = "grand")
#' }
#' late <- which(orders$ordered_on == "2026-07-01")
#' changed <- changes(ask(orders[-late, ]), ask(orders))
#' changed
#' head(changed_lines(changed))
#' @export
changes <- function(before, after, key = NULL, ...) UseMethod("changes")

#' @export
changes.default <- function(before, after, key = NULL, ...) {
  force(before)
  raise("argument", c("{.fn changes} compares two tables or two daybooks, or two builds.",
    "x" = "{.arg before} is {type_words(before)}."))
}

#' @export
changes.drystack_table <- function(before, after, key = NULL, ...) {
  own_setting()
  check_table(after)
  for (x in list(before, after)) if (!x$kind %in% c("rollup", "crosstab")) {
    raise("argument", "{.fn changes} compares rollups and cross-tabs, not a {x$kind}.")
  }
  if (!identical(names(before$ask$axes), names(after$ask$axes)) || before$kind != after$kind) {
    raise("argument", c("Tables of different axes cannot be compared.",
      "x" = "One is by {axes_named(before)}, the other by {axes_named(after)}."))
  }
  side <- function(x) {
    lines <- lines_of_book(table_book(x))
    list(terms = terms_of_table(x), orders = lines, lines = lines)
  }
  new_changes(side(before), side(after), key,
    since = paste("as of", day_words(before$as_of)))
}

axes_named <- function(x) {
  if (length(x$ask$axes) == 0L) "nothing" else joined_words(names(x$ask$axes))
}

# Orders as they can be asked under other terms: order lines in memory, else where they are.
orders_of_book <- function(book) engine_of(book)$given %||% lines_of_book(book)

# before, after: see change_steps(); since: in words what it is compared with.
new_changes <- function(before, after, key, since, told_on = NULL) {
  asked <- unlist(before$terms$block$said$show)
  shown <- Filter(function(text) {
    is_of_both(text, before$terms$said$measures, after$terms$said$measures)
  }, asked)
  if (length(shown) == 0L) raise("argument", "The tables have no measure in common.")
  missing <- setdiff(asked, shown)
  before$terms$block$said$show <- after$terms$block$said$show <- as.list(shown)
  found <- change_steps(before, after, key)
  steps <- found$steps
  figures <- figures_of_steps(found$told, lapply(steps, `[[`, "table"))
  now <- if (length(steps) > 0L) steps[[length(steps)]]$table else found$told
  reasons <- data.frame(
    reason = vapply(steps, `[[`, "", "reason"), kind = vapply(steps, `[[`, "", "kind"),
    lines = vapply(steps, function(step) as.numeric(step$lines), 0)
  )
  moved <- lapply(figures$figures, step_moves)
  x <- structure(list(
    since = since, told_on = told_on, cells = figures$cells,
    figures = figures$figures, moved = moved,
    reasons = reasons, lines = moved_orders(before, after, found$found, key,
      names(moved)), key = key,
    by = before$states$by, told = unlist(lapply(steps, `[[`, "told")),
    measures = now$ask$measures[names(moved)], axes = now$ask$axes, table = now,
    missing = if (length(moved) < length(shown)) union(missing,
      setdiff(shown, names(moved))) else missing,
      apart = figures$apart
  ), class = "drystack_changes")
  # Drawn where a page shows it; what cannot be drawn is told in the tables alone.
  x$drawing <- made_once(function() {
    rlang::try_fetch(drawing_of(draw_changes(x)), drystack_error = function(e) NULL)
  })
  x
}

# A measure that both know, or that a block says itself.
is_of_both <- function(text, before, after) {
  known <- text %in% names(before) && text %in% names(after)
  known || !text %in% c(names(before), names(after)) &&
    !rlang::is_symbol(read_expression(text, "show")$expr)
}

# What each step moves: a row for each cell, a column for each step. A figure that is unknown on the
# way, such as a mean of lines that are gone before others come, moves with the step after.
step_moves <- function(figures) {
  if (ncol(figures) < 2L) {
    return(matrix(0, nrow(figures), 0L))
  }
  for (i in seq_len(ncol(figures) - 2L) + 1L) {
    unknown <- is.na(figures[, i]) & !is.na(figures[, ncol(figures)])
    figures[unknown, i] <- figures[unknown, i - 1L]
  }
  moves <- vapply(seq_len(ncol(figures) - 1L), function(i) {
    clean_difference(figures[, i + 1L], figures[, i])
  }, numeric(nrow(figures)))
  moves <- matrix(moves, nrow(figures))
  # The last is what is left, so that nothing is lost by rounding.
  last <- ncol(moves)
  whole <- clean_difference(figures[, ncol(figures)], figures[, 1L])
  size <- do.call(pmax, c(as.list(as.data.frame(abs(figures))), 1, na.rm = TRUE))
  moves[, last] <- clean_to(whole - rowSums(moves[, -last, drop = FALSE]), size)
  moves
}

#' @export
as.data.frame.drystack_changes <- function(x, ...) {
  parts <- lapply(names(x$figures), function(measure) {
    figures <- x$figures[[measure]]
    last <- figures[, ncol(figures)]
    moved <- x$moved[[measure]]
    colnames(moved) <- x$reasons$reason
    cells <- structure(x$cells$axes, class = "data.frame", row.names = seq_along(x$cells$role))
    cbind(cells, data.frame(.measure = measure, before = figures[, 1L], now = last,
      difference = clean_difference(last, figures[, 1L])), as.data.frame(moved, optional = TRUE),
    data.frame(.role = x$cells$role))
  })
  do.call(rbind, parts)
}

#' @rdname changes
#' @param x What [changes()] gives.
#' @export
changed_lines <- function(x) {
  own_setting()
  if (!inherits(x, "drystack_changes")) raise("argument",
    "{.arg x} must be what {.fn changes} gives.")
  x$lines
}

# What moved figures, order line by order line or, of states, day by day and member by member: each
# with its own figure before and now, those that moved it most first.
moved_orders <- function(before, after, found, key, measures) {
  lines <- if (is.null(found)) NULL
    else if (!is.null(before$states)) moved_states(before$states, after$states, found,
      before$terms, measures)
    else moved_lines(before, after, found, key, measures)
  if (is.null(lines)) {
    return(NULL)
  }
  # Lines that no measure sees under the terms told moved nothing.
  lines <- lines[!is.na(lines$before) | !is.na(lines$now) | lines$.what == "changed", ]
  for (side in c("before", "now")) lines[[side]][is.na(lines[[side]])] <- 0
  lines <- lines[order(-abs(lines$now - lines$before)), ]
  rownames(lines) <- NULL
  lines
}

moved_lines <- function(before, after, found, key, measures) {
  figure <- function(terms, lines) figures_of_lines(terms, lines, measures)
  none <- function(lines) rep(NA_real_, nrow(lines))
  part <- function(what, lines, was, now, differs = "") {
    n <- nrow(lines)
    if (n > 0L) cbind(data.frame(.what = rep(what, n), before = was, now = now,
      .differs = differs), lines)
  }
  shared <- intersect(names(before$lines), names(after$lines))
  rows <- function(lines, at) lines[at, shared, drop = FALSE]
  gone <- rows(before$lines, found$gone)
  late <- rows(after$lines, found$late)
  from <- rows(before$lines, found$changed$before)
  to <- rows(after$lines, found$changed$after)
  differs <- if (nrow(to) > 0L) apply(found$differs, 1L, function(here) {
    paste(colnames(found$differs)[here], collapse = ", ")
  }) else character()
  rbind(
    part("gone", gone, figure(before$terms, gone), none(gone)),
    part("changed", to, figure(before$terms, from), figure(before$terms, to), differs),
    part("entered since", late, none(late), figure(before$terms, late))
  )
}

# The figure of the first of some measures for each of some lines or states, NA where none of them
# sees it: as where all are dated after the as-of date, which no table can be asked of. What is seen
# and has no known figure counts as 0.
figures_of_lines <- function(terms, lines, measures) {
  numbered <- numbered_orders(lines)
  n <- numbered$n
  if (n == 0L) {
    return(numeric())
  }
  number <- numbered$number
  block <- list(by = number, show = as.list(measures), totals = "none", members = "seen")
  if (length(terms$block$said$only) > 0L) block$only <- terms$block$said$only
  asked <- rlang::try_fetch({
    terms$block <- list(kind = "rollup", said = block)
    table_of_terms(terms, numbered$orders)
  }, drystack_error = function(e) NULL)
  if (is.null(asked)) {
    return(rep(NA_real_, n))
  }
  here <- asked$role == "line"
  values <- as.numeric(asked$figures[[measures[1L]]])[here]
  values[is.na(values)] <- 0
  values[match(paste0("l", seq_len(n)), as.character(asked$axes[[number]])[here])]
}

# Orders with a column of its own that tells each of them apart:
# list(orders, number: its name, n: how many).
numbered_orders <- function(x) {
  states <- inherits(x, "drystack_day_states")
  n <- nrow(if (states) x$rows else x)
  taken <- if (states) names(x$some) else names(x)
  number <- setdiff(make.unique(c(taken, ".number")), taken)
  numbers <- paste0("l", seq_len(n), recycle0 = TRUE)
  if (!states) {
    x[[number]] <- numbers
    return(list(orders = x, number = number, n = n))
  }
  x$by <- c(x$by, number)
  x$rows[[paste0("by", length(x$by))]] <- numbers
  x$some[[number]] <- "l1"
  list(orders = orders_of_states(x), number = number, n = n)
}

#' @export
tie_out.drystack_changes <- function(x) {
  checks_of(lapply(names(x$figures), function(measure) {
    figures <- x$figures[[measure]]
    last <- figures[, ncol(figures)]
    sum <- rowSums(x$moved[[measure]])
    known <- !is.na(last) & !is.na(figures[, 1L])
    difference <- clean_difference(last, figures[, 1L])
    size <- do.call(pmax, c(as.list(as.data.frame(abs(figures))), 1, na.rm = TRUE))
    tie_check("what moved a figure = its difference", measure, sum(difference[known]),
      sum(sum[known]), all(abs(difference - sum)[known] <= 1e-11 * size[known]))
  }))
}
