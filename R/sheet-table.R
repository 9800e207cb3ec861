# From a table to its sheet.

as_sheet <- function(x) UseMethod("as_sheet")

#' @export
as_sheet.drystack_rollup <- function(x) {
  axes <- Map(axis_column, x$axes, x$ask$axes)
  axes <- label_totals(axes, x$axes, x$role, x$part_way)
  figures <- Map(figure_column, x$figures, x$ask$measures)
  table_sheet(x, c(axes, figures), x$role, x$part_way)
}

# `...`: what only some sheets have, see new_sheet().
table_sheet <- function(table, columns, role, mark, ...) {
  notes <- table_notes(table)
  part_way <- seq_len(nrow(table$part_way_periods))
  notes[part_way] <- paste(part_way_mark, notes[part_way])
  new_sheet(
    table_title(table), table_facts(table), notes, unname(columns), role, mark, plain_data(table), ...
  )
}

axis_column <- function(values, axis) {
  text <- if (is_period(values)) format(values) else as.character(values)
  raw <- if (is_period(values)) format(values, "key") else as.character(values)
  text[is.na(text)] <- ""
  new_sheet_column(axis$name, axis$label, "left", raw, text)
}

# A total says so in the first column that it releases; a part-way period carries its mark.
label_totals <- function(columns, axes, role, part_way) {
  for (i in seq_along(axes)) {
    here <- is.na(axes[[i]]) & role %in% c("subtotal", "total")
    before <- if (i > 1L) !is.na(axes[[i - 1L]]) else TRUE
    columns[[i]]$text[here & before] <- ifelse(role[here & before] == "total", "Total", "all")
    if (is_period(axes[[i]])) {
      marked <- part_way & !is.na(axes[[i]])
      columns[[i]]$text[marked] <- paste0(columns[[i]]$text[marked], " ", part_way_mark)
    }
  }
  columns
}

figure_column <- function(values, measure) {
  if (is.character(values)) {
    return(
      new_sheet_column(
        measure$name, measure$label, "text", values, ifelse(is.na(values), unknown_face, values)
      )
    )
  }
  if (inherits(values, c("Date", "POSIXct"))) {
    text <- ifelse(is.na(values), unknown_face, format(values))
    return(new_sheet_column(measure$name, measure$label, "right", format(values), text))
  }
  new_sheet_column(
    measure$name, measure$label, "right", values, format_by(values, measure$format), format = measure$format
  )
}
