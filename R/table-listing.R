#' List order lines under their groups
#'
#' Order lines, or rows at a coarser grain such as one for each order, under nested groups, with
#' measures on the lines, subtotals at every break and a grand total. As in every table a total is
#' worked out from its own orders.
#'
#' @param book A daybook; its scope and the dates shown say which lines are listed.
#' @param groups Columns and periods that group the lines: `c(depot, customer)`,
#'   the first changes slowest.
#' @param lines The columns shown on each line, and periods of its date such as `month`.
#' @param ... The measures, each `name = expression` in the [measure language][measure_language].
#'   `running(sales, along = lines)` runs down the lines and starts again at the innermost group;
#'   `running(sales, along = lines, within = depot)` at each depot, `within = all` never.
#' @param per What a line is: each order line, or each value of a column such as `order_id`; then
#'   each column of `lines` must have one value in it.
#' @param totals `"all"`, a total at every break; `"grand"`; or `"none"`.
#' @param totals_at `"end"` or `"start"`: totals after or before their lines.
#' @param layout `"columns"`: groups in columns of their own, each label once; `"indented"`: as
#'   headings over their lines.
#' @param number `TRUE`: lines are numbered within their innermost group.
#' @param after What comes after a group of the first level: `"nothing"`, `"blank"`, an empty line,
#'   or `"page"`, a page break where the output has pages.
#' @param empty `TRUE`: also show groups without lines on the dates shown, with their totals.
#' @param sort,keep Rules for the groups, as in [rollup()];
#'   `sort = list(lines = largest_first(sales))` is for the lines, which are otherwise in
#'   the order of their dates.
#' @param most The most lines; more are an error that says how many there would be.
#' @param zeros As in [rollup()].
#' @return A `drystack_listing`. As a data frame: groups, line columns, measures, and `.role`
#'   (`line`, `subtotal`, `total`).
#' @section Errors: Those of [rollup()]; `drystack_error_argument` for a group column among the
#'   lines, for more lines than `most`, and for a column that differs within what a line is `per`.
#' @seealso [rollup()] adds lines up; [behind()] gives the lines of one figure.
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on)
#' one <- book |> only(customer_id == "C4231") |> within_dates("2026-01-01", "2026-08-31")
#' listing(one, lines = c(ordered_on, order_id, product_id, quantity), sales = sum(amount))
#' listing(one, groups = depot, lines = ordered_on, per = order_id, sales = sum(amount),
#'   so_far = running(sales, along = lines)
#' )
#' @export
listing <- function(book, groups = NULL, lines = NULL, ..., per = NULL, totals = "all",
  totals_at = "end", layout = "columns", number = FALSE, after = "nothing", empty = FALSE,
  sort = NULL, keep = NULL, most = 1e6, zeros = "shown") {
  own_setting()
  check_names_whole(sys.call(), c("book", "groups", "lines"))
  check_daybook(book)
  make_table(new_request("listing",
    rows = said_axes(rlang::enquo(groups)), lines = said_axes(rlang::enquo(lines)),
    measures = said_dots(...),
    per = said_quo(rlang::enquo(per)), totals = totals, totals_at = totals_at,
    sort = sort, keep = keep, most = most,
    look = list(layout = layout, number = number, after = after, empty = empty, zeros = zeros)
  ), book)
}

# What only a listing has: columns (axes shown on the lines, by name), per (the column a line
# is per, or NULL), time_groups (periods that group), most.
read_listing <- function(request, book) {
  groups <- read_table_axes(request$rows, book)
  if ("lines" %in% names(groups)) {
    raise("argument", c(
      "A listing cannot be grouped by a column named {.val lines}: its order lines have that name.",
      ">" = "Work it out under another name first."
    ))
  }
  columns <- check_line_columns(read_axes(request$lines, book), groups)
  axes <- c(lapply(groups, group_axis), list(lines = list(kind = "lines", name = "lines",
    label = "lines")))
  known <- if (length(request$measures) > 0L) ask_measures(request$measures, book, axes) else list()
  ask <- new_ask("listing", axes, shown_measures(known, request$show),
    totals = only_rows(check_choice(one_side(request$totals, "totals"), total_words,
      "totals"), "none"),
    totals_at = only_rows(check_choice(one_side(request$totals_at, "totals_at"), words_of_ends,
      "totals_at"), "end"),
    known = known, look = request$look,
    listing = list(
      columns = columns, per = if (!is.null(request$per$expr)) per_column(request$per, book),
      time_groups = Filter(is_period_axis, groups), most = request$most
    )
  )
  with_rules(ask, request$sort, request$keep, book)
}

# The axes that group the lines.
group_axes <- function(ask) Filter(Negate(is_line_axis), ask$axes)

# A period that groups lines is a dimension: only those that have lines are told.
group_axis <- function(axis) {
  if (is_period_axis(axis)) dimension_axis(axis$name, NULL) else axis
}

check_line_columns <- function(columns, groups) {
  both <- intersect(names(columns), names(groups))
  if (length(both) > 0L) {
    raise("argument", c("{examples_of(both)} cannot be a group and stand on the lines.",
      ">" = "Leave it out of {.arg lines}."))
  }
  columns
}

per_column <- function(per, book) {
  axes <- read_axes(list(per), book)
  if (length(axes) != 1L || axes[[1L]]$kind != "dimension")
    raise("argument", "{.arg per} is one column.")
  list(name = axes[[1L]]$name, id = axes[[1L]]$column)
}

listing_table <- function(ask, book) {
  shown <- shown_order_lines(book, ask)
  here <- if (reads_other_lines(ask)) all_lines(engine_of(book)) else shown
  listed <- line_book(book, ask, here, here %in% shown)
  ask$axes <- listed$axes
  n <- length(unique(listed$line[listed$shown]))
  if (n > ask$listing$most) {
    raise("argument", c(
      paste0("The listing would have {format_count(n)} lines; {format_count(ask$listing$most)} ",
        "are allowed."),
      ">" = paste0("List one for each order ({.code per = order_id}), limit the dates or the ",
        "scope, roll them up,"),
      ">" = "or allow more with {.arg most} and write them to a file."
    ))
  }
  answer <- answer(ask, listed$book)
  answer$rows <- shown_lines_only(answer$rows, listed, ask)
  table <- new_table(ask, answer, listed$book, source = book,
    line_of = first_row_of(answer$rows, listed),
    listed = list(shown = length(shown), compared = reads_other_lines(ask)))
  listed_values(table)
  table
}

# The order lines that the listing shows: in scope, on the days shown.
shown_order_lines <- function(book, ask) {
  frame <- ask_frame(new_ask("listing", ask$listing$time_groups, list()), book)
  order_lines(engine_of(book), lines_part(book, new_job(book), frame$show_first, frame$show_last))
}

# Whether a measure looks at orders that are not listed.
reads_other_lines <- function(ask) {
  any(vapply(ask$measures, function(m) has_time_lens(m$tree) || has_scope_lens(m$tree), NA)) ||
    ask$look$empty
}

has_scope_lens <- function(tree) {
  tree_any(tree, function(one) one$kind == "scope" && is.null(one$condition))
}

# A daybook of some orders with what a listing groups by: its lines in the order of their dates, and
# periods as factors. list(book, axes: with the columns of these periods; line: of each order its
# line; shown: whether it is shown).
line_book <- function(book, ask, rows, shown) {
  engine <- orders_part(engine_of(book), rows)
  axes <- ask$axes
  for (axis in ask$listing$time_groups) axes[[axis$name]]$column <- period_column(engine, axis)
  per <- if (!is.null(ask$listing$per)) line_values(engine,
    column_node(ask$listing$per$name, ask$listing$per$id))
  line <- number_lines(engine, per)
  book$engine <- hold_engine(engine)
  book$rows <- length(rows)
  book$undated <- orders_facts(engine, list())$undated
  list(book = book, axes = axes, line = line, shown = shown)
}

# Lines that are not shown, and groups without any that is, are left out.
shown_lines_only <- function(rows, listed, ask) {
  line <- rows$ranks$lines
  is_line <- line != released
  keep <- !is_line | line %in% unique(listed$line[listed$shown])
  if (!ask$look$empty) {
    groups <- names(group_axes(ask))
    for (k in seq_along(groups)) {
      kept <- rows$ranks[groups[seq_len(k)]]
      known <- lapply(kept, `[`, is_line & keep)
      last <- rows$ranks[[groups[k]]] != released
      listed_here <- !is.na(match_rows(kept, known, length(keep), sum(is_line & keep)))
      keep <- keep & (!last | listed_here)
    }
  }
  rows_of_table(rows, which(keep))
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
  columns <- c(lapply(x$axes[names(group_axes(x$ask))], plain_axis),
    listed_values(x), x$figures, list(.role = x$role))
  structure(columns, class = "data.frame", row.names = seq_along(x$role))
}

# The columns shown on the lines, one value for each row.
listed_values <- function(x) {
  listing <- x$ask$listing
  columns <- listing$columns
  if (!is.null(listing$per)) Map(check_one_value, names(columns), columns, MoreArgs = list(x = x))
  if (!is.null(listing$per) && !listing$per$name %in% names(columns)) {
    own <- dimension_axis(listing$per$name, listing$per$id)
    columns <- c(stats::setNames(list(own), own$name), columns)
  }
  lapply(columns, values_of_lines, engine = engine_of(x$book), rows = x$line_of)
}

# What an axis is on order lines: the value of a column, the period or the part of the date.
values_of_lines <- function(axis, engine, rows = NULL) {
  if (is_period_axis(axis)) {
    days <- line_days(engine)
    if (!is.null(rows)) days <- days[rows]
    return(new_period(period_start(as.integer(days), axis$unit, axis$calendar), axis$unit,
      axis$calendar))
  }
  if (is_cyclic_axis(axis)) {
    coded <- members(engine, axis)
    codes <- as.integer(if (is.null(rows)) coded$codes else coded$codes[rows])
    return(factor(coded$members[coded$place[codes]], levels = coded$members))
  }
  line_values(engine, column_node(axis$name, axis$column), rows)
}

check_one_value <- function(name, axis, x) {
  engine <- engine_of(x$book)
  values <- values_of_lines(axis, engine)
  line <- as.integer(members(engine, x$ask$axes$lines)$codes)
  first <- values[match(line, line)]
  differs <- which(!(is.na(values) & is.na(first)) & !(values == first) %in% TRUE &
    line %in% x$rows$ranks$lines)
  if (length(differs) > 0L) {
    per <- x$ask$listing$per
    examples <- unique(line_values(engine, column_node(per$name, per$id), differs))
    raise("argument", c(
      paste0(quoted(name), " differs within one ", quoted(per$name), "."),
      "x" = "For example in {examples_of(examples, 3L)}.",
      ">" = "Leave it out of {.arg lines}, or make it a measure such as {.code last({name})}."
    ))
  }
}
