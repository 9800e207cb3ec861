#' Cross-tabulate orders
#'
#' Dimensions and periods down the side and across the top. Every row meets every column: a cell
#' without orders has 0 for sums and counts and is unknown for the rest. Periods across are complete
#' and in the order of time. Totals are worked out from their own orders, as every figure is.
#'
#' @param book A daybook.
#' @param rows,cols What goes down the side and across the top: `c(category, product)`, bare names
#'   or text, of columns and of periods, as `by` of [rollup()]. The first changes slowest.
#' @param ... The measures, each `name = expression` in the [measure language][measure_language];
#'   `share(m, of = "row")`, `"column"`, `"parent"` and `"total"` are shares of the row, the column,
#'   the group of rows, and everything.
#' @param totals `"none"`, `"grand"` or `"all"`, for both sides or one
#'   for each: `c(rows = "all", cols = "none")`.
#' @param totals_at `"end"` or `"start"`, in the same way.
#' @param members `"shown"` or `"seen"`, as in [rollup()].
#' @param sort A [rule of order][sort_rules] for the innermost dimension of the rows, or
#'   a list named by dimension.
#' @param keep [keep_top()] or [keep_where()], in the same way.
#' @param measures_at Where several measures go: `"cols"`, side by side under each column; or
#'   `"rows"`, one under the other.
#' @param after What follows each group of the first row axis: `"nothing"`, `"blank"` (a gap), or
#'   `"page"` (a new page on paper).
#' @param zeros As in [rollup()].
#' @return A `drystack_crosstab`. [as.data.frame()] gives it wide as shown: the row axes, a column
#'   for each column shown (named by its labels, and its measure where there are several), and
#'   `.role` of the row; or with `shape = "long"` a row for each cell.
#' @section Errors: Those of [rollup()]; `drystack_error_argument` for a dimension on both sides and
#'   for a table of more than 500 columns, which no one can read.
#' @seealso [rollup()] for rows alone; [keep_top()], [keep_where()] and [sort_rules] for members and
#'   their order; [figure()] draws it; [write_report()] writes it.
#' @examples
#' yard <- harrowgill()
#' book <- daybook(yard$orders, date = ordered_on, calendars = fiscal_calendar("July")) |>
#'   within_dates(latest(4, quarter))
#' crosstab(book, rows = depot, cols = quarter, sales = sum(amount), totals = "grand")
#' crosstab(book, rows = depot, cols = channel,
#'   share = measure(share(sum(amount), of = "row"), format = percentage())
#' )
#' @export
crosstab <- function(book, rows = NULL, cols = NULL, ..., totals = "none", totals_at = "end",
  sort = NULL, keep = NULL, members = "shown", measures_at = "cols", after = "nothing",
  zeros = "shown") {
  own_setting()
  check_names_whole(sys.call(), c("book", "rows", "cols"))
  check_daybook(book)
  make_table(new_request("crosstab",
    rows = said_axes(rlang::enquo(rows)), cols = said_axes(rlang::enquo(cols)),
    measures = said_dots(...), totals = totals, totals_at = totals_at,
    sort = sort, keep = keep, members = members,
    look = list(measures_at = measures_at, after = after, zeros = zeros)
  ), book)
}

read_crosstab <- function(request, book) {
  down <- read_table_axes(request$rows, book)
  across <- read_table_axes(request$cols, book)
  both <- intersect(names(down), names(across))
  if (length(both) > 0L) {
    raise("argument", c("{examples_of(both)} cannot stand both down and across.",
      ">" = "Leave it out on one side."))
  }
  axes <- c(down, across)
  known <- ask_measures(request$measures, book, axes, names(across))
  ask <- new_ask("crosstab", axes, shown_measures(known, request$show),
    totals = read_sides(request$totals, total_words, "totals"),
    totals_at = read_sides(request$totals_at, words_of_ends, "totals_at"), cols = names(across),
    members = check_choice(request$members, member_words_known, "members"), known = known,
    look = request$look
  )
  with_rules(ask, request$sort, request$keep, book)
}

crosstab_table <- function(ask, book) {
  answer <- answer(ask, book)
  new_table(ask, answer, book, grid = cell_grid(answer$rows, ask))
}

# Where each cell of the long table stands in the wide one: the row and column of each (`row`,
# `col`), and for each row and column the long row that has its heads (`row_head`, `col_head`).
cell_grid <- function(rows, ask) {
  at <- function(side) {
    places <- rows$places[side_axes(ask, side)]
    if (length(places) == 0L) {
      return(list(place = rep(1L, length(rows$role)), head = utils::head(seq_along(rows$role), 1L)))
    }
    places <- vctrs::new_data_frame(places)
    distinct <- vctrs::vec_unique_loc(places)
    head <- distinct[do.call(order, c(unname(lapply(places, `[`, distinct)), method = "radix"))]
    list(place = vctrs::vec_match(places, vctrs::vec_slice(places, head)), head = head)
  }
  down <- at("rows")
  across <- at("cols")
  check_columns(length(across$head), ask)
  list(row = down$place, col = across$place, row_head = down$head, col_head = across$head)
}

# The figures of a measure as a matrix of rows by columns.
grid_figures <- function(x, measure) {
  values <- x$figures[[measure]]
  wide <- vctrs::vec_rep(vctrs::vec_init(values, 1L),
    length(x$grid$row_head) * length(x$grid$col_head))
  wide[(x$grid$col - 1L) * length(x$grid$row_head) + x$grid$row] <- values
  split(wide, rep(seq_along(x$grid$col_head), each = length(x$grid$row_head)))
}

#' @export
as.data.frame.drystack_crosstab <- function(x, ..., shape = "wide") {
  own_setting()
  check_choice(shape, c("wide", "long"), "shape")
  if (shape == "long") {
    return(NextMethod())
  }
  columns <- lapply(wide_columns(x), `[[`, "values")
  columns <- c(columns, estimated_column(estimated_by_row(x, length(columns$.role))))
  structure(columns, class = "data.frame", row.names = seq_along(columns$.role))
}

# The columns of the wide table by name: list(values, axis or measure, head: the long row with
# the heads of the column).
wide_columns <- function(x) {
  heads <- x$grid$row_head
  measures <- names(x$ask$measures)
  down <- side_axes(x$ask, "rows")
  columns <- lapply(stats::setNames(down, down),
    function(axis) list(values = plain_axis(x$axes[[axis]][heads]), axis = axis))
  stacked <- x$ask$look$measures_at == "rows" && length(measures) > 1L
  figures <- lapply(stats::setNames(measures, measures), grid_figures, x = x)
  labels <- column_labels(x)
  for (k in seq_along(labels)) {
    if (stacked) {
      values <- vctrs::vec_c(!!!unname(lapply(figures, `[[`, k)))
      columns[[labels[k]]] <- list(
        values = values[order(rep(seq_along(heads), length(measures)), method = "radix")],
        head = x$grid$col_head[k]
      )
      next
    }
    for (measure in measures) {
      name <- if (length(measures) > 1L) paste(labels[k], measure) else labels[k]
      columns[[name]] <- list(values = figures[[measure]][[k]],
        measure = measure, head = x$grid$col_head[k], place = k)
    }
  }
  role <- x$rows$row_role[heads]
  if (stacked) {
    lines <- rep(seq_along(heads), each = length(measures))
    columns[down] <- lapply(columns[down], function(column) {
      c(column["axis"], list(values = column$values[lines]))
    })
    which <- list(.measure = list(values = rep(measures, length(heads))))
    columns <- append(columns, which, after = length(down))
    role <- role[lines]
  }
  c(columns, list(.role = list(values = role)))
}

# One text for each column: the labels of its axes, "Total" where all are
# released. Equal ones are numbered.
column_labels <- function(x) {
  across <- side_axes(x$ask, "cols")
  heads <- x$grid$col_head
  if (length(across) == 0L) {
    return(rep("figure", length(heads)))
  }
  parts <- lapply(x$axes[across], function(values) {
    values <- values[heads]
    as.character(ifelse(is.na(values), NA, if (is_period(values)) format(
      values) else as.character(values)))
  })
  labels <- vapply(seq_along(heads), function(k) {
    words <- vapply(parts, `[`, "", k)
    words <- words[!is.na(words)]
    if (length(words) == 0L) "Total" else paste(c(words, if (length(words) < length(across)) "all"),
      collapse = " ")
  }, "")
  make.unique(labels, sep = " ")
}
