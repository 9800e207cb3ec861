# What a place of the table that is shown answers with: how its figure came about, the order lines
# behind it, what its members are in the sentence.

# A place of the sheet: list(kind: "figure", row, measure: as behind() takes them, long: the row of
# the long table), list(kind: "member", axis, long), or list(kind: "nothing").
place_of_sheet <- function(table, row, col) {
  sheet <- as_sheet(table)
  nothing <- list(kind = "nothing")
  if (row < 1L || row > length(sheet$role) || col < 1L || col > length(sheet$columns)) {
    return(nothing)
  }
  here <- row_of_sheet(table, row)
  if (is.na(here)) {
    return(nothing)
  }
  name <- sheet$columns[[col]]$name
  if (name %in% names(table$ask$axes)) {
    return(member_place(table, name, here))
  }
  if (table$kind == "headlines") name <- "figure"
  at <- rlang::try_fetch(figure_at(table, here, name), drystack_error = function(e) NULL)
  if (is.null(at)) nothing else list(kind = "figure", row = here, measure = name, long = at$row,
    table = at$table)
}

# The row of as.data.frame() for a row of the sheet; headings and blanks have none.
row_of_sheet <- function(table, row) {
  if (table$kind != "listing") {
    return(row)
  }
  rows <- listing_rows(table, names(group_axes(table$ask)))
  if (rows$role[row] == "heading") NA_integer_ else rows$of[row]
}

member_place <- function(table, name, row) {
  long <- if (table$kind == "crosstab") crosstab_head(table, row) else row
  if (is.na(long) || is.na(table$axes[[name]][long])) list(kind = "nothing")
  else list(kind = "member", axis = name, long = long)
}

# A row of the long table that has the members of a row of the grid.
crosstab_head <- function(table, row) {
  stacked <- table$ask$look$measures_at == "rows" && length(table$ask$measures) > 1L
  table$grid$row_head[if (stacked) (row - 1L) %/% length(table$ask$measures) + 1L else row]
}

# A member across the top: the axis of a level of heads over a column of the sheet.
head_place <- function(table, col, level) {
  sheet <- as_sheet(table)
  if (table$kind != "crosstab" || col < 1L || col > length(sheet$columns)) {
    return(list(kind = "nothing"))
  }
  across <- side_axes(table$ask, "cols")
  column <- wide_columns(table)[[sheet$columns[[col]]$name]]
  if (is.null(column$head) || level > length(across)) {
    return(list(kind = "nothing"))
  }
  name <- across[level]
  if (is.na(table$axes[[name]][column$head])) list(kind = "nothing")
  else list(kind = "member", axis = name, long = column$head)
}

# The act of a member that is clicked: it alone, or of a period its own days by the next finer unit.
member_act <- function(seen, place) {
  table <- seen$table
  axis <- table$ask$axes[[place$axis]]
  value <- table$axes[[place$axis]][place$long]
  if (is_period_axis(axis)) {
    return(finer_act(seen$ask, axis, value))
  }
  if (axis$kind != "dimension") {
    raise("act", c(paste0("A ", plain_words(axis$part),
      " is not a column that orders can be limited by."),
      ">" = "Limit the dates shown instead."))
  }
  c(list(do = "limit"), member_limit_said(axis, value, seen))
}

member_limit_said <- function(axis, value, seen) {
  label <- as.character(value)
  known <- members(engine_of(seen$columns_of), axis)$members
  if (!label %in% known) {
    if (label == "(none)") return(list(column = axis$name, members = list(), none = TRUE))
    raise("act", c(paste0(quoted(label), " stands for several members."),
      ">" = "Choose some of them in the list under the column's name."))
  }
  list(column = axis$name, members = list(member_constants(label, axis$name, seen$columns_of)))
}

finer_act <- function(ask, axis, value) {
  words <- gsub("$", "_", c(ask$rows, ask$cols), fixed = TRUE)
  at <- match(axis$name, words)
  side <- if (at > length(ask$rows)) "cols" else "rows"
  units <- axis$calendar$units
  finer <- rev(period_units[seq_len(match(axis$unit, period_units) - 1L)])
  finer <- Filter(function(unit) unit %in% units && unit_fits(unit, axis), finer)
  if (length(finer) == 0L) raise("act", c("There is nothing finer than a day.",
    ">" = "Open a figure to see its order lines."))
  prefix <- if (grepl("$", c(ask$rows, ask$cols)[at], fixed = TRUE)) sub("[$].*$", "$",
    c(ask$rows, ask$cols)[at]) else ""
  list(
    do = "finer", side = side, at = if (side == "rows") at else at - length(ask$rows),
    axis = paste0(prefix, finer[1L]), from = format(start_of(value)), to = format(end_of(value))
  )
}

# Weeks of a calendar of months do not fit into its months: days do.
unit_fits <- function(unit, axis) {
  unit != "week" || axis$unit != "month" || axis$calendar$anchor == "week"
}

# The members and days of one figure, as `show_by` takes them.
show_by_act <- function(seen, place) {
  table <- place$table %||% seen$table
  act <- list(do = "show_by", members = list())
  for (axis in table$ask$axes) {
    value <- table$axes[[axis$name]][place$long]
    if (is.na(value) || is_line_axis(axis)) next
    if (is_period_axis(axis)) {
      act$from <- format(start_of(value))
      act$to <- format(end_of(value))
    } else if (axis$kind == "dimension") {
      act$members <- c(act$members, list(member_limit_said(axis, value, seen)))
    }
  }
  act
}

# How a figure came about, for the browser: its title, its figure and the steps.
explained_answer <- function(seen, place) {
  explained <- explain(seen$table, place$row, place$measure)
  steps <- explained$steps
  figures <- step_figures(steps)
  list(
    title = shown_text(explained$title), value = shown_text(figure_text(explained)),
    note = shown_text(as.character(explained$note)),
    steps = lapply(seq_len(nrow(steps)), function(i) {
      list(depth = steps$depth[i], expression = shown_text(steps$expression[i]),
        value = shown_text(figures[i]), words = shown_text(steps$words[i]))
    })
  )
}

lines_a_page <- 50L

# The places of the order lines behind a figure, and the table they are of.
placed_behind <- function(table, place) {
  at <- figure_at(table, place$row, place$measure)
  of <- at$table %||% table
  c(placed_lines(figure_parts(of, of$ask$measures[[at$measure]]$tree, at$row), of),
    list(table = of))
}

# One page of these lines, as a table of the browser: only its own values are looked up.
lines_answer <- function(placed, page) {
  n <- length(placed$rows)
  pages <- max(1L, ceiling(n / lines_a_page))
  page <- min(max(page, 1L), pages)
  here <- utils::head(seq_len(n)[seq_len(n) > (page - 1L) * lines_a_page], lines_a_page)
  lines <- lines_at_places(placed, here, placed$table)
  sheet <- data_sheet("Order lines", "", character(),
    lines[columns_in_order(names(lines), placed$table)])
  list(html = paste(html_table(sheet), collapse = ""), lines = counted_lines(n),
    page = page, pages = pages)
}

# The columns of order lines, those that matter to the table first: its date, its dimensions, what
# its figures are worked out from. The place of a line in its file is left out.
columns_in_order <- function(names, table) {
  axes <- vapply(dimension_axes(table$ask), `[[`, "", "name")
  read <- unlist(lapply(table$ask$measures, function(measure) columns_of(measure$tree)))
  first <- intersect(c(table_book(table)$date, axes, read), names)
  setdiff(c(first, names), names_of_tables)
}
