#' How a figure came about
#'
#' In words: the expression, each part of a formula with its number, and for each aggregate the
#' days, the conditions, the members and the number of order lines it was worked out from.
#'
#' @inheritParams behind
#' @return A `drystack_explained` that prints as text: `title`, and `steps`, a data frame
#'   with a row for each step: `depth`, `expression`, `words`, `value` (`NA` where it is no
#'   number), `text` (what it is then), `part` (`TRUE` for shares, growth and ratios less
#'   one, shown as percentages).
#' @section Errors: `drystack_error_argument` for a row or a figure that the table does not have.
#' @seealso [behind()] gives the order lines of a figure; [tie_out()] proves the totals;
#'   [explain_plan()] says how a table is worked out.
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on, calendars = fiscal_calendar("July"))
#' x <- rollup(book, by = quarter,
#'   sales = sum(amount), ytd = ytd(sales), ytd_ly = prior(ytd, year), change = ytd / ytd_ly - 1
#' )
#' explain(x, row = 15, measure = "change")
#' @export
explain <- function(x, row, measure = NULL) {
  own_setting()
  check_table(x)
  check_same_orders(x)
  at <- figure_at(x, row, measure)
  table <- at$table %||% x
  measured <- table$ask$measures[[at$measure]]
  steps <- explained_steps(measured$tree, identity, 0L)
  values <- figures_on_row(lapply(steps, `[[`, "tree"), table, at$row)
  words <- vapply(steps, step_words, "", x = table, row = at$row)
  structure(
    list(
      title = paste0(measured$label, place_words(table, at$row)),
      note = explained_note(table, measured, at$row, values[[1L]]),
      steps = data.frame(
        depth = vapply(steps, `[[`, 1L, "depth"), expression = vapply(steps, `[[`, "",
          "said"), words = words,
        value = vapply(values, function(v) if (is.numeric(v)) as.numeric(v) else NA_real_, 0),
        text = vapply(values, function(v) {
          if (is.numeric(v) || is.na(v)) "" else as.character(v)
        }, ""),
        part = vapply(steps, function(step) is_part_of_a_whole(step$node), NA)
      ),
      value = table$figures[[at$measure]][at$row], format = measured$format
    ),
    class = "drystack_explained"
  )
}

# Why a figure is another than its steps give.
explained_note <- function(table, measured, row, worked_out) {
  if (!is.null(measured$total) && table$role[row] != "line") {
    return(paste("As a total it is the", measured$total,
      "of the lines shown; the steps tell what its orders alone would give."))
  }
  ages <- Filter(function(axis) !is.na(table$axes[[axis]][row]), table$noted$unreached)
  if (length(ages) > 0L && is.na(table$figures[[measured$name]][row]) && !is.na(worked_out)) {
    paste0("It is unknown: ", joined_words(labels_of(ages, table$ask$axes)), " was not reached by ",
      day_words(table$as_of), ".")
  }
}

is_part_of_a_whole <- function(node) {
  node$kind %in% c("share", "growth") || (node$kind == "call" && is_ratio_less_one(node))
}

# The steps of a tree, outermost first: list(tree, said, depth). `within` puts a part back under the
# lenses above it, so that its number is that of the moved cell.
explained_steps <- function(tree, within, depth) {
  if (tree$kind == "named") {
    steps <- explained_steps(tree$child, within, depth)
    if (length(steps) > 0L) steps[[1L]]$said <- paste0(tree$name, ": ", steps[[1L]]$said)
    return(steps)
  }
  step <- list(list(tree = within(tree), node = tree, said = tree_text(tree), depth = depth))
  through <- if (kind_of(tree)$moved) function(part) within(replaced_child(tree, part)) else within
  inner <- lapply(figures_of(tree), explained_steps, within = through, depth = depth + 1L)
  if (tree$kind == "value") list() else c(step, unlist(inner, recursive = FALSE))
}

replaced_child <- function(tree, child) {
  tree$child <- child
  tree
}

step_words <- function(step, x, row) {
  if (!step$node$kind %in% c("aggregate", "each")) {
    return(kind_of(step$node)$told(step$node))
  }
  parts <- figure_parts(x, step$tree, row)
  if (length(parts) == 0L) {
    return("no orders: the days lie outside the record")
  }
  paste(vapply(parts, function(part) part_sentence(part, x), ""), collapse = "; ")
}

part_sentence <- function(part, x) {
  if (!is.null(part$job$record)) {
    return(record_part_sentence(part, x))
  }
  engine <- engine_of(x$book)
  lines <- count_lines(engine, part)
  unknown <- if (!is.null(part$amount)) lines - sum_of_lines(engine, part, part$amount)$known
  paste0(
    counted_lines(lines), " from ", day_words(part$from), " to ", day_words(part$to),
    if (part$job$date$name != x$book$date) paste0(" by ", part$job$date$name),
    member_words(part, x), scope_words(part$job),
    if (!is.null(unknown) && unknown > 0L) paste0(", ", unknown, " of them without a known amount"),
    rate_words(part, x$book$rates)
  )
}

# The rates by which amounts were worked out: those in force within the days of a part.
rate_words <- function(part, rates) {
  if (is.null(rates) || is.null(part$amount)) {
    return("")
  }
  used <- rates$listed[paste("rate of", rates$listed) %in% columns_of(part$amount)]
  words <- vapply(used, function(code) {
    own <- lapply(rates$table[c("currency", "days", "rate")], `[`, rates$table$currency == code)
    until <- c(own$days[-1L] - 1L, Inf)
    here <- which(own$days <= part$to & until >= part$from)
    if (length(here) == 0L) return(paste(code, "none"))
    if (length(here) > 4L) return(paste(code, length(here), "rates from",
      format_plain(min(own$rate[here])), "to",
      format_plain(max(own$rate[here]))))
    paste(code, paste(format_plain(own$rate[here]), "from", day_words(own$days[here]), "on",
      collapse = ", "))
  }, "")
  if (length(words) > 0L) paste0("; rates: ", paste(words, collapse = "; ")) else ""
}

member_words <- function(part, x) {
  words <- unlist(lapply(part$members, function(table) {
    vapply(names(table), function(axis) axis_place_words(axis, table[[axis]], x), "")
  }))
  if (length(words) > 0L) paste0(", ", paste(words, collapse = ", ")) else ""
}

# One member by its label; of several that make a run only the axis.
axis_place_words <- function(axis, places, x) {
  if (length(places) > 1L) {
    return(paste("up to here along", axis))
  }
  here <- match(places, x$rows$ranks[[axis]])
  paste(axis, as.character(x$axes[[axis]][here]))
}

scope_words <- function(job) {
  words <- condition_words(job$scope)
  if (length(words) > 0L) paste0(", where ", paste(words, collapse = " and ")) else ""
}

# The row and column of a figure.
place_words <- function(x, row) {
  here <- Filter(function(axis) !is.na(x$axes[[axis]][row]), names(x$axes))
  is_line <- vapply(x$ask$axes[here], is_line_axis, NA)
  words <- vapply(here[!is_line], function(axis) {
    value <- x$axes[[axis]][row]
    paste(axis, if (is_period(value)) format(value) else as.character(value))
  }, "")
  words <- c(words, if (any(is_line)) paste("row", row))
  paste0(": ", if (length(words) == 0L) "everything" else paste(words, collapse = ", "))
}
