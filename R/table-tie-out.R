#' Prove that a table adds up
#'
#' Checks the table against its orders: the order lines read are those used and those left
#' out, with a reason for each; the lines of every measure that adds up (sums and counts, with
#' plus, minus and constant factors) are what the order lines give when they are added up in
#' one plain pass of R; and each subtotal and total is the sum of its lines, those of members
#' not shown included. Measures that do not add up, such as means, distinct counts and shares,
#' are listed with the reason.
#'
#' @param x A table: a [rollup()], [crosstab()] or [headlines()]; or what [changes()] gives.
#' @return A `drystack_tie_out` that prints as text; as a data frame it has a row for
#'   each check: `check`, `measure`, `expected`, `found`, `difference`, `ok` (`NA` where
#'   nothing is checked, with `why`).
#' @section Errors: `drystack_error_tie_out` when a check fails, with the figures.
#' @seealso [explain()] and [behind()] for one figure; [check()] for the orders.
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on) |> only(status != "cancelled")
#' tie_out(rollup(book, by = c(depot, year), sales = sum(amount), mean = mean(amount),
#' totals = "all"))
#' @export
tie_out <- function(x) UseMethod("tie_out")

#' @export
tie_out.default <- function(x) check_table(x)

#' @export
tie_out.drystack_table <- function(x) {
  own_setting()
  checks <- checks_of(c(list(tie_orders(x)), tie_measures(x)))
  failed <- which(!checks$ok %in% c(TRUE, NA))
  if (length(failed) > 0L) {
    first <- checks[failed[1L], ]
    raise("tie_out", c(
      "The table does not tie out: {length(failed)} of {sum(!is.na(checks$ok))} checks fail{?s/}.",
      "x" = paste0(
        quoted(first$check), if (nzchar(first$measure))
          paste0(" of ", quoted(first$measure)), ": expected ",
        format_plain(first$expected), ", found ", format_plain(first$found), "."
      ),
      ">" = "Orders may have been changed after the table was made: build it again."
    ))
  }
  checks
}

# What was checked of the measures of a table: a list of tie_check().
tie_measures <- function(x) UseMethod("tie_measures")

#' @export
tie_measures.drystack_table <- function(x) {
  c(unlist(lapply(unname(x$ask$measures), tie_measure, x = x), recursive = FALSE), tie_bridge(x))
}

# Every row of a bridge: the figure before and its parts are the figure now.
tie_bridge <- function(x) {
  shown <- bridge_shown(x)
  if (is.null(shown)) {
    return(list())
  }
  figures <- vapply(shown, function(m) as.numeric(x$figures[[m$name]]), numeric(length(x$role)))
  figures <- matrix(figures, ncol = length(shown))
  figures <- figures[stats::complete.cases(figures), , drop = FALSE]
  found <- rowSums(figures[, -ncol(figures), drop = FALSE])
  now <- figures[, ncol(figures)]
  list(tie_check(paste0("before + parts = now, in each row (", format_count(nrow(figures)), ")"),
    shown[[length(shown)]]$name, sum(now), sum(found),
    all(same_amount(now, found, rowSums(abs(figures))))))
}

# The measures of the bridge that a table shows: before, effects, now; NULL where it shows none
# whole, or other figures stand at its ends.
bridge_shown <- function(x) {
  measures <- x$ask$measures
  at <- which(vapply(measures, function(m) m$tree$kind == "effect", NA))
  known <- vapply(measures[at], function(m) m$tree$part, "")
  whole <- length(at) > 2L && identical(unname(known),
    effect_parts(measures[[at[1L]]]$tree$with_quantity)) &&
    at[1L] > 1L && at[length(at)] < length(measures) && all(diff(at) == 1L)
  shown <- if (whole) measures[c(at[1L] - 1L, at, at[length(at)] + 1L)]
  if (whole && stands_between(shown[[2L]]$tree, shown[[1L]]$tree,
    shown[[length(shown)]]$tree)) shown
}

tie_check <- function(check, measure, expected, found,
  ok = same_amount(expected, found, 0), why = "") {
  list(check = check, measure = measure, expected = expected, found = found,
    difference = found - expected,
    ok = ok, why = why)
}

checks_of <- function(checks) {
  columns <- stats::setNames(nm = c("check", "measure", "expected", "found",
    "difference", "ok", "why"))
  structure(lapply(columns, function(column) unlist(lapply(checks, `[[`, column))),
    class = c("drystack_tie_out", "data.frame"), row.names = seq_along(checks))
}

# Equal up to the last digits that adding in another order may change: these lie where the last
# digits of the amounts do that were added up, whose sizes together are `added`.
same_amount <- function(a, b, added) {
  a[!is.finite(a)] <- NA
  b[!is.finite(b)] <- NA
  (is.na(a) & is.na(b)) | (!is.na(a) & !is.na(b) & abs(a - b) <= 1e-13 * added)
}

tie_orders <- function(x) {
  facts <- order_facts(x$source)
  tie_check("order lines read = used + left out", "", facts$read,
    used_lines(x$source) + sum(facts$left_out$lines))
}

# Counted apart from the kernel: dated, not after the as-of date, in scope.
used_lines <- function(book) count_lines(engine_of(book), part_in_scope(book))

tie_measure <- function(measure, x) {
  why <- why_not_additive(measure)
  if (!is.null(why)) {
    return(list(not_checked(measure, why)))
  }
  if (isTRUE(x$noted$beyond) && anyNA(x$figures[[measure$name]])) {
    return(list(not_checked(measure, "some figures lie beyond what a number can hold")))
  }
  unknown <- unknown_beside(measure, x)
  if (!is.null(unknown)) {
    return(list(not_checked(measure, unknown)))
  }
  in_time <- has_time_lens(measure$tree)
  if (in_time && x$kind == "listing") {
    return(list(not_checked(measure,
      "lines of other days than those listed are in its totals alone")))
  }
  Filter(Negate(is.null), list(if (!in_time) tie_lines(measure, x),
    tie_totals(measure, x, in_time)))
}

not_checked <- function(measure, why) {
  tie_check("not checked", measure$name, NA_real_, NA_real_, NA, why)
}

# Why the lines of a measure do not add up to its totals, NULL where they do.
why_not_additive <- function(measure) {
  if (has_effect(measure$tree)) {
    return("effects of rows are worked out for each row, and do not add up")
  }
  if (!is.null(measure$total)) {
    return(paste("its totals are the", measure$total, "of the lines shown"))
  }
  if (!is_additive(measure$tree)) paste0("lines of ", tree_text(measure$tree), " do not add up")
}

# All lines of the table, those of members not shown included, against one plain pass over
# the orders.
tie_lines <- function(measure, x) {
  rows <- rows_seen(x)
  is_line <- rows$role %in% c("line", "others")
  lines <- c(rows$figures[[measure$name]][is_line], dropped_lines(rows, measure$name))
  found <- sum(lines, na.rm = TRUE)
  expected <- plain_figure_of(measure$tree, x)
  tie_check(
    "lines = orders added up in one pass", measure$name, expected$value, found,
    same_amount(expected$value, found, expected$added + sum(abs(lines), na.rm = TRUE))
  )
}

dropped_lines <- function(rows, measure) {
  dropped <- rows$dropped
  dropped$figures[[measure]][dropped$role %in% c("line", "others")]
}

# An additive measure of the order lines on the days shown, by R's own sum: list(value, added: the
# sizes of what was added).
plain_figure_of <- function(tree, x, job = new_job(x$book), frame = ask_frame(x$ask, x$book)) {
  again <- function(part) plain_figure_of(part, x, job, frame)
  switch(tree$kind,
    value = list(value = tree$value, added = abs(tree$value)),
    named = again(tree$child),
    scope = plain_figure_of(tree$child, x, scoped_job(job, tree, frame), frame),
    of = plain_figure_of(tree$child, x, record_job(frame$records[[tree$record]], job, frame),
      frame_beside(frame$records[[tree$record]], frame)),
    call = plain_call(tree$fn, lapply(tree$args, again)),
    aggregate = plain_aggregate(tree, x, job, frame)
  )
}

plain_call <- function(fn, parts) {
  of <- function(name) lapply(parts, `[[`, name)
  added <- if (fn %in% c("*", "/")) abs(do.call(fn, of("added"))) else sum(unlist(of("added")))
  list(value = do.call(measure_functions()[[fn]], of("value")), added = added)
}

plain_aggregate <- function(tree, x, job, frame) {
  if (!is.null(job$record)) {
    return(plain_aggregate_beside(tree, x, job, frame))
  }
  plain_sum(tree, x$book, lines_part(x$book, job, frame$show_first, frame$show_last))
}

# Of a record its own lines, or those it was spread to, where the days shown hold a part
# of its periods.
plain_aggregate_beside <- function(tree, x, job, frame) {
  record <- frame$records[[job$record]]
  days <- list(from = frame$show_first, to = frame$show_last)
  rule <- record_rule(record, tree, axes_to_spread(record, frame), !whole_periods(days, record$per))
  if (!is.null(rule)) {
    lines <- spread_lines(record, rule[c("days", "members")], rule$over, frame)
    job$spread <- lines$key
    tree$args <- list(spread_amount(lines, tree$args[[1L]]))
  }
  there <- book_of_job(job, x$book)
  plain_sum(tree, there, lines_part(there, job, days$from, days$to))
}

# A sum, or a count of known values, over the order lines of a part.
plain_sum <- function(tree, book, part) {
  if (length(tree$args) == 0L) {
    lines <- count_lines(engine_of(book), part)
    return(list(value = lines, added = lines))
  }
  found <- sum_of_lines(engine_of(book), part, tree$args[[1L]])
  if (tree$fn == "count") list(value = found$known,
    added = found$known) else found[c("value", "added")]
}

# The rows of a table with those of members that only a lens sees, which are in its totals too.
rows_seen <- function(x) {
  if (x$hidden == 0L) {
    return(x$rows)
  }
  ask <- x$ask
  ask$members <- "seen"
  answer(ask, x$book)$rows
}

# Each total against the lines under it: those of the same values on the axes it keeps.
tie_totals <- function(measure, x, in_time) {
  rows <- rows_seen(x)
  all <- c(rows$role, rows$dropped$role)
  ranks <- Map(c, rows$ranks, rows$dropped$ranks)
  values <- c(rows$figures[[measure$name]], rows$dropped$figures[[measure$name]])
  is_line <- all %in% c("line", "others")
  kept <- lapply(ranks, function(rank) rank != released)
  if (length(ranks) == 0L || all(is_line)) {
    return(NULL)
  }
  levels <- unique(as.data.frame(lapply(kept, `[`, !is_line), optional = TRUE))
  periods <- names(Filter(is_period_axis, x$ask$axes))
  parts <- lapply(seq_len(nrow(levels)), function(i) {
    keeps <- vapply(levels, `[`, NA, i)
    if (in_time && !all(keeps[periods])) {
      return(NULL)
    }
    here <- !is_line & Reduce(`&`, Map(function(k, want) k == want, kept, keeps))
    ids <- row_ids(ranks[keeps], length(all))
    key <- function(which) as.character(ids[which])
    known <- as.numeric(ifelse(is.na(values[is_line]), 0, values[is_line]))
    # Made smaller by a power of two where they could add up to more than a double holds on the way.
    scale <- if (any(abs(known) > 1e300)) 2^60 else 1
    sums <- scale * rowsum(cbind(known, abs(known)) / scale, key(is_line))
    at <- match(key(here), rownames(sums))
    found <- ifelse(is.na(values[here]), 0, values[here])
    data.frame(expected = as.vector(sums[at, 1L]), found = found,
      added = as.vector(sums[at, 2L]) + abs(found))
  })
  parts <- do.call(rbind, parts)
  # A total without lines is one of nothing.
  if (!is.null(parts)) parts[is.na(parts)] <- 0
  if (is.null(parts)) {
    return(not_checked(measure, "its periods do not add up"))
  }
  if (nrow(parts) == 0L) {
    return(NULL)
  }
  worst <- which.max(abs(parts$found - parts$expected))
  tie_check(
    paste0(
      "totals = sums of their lines (", format_count(nrow(parts)), ")"
    ), measure$name, parts$expected[worst], parts$found[worst],
    all(same_amount(parts$expected, parts$found, parts$added))
  )
}

# Why the sums of a record beside the orders cannot be checked: some are unknown. NULL
# where none is.
unknown_beside <- function(measure, x) {
  records <- measure$records
  coarser <- vapply(x$beside[unique(unlist(records))], function(told) {
    told$unknown || length(told$lacking) > 0L || length(told$conditions) > 0L
  }, NA)
  if (any(coarser) || length(records) > 0L && anyNA(x$figures[[measure$name]])) {
    "some figures are unknown, where the record is coarser than the rows"
  }
}

# Whether an effect is a part of what lies between two figures.
stands_between <- function(effect, before, now) {
  key <- function(tree) tree_key(without_names(tree))
  from <- if (effect$with_from) effect$args[[2L + effect$with_quantity]]
  before <- without_names(before)
  begins <- if (is.null(from)) identical(before$fn, "prior") &&
    key(before$child) == key(effect$args[[1L]])
    else key(before) == key(from)
  begins && key(now) == key(effect$args[[1L]])
}
