# From a cross-tab to its sheet: a column for each column of the wide table, under the
# labels of the axes across.

#' @export
as_sheet.drystack_crosstab <- function(x) {
  x <- with_zeros(x)
  wide <- wide_columns(x)
  role <- wide$.role$values
  heads <- x$grid$row_head
  stacked <- !is.null(wide$.measure)
  line <- if (stacked) rep(seq_along(heads), each = length(x$ask$measures)) else seq_along(heads)
  down <- side_axes(x$ask, "rows")
  mark <- marked_rows(x)[line]
  axes <- Map(axis_column, lapply(x$axes[down], `[`, heads[line]), x$ask$axes[down],
    MoreArgs = list(table = x))
  axes <- label_totals(axes, lapply(x$axes[down], `[`, heads[line]), x$ask$axes[down], role, mark)
  axes <- if (stacked) c(stacked_labels(axes, x), list(measure_labels(x, wide$.measure$values)))
    else said_once(axes, role, x$ask$axes[down])
  figures <- wide[setdiff(names(wide), c(down, ".measure", ".role"))]
  columns <- Map(crosstab_column, figures, names(figures),
    MoreArgs = list(x = x, stacked = wide$.measure$values, texts = across_texts(x)))
  ends <- if (x$ask$look$after != "nothing" && length(down) > 0L)
    group_end(x$axes[[down[1L]]][heads[line]])
  table_sheet(x, c(axes, columns), role, mark, page_after = if (x$ask$look$after == "page") ends,
    gap_after = if (x$ask$look$after == "blank") ends)
}

# TRUE for the last row of each group but the last.
group_end <- function(values) {
  values <- as.character(values)
  n <- length(values)
  !is.na(values) & c(!is.na(values[-1L]) & values[-1L] != values[-n], FALSE)
}

# A row is part-way when the period of the row is.
marked_rows <- function(x) {
  in_time <- any(vapply(x$ask$axes[side_axes(x$ask, "rows")], is_period_axis, logical(1L)))
  in_time & x$rows$cut_period[x$grid$row_head]
}

# One under the other: the labels of the row stand on the line of the first measure.
stacked_labels <- function(axes, x) {
  later <- rep(c(FALSE, rep(TRUE, length(x$ask$measures) - 1L)), length(x$grid$row_head))
  lapply(axes, function(column) {
    column$again <- later
    column
  })
}

measure_labels <- function(x, names) {
  labels <- vapply(x$ask$measures, head_label, "")[names]
  new_sheet_column(".measure", "", "left", names, unname(labels))
}

crosstab_column <- function(column, name, x, stacked, texts) {
  if (is.null(stacked)) {
    made <- figure_column(column$values, x$ask$measures[[column$measure]])
    made$text <- marked_cells(made$text, column, x)
    made$text <- with_estimate_mark(made$text, cells_of_grid(x$rows$estimated, x,
      column)[[column$measure]])
    made <- with_marks(made, x$ask$measures[[column$measure]], cell_figures(x, column))
  } else {
    made <- stacked_column(column$values, x, stacked)
  }
  labels <- across_labels(x, column$head, texts)
  if (is.null(stacked) && length(x$ask$measures) > 1L) labels <- c(labels, made$label)
  made$name <- name
  made$label <- labels[length(labels)]
  made$heads <- labels[-length(labels)]
  made$total <- !x$rows$col_role[column$head] %in% c("line", "others")
  made
}

# All figures in one column of the grid.
cell_figures <- function(x, column) cells_of_grid(x$figures, x, column)

cells_of_grid <- function(figures, x, column) {
  here <- match(seq_along(x$grid$row_head), ifelse(x$grid$col == column$place, x$grid$row, NA))
  lapply(figures, `[`, here)
}

# Cells of a cyclic part are in part within their period each for itself: the mark
# stands before the figure.
marked_cells <- function(text, column, x) {
  cyclic <- names(Filter(is_cyclic_axis, x$ask$axes))
  if (length(cyclic) == 0L) {
    return(text)
  }
  of_parts <- Reduce(`|`, lapply(x$axes[cyclic], function(values) !is.na(values)))
  here <- x$grid$col == column$place & x$part_way & of_parts
  part <- x$grid$row[here & !is.na(x$figures[[column$measure]])]
  text[part] <- paste(part_way_mark, text[part])
  text
}

# Each row by the format of its own measure.
stacked_column <- function(values, x, stacked) {
  text <- character(length(values))
  for (measure in names(x$ask$measures)) {
    here <- stacked == measure
    text[here] <- figure_column(values[here], x$ask$measures[[measure]])$text
  }
  new_sheet_column("", "", "right", values, text,
    format = lapply(x$ask$measures[stacked], `[[`, "format"))
}

# The texts of the axes across, by axis, "" where none is said; with a mark where figures were told
# as others.
across_texts <- function(x) {
  lapply(stats::setNames(nm = side_axes(x$ask, "cols")), function(axis) {
    values <- x$axes[[axis]]
    text <- if (is_period(values)) format(values) else as.character(values)
    text[is.na(values)] <- ""
    restated <- are_restated(values, x$ask$axes[[axis]], x)
    text[restated] <- paste(text[restated], restated_mark)
    text
  })
}

# The labels of a column, one for each axis across; a total says so in the first that it releases.
across_labels <- function(x, head, texts) {
  across <- names(texts)
  labels <- vapply(texts, `[`, "", head, USE.NAMES = FALSE)
  blank <- which(labels == "")
  if (length(blank) > 0L) labels[blank[1L]] <- x$ask$axes[[across[blank[1L]]]]$total %||% "Total"
  said <- max(which(labels != ""), 0L)
  in_time <- any(vapply(x$ask$axes[across], is_period_axis, logical(1L)))
  if (in_time && x$rows$cut_period[head]) labels[said] <- paste(labels[said], part_way_mark)
  labels
}
