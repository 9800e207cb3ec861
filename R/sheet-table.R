# From a table to its sheet.

as_sheet <- function(table) {
  axes <- Map(axis_column, table$axes, table$ask$axes)
  axes <- label_totals(axes, table)
  figures <- Map(figure_column, table$figures, table$ask$measures)
  notes <- table_notes(table)
  part_way <- seq_len(nrow(table$part_way_periods))
  notes[part_way] <- paste(part_way_mark, notes[part_way])
  new_sheet(
    title = table_title(table), facts = table_facts(table), notes = notes,
    columns = unname(c(axes, figures)), role = table$role, mark = table$part_way
  )
}

axis_column <- function(values, axis) {
  text <- if (is_period(values)) format(values) else as.character(values)
  raw <- if (is_period(values)) format(values, "key") else as.character(values)
  text[is.na(text)] <- ""
  new_sheet_column(axis$name, axis$label, "left", raw, shown_text(text))
}

# A total says so in the first column that it releases; a part-way period carries its mark.
label_totals <- function(axes, table) {
  for (i in seq_along(axes)) {
    here <- is.na(table$axes[[i]]) & table$role %in% c("subtotal", "total")
    before <- if (i > 1L) !is.na(table$axes[[i - 1L]]) else TRUE
    axes[[i]]$text[here & before] <- ifelse(table$role[here & before] == "total", "Total", "all")
    if (is_period(table$axes[[i]])) {
      marked <- table$part_way & !is.na(table$axes[[i]])
      axes[[i]]$text[marked] <- paste0(axes[[i]]$text[marked], " ", part_way_mark)
    }
  }
  axes
}

figure_column <- function(values, measure) {
  if (is.character(values)) {
    return(
      new_sheet_column(
        measure$name, measure$label, "text", values, shown_text(ifelse(is.na(values), unknown_face, values))
      )
    )
  }
  if (inherits(values, c("Date", "POSIXct"))) {
    text <- ifelse(is.na(values), unknown_face, format(values))
    return(new_sheet_column(measure$name, measure$label, "right", format(values), text))
  }
  new_sheet_column(measure$name, measure$label, "right", values, format_by(values, measure$format))
}

# Control characters are shown, not sent on.
shown_text <- function(x) {
  odd <- grepl("[[:cntrl:]]", x)
  x[odd] <- encodeString(x[odd])
  x
}
