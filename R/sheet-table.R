# From a table to its sheet.

as_sheet <- function(x) UseMethod("as_sheet")

#' @export
as_sheet.drystack_rollup <- function(x) {
  x <- with_zeros(x)
  axes <- Map(axis_column, x$axes, x$ask$axes, MoreArgs = list(table = x))
  axes <- said_once(label_totals(axes, x$axes, x$ask$axes, x$role, x$part_way), x$role, x$ask$axes)
  figures <- unlist(lapply(names(x$ask$measures), figure_columns, x = x), recursive = FALSE)
  table_sheet(x, c(axes, figures), x$role, x$part_way)
}

# `...`: what only some sheets have, see new_sheet().
table_sheet <- function(table, columns, role, mark, ...) {
  notes <- table_notes(table)
  about <- table_about(table)
  told <- c(notes, about$text)
  part_way <- seq_len(nrow(table$part_way_periods))
  notes[part_way] <- paste(part_way_mark, notes[part_way])
  new_sheet(
    table_title(table), table_facts(table), notes, unname(columns), role, mark, plain_data(table),
    about = about, told = told, restated = unlist(table$restated$periods, use.names = FALSE), ...
  )
}

# `table`: where restated periods are known.
axis_column <- function(values, axis, table) {
  text <- if (is_period(values)) format(values) else as.character(values)
  raw <- if (is_period(values)) format(values, "key") else as.character(values)
  text[is.na(text)] <- ""
  restated <- are_restated(values, axis, table)
  text[restated] <- paste(text[restated], restated_mark)
  new_sheet_column(axis$name, head_label(axis), "left", raw, text)
}

# A total says what it is of: in the last column that it keeps, or where the axis it releases has a
# word for all of its members, there. A part-way period carries its mark.
label_totals <- function(columns, values, axes, role, part_way) {
  for (i in seq_along(values)) {
    if (is_period(values[[i]])) {
      marked <- part_way & !is.na(values[[i]])
      columns[[i]]$text[marked] <- paste0(columns[[i]]$text[marked], " ", part_way_mark)
    }
  }
  for (i in seq_along(values)) {
    released <- is.na(values[[i]]) & role %in% c("subtotal", "total")
    first <- released & (if (i > 1L) !is.na(values[[i - 1L]]) else TRUE)
    word <- axes[[i]]$total
    if (i == 1L || !is.null(word)) {
      columns[[i]]$text[first] <- word %||% "Total"
    } else {
      columns[[i - 1L]]$text[first] <- paste("Total", columns[[i - 1L]]$text[first])
    }
  }
  columns
}

# Members that the line above has in this column, and in those before it, are said once.
said_once <- function(columns, role, axes) {
  line <- role %in% c("line", "others")
  after_line <- line & c(FALSE, line[-length(line)])
  same <- rep(TRUE, length(role))
  for (i in seq_len(max(length(columns) - 1L, 0L))) {
    text <- columns[[i]]$text
    same <- same & text == c("", text[-length(text)])
    columns[[i]]$again <- same & after_line & !isTRUE(axes[[i]]$repeated)
  }
  columns
}

figure_column <- function(values, measure) {
  if (is.character(values)) {
    return(
      new_sheet_column(
        measure$name, head_label(measure), "text", values,
        ifelse(is.na(values), unknown_face, values)
      )
    )
  }
  if (inherits(values, c("Date", "POSIXct"))) {
    text <- ifelse(is.na(values), unknown_face, format(values))
    return(new_sheet_column(measure$name, head_label(measure), "right", format(values), text))
  }
  new_sheet_column(
    measure$name, head_label(measure), "right", values, format_by(values, measure$format),
      format = measure$format
  )
}
