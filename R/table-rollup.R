#' Roll orders up by periods and dimensions
#'
#' Each row is a combination of the axes that occurs in the orders; the period axis has no gaps from the first order to
#' the as-of date. Every figure, totals included, is worked out from the order lines of its own cell, in one pass over
#' the orders with exact sums: the result does not depend on the order of the rows or the number of threads.
#'
#' @param book A daybook.
#' @param by What the rows are: `c(region, month)`, bare names or text, of columns and of periods (`day`, `week`,
#'   `month`, `quarter`, `half`, `year`; `civil$month` for a calendar that is not the first). The first stands left and
#'   changes slowest. Without it the table is one row.
#' @param ... The measures, each `name = expression` in the [measure language][measure_language]. A later one may use
#'   an
#'   earlier one by name. A name may not be the beginning of `book` or `by` (R would take it for those).
#' @param totals `"none"`; `"grand"`, one line for the whole table; or `"all"`, a subtotal for each leading group too.
#' @return A `drystack_rollup`. [as.data.frame()] gives it as plain columns: dimensions as text or factor, periods as
#'   [period vectors][as_period], figures as numbers, and `.role` (`line`, `subtotal`, `total`); axes that a total
#'   releases
#'   are `NA` there. A missing dimension value is the member `(none)`. [write_report()] writes it, [figure()] draws it.
#' @section Errors: `drystack_error_column` for an unknown name (the nearest is offered), `drystack_error_expression`
#'   for anything outside the measure language, `drystack_error_amount` for an amount that is text (the rows are
#'   named),
#'   `drystack_error_argument` for a request without measures or with an axis twice, `drystack_error_period` for a
#'   comparison
#'   by a unit that does not hold whole periods.
#' @examples
#' yard <- harrowgill()
#' book <- daybook(yard$orders, date = ordered_on, calendars = fiscal_calendar("July")) |>
#'   derive(net = amount - discount) |>
#'   only(status != "cancelled")
#' rollup(book, by = c(depot, quarter),
#'   sales  = sum(net),
#'   ytd    = ytd(sales),
#'   ytd_ly = prior(ytd, year),
#'   change = ytd / ytd_ly - 1
#' )
#' @export
rollup <- function(book, by = NULL, ..., totals = "none") {
  check_daybook(book)
  rollup_said(book, said_axes(rlang::enquo(by)), said_dots(...), totals)
}

# A rollup said as expressions.
rollup_said <- function(book, axes, measures, totals) {
  rollup_ask(book, rollup_request(book, axes, measures, totals))
}

rollup_request <- function(book, axes, measures, totals) {
  axes <- read_axes(axes, book)
  measures <- read_measures(measures, book, axes)
  new_ask(axes, measures, check_choice(totals, c("none", "grand", "all"), "totals"))
}

# From an ask to its table: plan, fold, resolve, rows.
rollup_ask <- function(book, ask) {
  check_result_names(ask)
  plan <- new_plan(ask, book, rollup_levels(ask))
  folded <- fold_frame(book, ask, plan)
  levels <- lapply(plan$levels, resolve_level, folded = folded, ask = ask, plan = plan)
  rows <- rollup_rows(levels, folded, ask)
  new_table("rollup", ask, rows$axes, rows$figures, rows$role, rows$part_way, plan, folded, book)
}

check_result_names <- function(ask) {
  both <- intersect(names(ask$axes), names(ask$measures))
  if (length(both) > 0L) {
    raise("argument", c(
      "A measure has the name of an axis of the table.",
      "x" = "{examples_of(both)} {if (length(both) == 1) 'is' else 'are'} both.",
      ">" = "Give the measure another name."
    ))
  }
}

# The rows of all levels, put in the order of the axes; a total stands after the lines it adds up.
rollup_rows <- function(levels, folded, ask) {
  parts <- lapply(levels, level_rows, folded = folded, ask = ask)
  ranks <- lapply(seq_along(ask$axes), function(i) unlist(lapply(parts, function(p) p$ranks[[i]])))
  order <- if (length(ranks) > 0L) do.call(base::order, c(ranks, method = "radix")) else 1L
  figures <- lapply(names(ask$measures), function(name) {
    vctrs::vec_c(!!!lapply(parts, function(p) p$figures[[name]]))[order]
  })
  figures <- stats::setNames(figures, names(ask$measures))
  role <- unlist(lapply(parts, `[[`, "role"))[order]
  axes <- Map(function(axis, rank) axis_values(axis, rank[order], folded), ask$axes, ranks)
  list(
    axes = axes,
    figures = Map(total_of_shown, figures, ask$measures, MoreArgs = list(axes = axes, role = role)),
    role = role,
    part_way = unlist(lapply(parts, `[[`, "part_way"))[order]
  )
}

released <- .Machine$integer.max

# The rows of one level: groups side by side within each cell in time. A rank is the code of a member, or the first day
# of a period; a released axis ranks last.
level_rows <- function(resolved, folded, ask) {
  cells <- resolved$level$cells
  n_cells <- length(cells$from)
  rows <- n_cells * resolved$count
  cell <- rep(seq_len(n_cells), each = resolved$count)
  group <- rep.int(seq_len(resolved$count), n_cells)
  kept <- names(ask$axes)[resolved$level$keeps]
  ranks <- lapply(ask$axes, function(axis) {
    if (!axis$name %in% kept) rep.int(released, rows)
    else if (is_period_axis(axis)) resolved$level$periods[[axis$name]][cell]
    else resolved$members[[axis$name]][group]
  })
  part_way <- !is.null(cells$end) && any(resolved$level$keeps)
  list(
    ranks = ranks,
    figures = lapply(resolved$figures, plain_figure, rows = rows),
    role = rep.int(resolved$level$role, rows),
    part_way = if (part_way) (cells$to < cells$end | cells$from > cells$start)[cell] else rep.int(FALSE, rows)
  )
}

# A figure as a vector of what it stands for.
plain_figure <- function(result, rows) {
  face <- attr(result, "face")
  values <- rep_len(as.numeric(result), rows)
  if (is.null(face)) values else face(values)
}

# total = of_shown(f): the totals of a measure from the lines shown under them.
total_of_shown <- function(result, measure, axes, role) {
  if (is.null(measure$total)) {
    return(result)
  }
  if (!is.numeric(result)) {
    raise("expression", c(
      paste0("The measure ", quoted(measure$name), " gives no numbers: its totals cannot be combined from the lines shown."),
      ">" = "Leave {.arg total} out: the total is then worked out from its orders."
    ))
  }
  for (row in which(role != "line")) {
    under <- role == "line"
    for (axis in axes) if (!is.na(axis[row])) under <- under & (axis %in% axis[row])
    result[row] <- combiners()[[measure$total]](matrix(result[under], 1L), NULL)
  }
  result
}

# The values of an axis from its ranks.
axis_values <- function(axis, rank, folded) {
  rank[rank == released] <- NA_integer_
  if (is_period_axis(axis)) {
    return(new_period(rank, axis$unit, axis$calendar))
  }
  dimension <- folded$dimensions[[axis$name]]
  members <- c(dimension$members, "(none)")
  if (!dimension$factor) {
    return(members[rank])
  }
  has_none <- any(rank == length(members), na.rm = TRUE)
  factor(members[rank], levels = unique(if (has_none) members else dimension$members))
}
