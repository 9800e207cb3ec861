#' List order lines under their groups
#'
#' Order lines, or rows at a coarser grain such as one for each order, under nested groups, with measures on the lines,
#' subtotals at every break and a grand total. As in every table a total is worked out from its own orders.
#'
#' @param book A daybook; its scope and the dates shown say which lines are listed.
#' @param groups Columns and periods under which lines stand: `c(depot, customer)`, the first changes slowest.
#' @param lines The columns shown on each line.
#' @param ... The measures, each `name = expression` in the [measure language][measure_language].
#'   `running(sales, along = lines)` runs down the lines and starts again at the innermost group;
#'   `running(sales, along = lines, within = depot)` at each depot, `within = all` never.
#' @param per What a line is: each order line, or each value of a column such as `order_id`; then each column of `lines`
#'   must have one value in it.
#' @param totals `"all"`, a total at every break; `"grand"`; or `"none"`.
#' @param totals_at `"end"` or `"start"`: totals after or before their lines.
#' @param layout `"columns"`: groups in columns of their own, each label once; `"indented"`: as headings over their lines.
#' @param number `TRUE`: lines are numbered within their innermost group.
#' @param after What follows a group of the first level: `"nothing"`, `"blank"`, an empty line, or `"page"`, a page break
#'   where the output has pages.
#' @param empty `TRUE`: groups without lines on the dates shown are told too, with their totals.
#' @param sort,keep Rules for the groups, as in [rollup()]; `sort = list(lines = largest_first(sales))` is for the lines,
#'   which otherwise stand in the order of their dates.
#' @param most The most lines; more are an error that says how many there would be.
#' @return A `drystack_listing`. As a data frame: groups, line columns, measures, and `.role` (`line`, `subtotal`, `total`).
#' @section Errors: Those of [rollup()]; `drystack_error_argument` for a group column among the lines, for more lines than
#'   `most`, and for a column that differs within what a line is `per`.
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on)
#' one <- book |> only(customer_id == "C4231") |> within_dates("2026-01-01", "2026-08-31")
#' listing(one, lines = c(ordered_on, order_id, product_id, quantity), sales = sum(amount))
#' listing(one, groups = depot, lines = ordered_on, per = order_id, sales = sum(amount),
#'   so_far = running(sales, along = lines)
#' )
#' @export
listing <- function(book, groups = NULL, lines = NULL, ..., per = NULL, totals = "all", totals_at = "end",
                    layout = "columns", number = FALSE, after = "nothing", empty = FALSE, sort = NULL, keep = NULL,
                    most = 1e6) {
  own_setting()
  check_names_whole(sys.call(), c("book", "groups", "lines"))
  check_daybook(book)
  ask <- listing_request(
    book, said_axes(rlang::enquo(groups)), said_axes(rlang::enquo(lines)), said_dots(...), said_quo(rlang::enquo(per)),
    totals, totals_at, list(layout = layout, number = number, after = after, empty = empty), sort, keep
  )
  listing_ask(book, ask, most)
}

listing_request <- function(book, groups, lines, measures, per = said(NULL), totals = "all", totals_at = "end", look = list(),
                            sort = NULL, keep = NULL, show = NULL) {
  groups <- read_axes(groups, book)
  columns <- names(check_line_columns(read_axes(lines, book), groups))
  axes <- c(lapply(groups, group_axis), list(lines = dimension_axis(".line")))
  axes$lines$name <- axes$lines$label <- "lines"
  look <- read_look(look)
  totals <- c(rows = check_choice(totals, total_words, "totals"), cols = "none")
  totals_at <- c(rows = check_choice(totals_at, c("end", "start"), "totals_at"), cols = "end")
  measures <- if (length(measures) > 0L) read_measures(measures, with_line_column(book), axes) else list()
  ask <- showing(new_ask(axes, measures, totals, totals_at), show)
  ask$time_groups <- Filter(is_period_axis, groups)
  ask$columns <- columns
  ask$per <- if (!is.null(per$expr)) per_column(per, book)
  ask$look <- look
  with_rules(ask, sort, keep, with_line_column(book))
}

read_look <- function(look) {
  look <- utils::modifyList(list(layout = "columns", number = FALSE, after = "nothing", empty = FALSE), look)
  check_choice(look$layout, c("columns", "indented"), "layout")
  check_choice(look$after, c("nothing", "blank", "page"), "after")
  check_flag(look$number, "number")
  check_flag(look$empty, "empty")
  look
}

# A period that groups lines is a dimension: only those that have lines are told.
group_axis <- function(axis) {
  if (is_period_axis(axis)) list(kind = "dimension", name = axis$name, label = axis$label, column = axis$name) else axis
}

check_line_columns <- function(columns, groups) {
  both <- intersect(names(columns), names(groups))
  if (length(both) > 0L) {
    raise("argument", c("{examples_of(both)} cannot be a group and stand on the lines.", ">" = "Leave it out of {.arg lines}."))
  }
  periods <- names(Filter(Negate(function(axis) axis$kind == "dimension"), columns))
  if (length(periods) > 0L) {
    raise(
      "argument",
      c("{.arg lines} takes columns, not periods: {examples_of(periods)}.", ">" = "Show the date, or group by the period.")
    )
  }
  columns
}

per_column <- function(per, book) {
  axes <- read_axes(list(per), book)
  if (length(axes) != 1L || axes[[1L]]$kind != "dimension") raise("argument", "{.arg per} is one column.")
  axes[[1L]]$column
}

listing_ask <- function(book, ask, most = 1e6) {
  shown <- shown_order_lines(book, ask)
  here <- if (reads_other_lines(ask)) rep(TRUE, book$rows) else shown
  listed <- line_book(daybook_rows(book, which(here)), ask, shown[here])
  n <- length(unique(listed$line[listed$shown]))
  if (n > most) {
    raise("argument", c(
      "The listing would have {format_count(n)} lines; {format_count(most)} are allowed.",
      ">" = "List one for each order ({.code per = order_id}), limit the dates or the scope, roll them up,",
      ">" = "or allow more with {.arg most} and write them to a file."
    ))
  }
  rows <- ask_rows(listed$book, ask)
  rows <- shown_lines_only(rows, listed, ask)
  table <- new_table("listing", ask, rows, listed$book, line_of = first_row_of(rows, listed))
  table$facts <- order_facts(book)
  table$source <- book
  line_values(table)
  table
}

# The order lines that the listing shows: in scope, on the days shown.
shown_order_lines <- function(book, ask) {
  frame <- ask_frame(new_ask(ask$time_groups, list()), book)
  days <- as.integer(book$days)
  lines_in_scope(book) & !is.na(days) & days >= frame$show_first & days <= frame$show_last
}

# Whether a measure looks at orders that are not listed.
reads_other_lines <- function(ask) {
  any(vapply(ask$measures, function(m) has_time_lens(m$tree) || has_scope_lens(m$tree), NA)) || ask$look$empty
}

has_scope_lens <- function(tree) {
  own <- tree$kind == "scope" && is.null(tree$condition)
  own || any(vapply(subtrees(tree), has_scope_lens, NA))
}

# A daybook with the columns a listing groups by: its lines in the order of their dates, and periods as factors.
line_book <- function(book, ask, shown) {
  for (axis in ask$time_groups) {
    start <- period_start(as.integer(book$days), axis$unit, axis$calendar)
    starts <- sort(unique(start))
    labels <- period_labels(starts, axis$unit, axis$calendar)
    book$columns[[axis$name]] <- factor(labels[match(start, starts)], levels = labels)
  }
  order <- order(as.integer(book$days), seq_len(book$rows), method = "radix")
  line <- integer(book$rows)
  line[order] <- if (is.null(ask$per)) seq_len(book$rows) else per_codes(book$columns[[ask$per]][order])
  book$columns$.line <- structure(line, levels = as.character(seq_len(max(line, 0L))), class = "factor")
  list(book = book, line = line, shown = shown)
}

# Numbers in order of first appearance; each missing value is a line of its own.
per_codes <- function(values) {
  key <- as.character(values)
  key[is.na(key)] <- paste0("\r", seq_len(sum(is.na(key))))
  match(key, unique(key))
}

with_line_column <- function(book) {
  book$columns$.line <- seq_len(book$rows)
  book
}

daybook_rows <- function(book, rows) {
  if (length(rows) == book$rows) {
    return(book)
  }
  book$columns <- lapply(book$columns, vctrs::vec_slice, i = rows)
  book$days <- book$days[rows]
  book$scope <- lapply(book$scope, function(condition) {
    condition$met <- condition$met[rows]
    condition
  })
  book$rows <- length(rows)
  book$undated <- sum(is.na(book$days))
  book
}

# Lines that are not shown, and groups without any that is, are left out.
shown_lines_only <- function(rows, listed, ask) {
  line <- rows$ranks$lines
  is_line <- line != released
  keep <- !is_line | line %in% unique(listed$line[listed$shown])
  if (!ask$look$empty) {
    groups <- setdiff(names(ask$axes), "lines")
    for (k in seq_along(groups)) {
      kept <- vctrs::new_data_frame(rows$ranks[groups[seq_len(k)]])
      known <- unique(vctrs::vec_slice(kept, which(is_line & keep)))
      last <- rows$ranks[[groups[k]]] != released
      keep <- keep & (!last | vctrs::vec_in(kept, known))
    }
  }
  worked <- rows$worked
  dropped <- rows$dropped
  rows <- rows_of_table(rows, which(keep))
  rows$worked <- worked
  rows$dropped <- dropped
  rows
}

# The first order line of each row of the listing.
first_row_of <- function(rows, listed) {
  rank <- rows$ranks$lines
  rank[rank == released] <- NA
  match(rank, listed$line)
}

#' @export
as.data.frame.drystack_listing <- function(x, ...) {
  own_setting()
  groups <- setdiff(names(x$axes), "lines")
  columns <- c(lapply(x$axes[groups], plain_axis), line_values(x), x$figures, list(.role = x$role))
  structure(columns, class = "data.frame", row.names = seq_along(x$role))
}

# The columns shown on the lines, one value for each row.
line_values <- function(x) {
  columns <- stats::setNames(x$ask$columns, x$ask$columns)
  if (!is.null(x$ask$per)) lapply(columns, check_one_value, x = x)
  values <- lapply(columns, function(column) vctrs::vec_slice(x$book$columns[[column]], x$line_of))
  if (!is.null(x$ask$per) && !x$ask$per %in% columns) {
    values <- c(stats::setNames(list(x$book$columns[[x$ask$per]][x$line_of]), x$ask$per), values)
  }
  values
}

check_one_value <- function(column, x) {
  values <- x$book$columns[[column]]
  line <- as.integer(x$book$columns$.line)
  first <- values[match(line, line)]
  differs <- which(!(is.na(values) & is.na(first)) & !(values == first) %in% TRUE & line %in% x$rows$ranks$lines)
  if (length(differs) > 0L) {
    raise("argument", c(
      paste0(quoted(column), " differs within one ", quoted(x$ask$per), "."),
      "x" = "For example in {examples_of(unique(x$book$columns[[x$ask$per]][differs]), 3L)}.",
      ">" = "Leave it out of {.arg lines}, or make it a measure such as {.code last({column})}."
    ))
  }
}
