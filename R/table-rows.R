# The rows of all levels as one long table, in the shown order. A total stands at the end of the
# lines it adds up, or before them. Rows of members that are not shown are kept in `dropped`: they
# are a part of what adds up. `others`: rows put together of rows that are not
# kept (resolve-keep-where.R).

table_rows <- function(levels, folded, ask, others = list()) {
  rows <- rows_with_others(rows_of_levels(levels, folded, ask), others, folded, ask)
  in_order <- if (length(ask$axes) > 0L) do.call(order, c(unname(rows$places), method = "radix"))
    else seq_along(rows$role)
  dropped <- is_dropped(rows, folded) | is_out_of_sight(rows, folded, ask)
  # Of millions of rows each copy counts: they are put in order and chosen at once.
  those <- function(which) {
    rows_of_table(rows, if (all(which)) in_order else in_order[which[in_order]])
  }
  shown <- those(!dropped)
  shown$figures <- Map(
    total_of_shown, shown$figures, ask$measures,
    MoreArgs = list(axes = shown$axes, role = shown$role)
  )
  # What stands in a line of others is no part of its own.
  shown$dropped <- those(dropped & !stands_in_others(rows, folded, ask))
  shown$unseen <- those(dropped)
  shown
}

rows_of_levels <- function(levels, folded, ask) {
  parts <- lapply(levels, level_rows, ask = ask)
  bound <- function(field) end_to_end(lapply(parts, `[[`, field))
  ranks <- stats::setNames(lapply(seq_along(ask$axes), function(i) {
    end_to_end(lapply(parts, function(p) p$ranks[[i]]))
  }), names(ask$axes))
  figures <- stats::setNames(lapply(names(ask$measures), function(name) {
    end_to_end(lapply(parts, function(p) p$figures[[name]]))
  }), names(ask$measures))
  with_others(new_rows(
    ranks = ranks, places = shown_places(ranks, folded, ask),
    axes = Map(axis_values, ask$axes, ranks, MoreArgs = list(folded = folded)), figures = figures,
    role = bound("role"), row_role = bound("row_role"), col_role = bound("col_role"),
    part_way = bound("part_way"), cut_period = bound("cut_period"),
    estimated = stats::setNames(lapply(names(ask$measures), function(name) {
      end_to_end(lapply(parts, function(p) p$estimated[[name]]))
    }), names(ask$measures))
  ), folded, ask)
}

end_to_end <- function(values) if (length(values) == 1L) values[[1L]] else vctrs::vec_c(!!!values)

# ranks: by axis the member or day of each row, `released` where a total releases it
# places: by axis where the row stands in the shown order
# axes, figures: by axis and by measure the values shown
# role, row_role, col_role: "line", "others", "subtotal" or "total", as a whole and on each side
# part_way, cut_period: whether the row's period is not over, or cut by the dates shown
# dropped: the rows that are not shown and stand in no line of others; unseen: all that
# are not shown
# estimated: by measure whether its figure is an estimate
new_rows <- function(ranks, places, axes, figures, role, row_role, col_role, part_way, cut_period,
  estimated) {
  list(
    ranks = ranks, places = places, axes = axes, figures = figures, role = role,
    row_role = row_role,
    col_role = col_role, part_way = part_way, cut_period = cut_period, estimated = estimated,
    dropped = NULL, unseen = NULL
  )
}

rows_of_table <- function(rows, which) {
  of_all <- function(x) lapply(x, `[`, which)
  by_name <- c("ranks", "places", "axes", "figures", "estimated")
  rows[by_name] <- lapply(rows[by_name], of_all)
  flat <- c("part_way", "cut_period")
  rows[flat] <- of_all(rows[flat])
  roles <- c("role", "row_role", "col_role")
  rows[roles] <- once_each(rows[roles], `[`, which)
  rows
}

rows_joined <- function(parts) {
  if (length(parts) == 1L) {
    return(parts[[1L]])
  }
  rows <- parts[[1L]]
  of_all <- function(name) lapply(parts, `[[`, name)
  for (name in c("ranks", "places", "axes", "figures", "estimated")) {
    columns <- of_all(name)
    rows[[name]] <- lapply(stats::setNames(seq_along(columns[[1L]]),
      names(columns[[1L]])), function(i) {
        end_to_end(lapply(columns, `[[`, i))
      })
  }
  for (name in c("role", "row_role", "col_role", "part_way", "cut_period")) {
    rows[[name]] <- end_to_end(of_all(name))
  }
  rows
}

# Where each row stands on each axis: by the rule of its dimension, else by member or
# day; totals at their end.
shown_places <- function(ranks, folded, ask) {
  places <- ranks
  for (dimension in names(folded$order)) {
    places[[dimension]] <- order_places(ranks, folded$order[[dimension]], dimension)
  }
  for (side in c("rows", "cols")) {
    if (ask$totals_at[[side]] == "end") next
    for (axis in side_axes(ask, side)) places[[axis]][ranks[[axis]] == released] <- -released
  }
  places
}

# Lines of members put together have a role of their own.
with_others <- function(rows, folded, ask) {
  for (dimension in names(folded$dimensions)) {
    others <- folded$dimensions[[dimension]]$others
    other <- if (length(others) > 0L) rows$ranks[[dimension]] %in% others
    if (!any(other)) next
    role <- if (dimension %in% ask$cols) "col_role" else "row_role"
    rows$role[other & rows$role == "line"] <- "others"
    rows[[role]][other & rows[[role]] == "line"] <- "others"
  }
  rows
}

# total = of_shown(f): the totals of a measure from the lines shown under them.
total_of_shown <- function(result, measure, axes, role) {
  if (is.null(measure$total)) {
    return(result)
  }
  if (!is.numeric(result)) {
    raise("expression", c(
      paste0("The measure ", quoted(measure$name),
        " gives no numbers: its totals cannot be combined from the lines shown."),
      ">" = "Leave {.arg total} out: the total is then worked out from its orders."
    ))
  }
  line <- role %in% c("line", "others")
  for (row in which(!line)) {
    under <- line
    for (axis in axes) if (!is.na(axis[row])) under <- under & (axis %in% axis[row])
    result[row] <- combiners()[[measure$total]](matrix(result[under], 1L), NULL)
  }
  result
}
