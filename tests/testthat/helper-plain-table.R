# Lenses on the table and members kept, by plain R: what looks at other rows is worked
# out from the cells of these rows. A cell of a table holds its `row`; world$table is
# list(rows, axes, cells, base).

plain_axes_of <- function(row, table) table$axes[!is.na(unlist(lapply(row[table$axes], as.character)))]

# The rows of the same level that share the values of some axes.
plain_beside <- function(row, table, within) {
  rows <- table$rows
  kept <- plain_axes_of(rows[row, ], table)
  same_level <- vapply(seq_len(nrow(rows)), function(i) identical(plain_axes_of(rows[i, ], table), kept), NA)
  for (axis in intersect(kept, within)) {
    value <- as.character(rows[[axis]])
    same_level <- same_level & value %in% value[row]
  }
  which(same_level)
}

# The cell with its values on all axes but some released.
plain_released <- function(cell, within, table) {
  cell$members <- cell$members[intersect(names(cell$members), within)]
  if (!is.null(cell$period) && !cell$period %in% within) {
    cell[c("from", "to")] <- table$base[c("from", "to")]
    cell$period <- NULL
  }
  cell
}

plain_ratio <- function(a, b) if (is.na(a) || is.na(b) || b == 0) NA_real_ else a / b

plain_table_lens <- function(kind, inner, axis) {
  of_table <- function(form, value) {
    text <- sub("%a", axis, sub("%m", inner$text, form, fixed = TRUE), fixed = TRUE)
    list(text = text, value = function(cell, world) value(cell, world, world$table))
  }
  share <- function(cell, world, within) {
    plain_ratio(inner$value(cell, world), inner$value(plain_released(cell, within, world$table), world))
  }
  switch(kind,
    overall = of_table("overall(%m)", function(cell, world, table) {
      inner$value(plain_released(cell, character(), table), world)
    }),
    overall_within = of_table("overall(%m, within = %a)", function(cell, world, table) {
      inner$value(plain_released(cell, axis, table), world)
    }),
    share = of_table("share(%m)", function(cell, world, table) share(cell, world, character())),
    share_within = of_table("share(%m, within = %a)", function(cell, world, table) share(cell, world, axis)),
    parent = of_table("share(%m, of = \"parent\")", function(cell, world, table) {
      share(cell, world, utils::head(plain_axes_of(table$rows[cell$row, ], table), -1L))
    }),
    rank = of_table("rank(%m)", function(cell, world, table) plain_rank(inner, cell, world, character())),
    rank_within = of_table("rank(%m, within = %a)",
      function(cell, world, table) plain_rank(inner, cell, world, axis)),
    along = of_table("running(%m, along = %a)",
      function(cell, world, table) plain_along(inner, cell, world, axis))
  )
}

plain_rank <- function(inner, cell, world, within) {
  table <- world$table
  kept <- vapply(seq_len(nrow(table$rows)), function(i) length(plain_axes_of(table$rows[i, ], table)), 1L)
  # Totals have none.
  if (kept[cell$row] < max(kept)) {
    return(NA_real_)
  }
  beside <- plain_beside(cell$row, table, within)
  values <- vapply(beside, function(i) {
    if (stands_for_others(table$rows[i, ])) NA_real_ else signif(inner$value(table$cells[[i]], world), 12L)
  }, 0)
  own <- values[beside == cell$row]
  if (is.na(own)) NA_real_ else 1 + sum(values > own, na.rm = TRUE)
}

# The members up to the cell's own, together. Where the axis is released nothing runs.
plain_along <- function(inner, cell, world, axis) {
  table <- world$table
  kept <- plain_axes_of(table$rows[cell$row, ], table)
  if (!axis %in% kept) {
    return(inner$value(cell, world))
  }
  beside <- plain_beside(cell$row, table, setdiff(kept, axis))
  up_to <- beside[beside <= cell$row]
  cell$members[[axis]] <- unlist(lapply(up_to, function(i) table$cells[[i]]$members[[axis]]))
  inner$value(cell, world)
}

# The members put together, and their subtotals.
stands_for_others <- function(row) "All others" %in% unlist(lapply(row, as.character))

# A row of the members put together stands for all that its group does not keep.
plain_others <- function(row, rows, dimension, leading, world) {
  here <- rep(TRUE, nrow(rows))
  for (axis in leading) here <- here & as.character(rows[[axis]]) %in% as.character(row[[axis]])
  kept <- as.character(rows[[dimension]][here & rows$.role == "line"])
  setdiff(unique(plain_member(world$orders, dimension, world)), kept)
}
