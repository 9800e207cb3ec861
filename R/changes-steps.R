# From what was told to what is so now, step by step: first the order lines that are gone, changed
# and late, then each part of the terms that is another. What a step moves is its figure less that
# of the step before, so that all together are the difference, whatever the measure.

# before, after: list(terms; orders: as they are asked; lines: a data frame, or states, or neither,
# where those of before are not known; told: the table as it was, or NULL to have it made).
change_steps <- function(before, after, key = NULL) {
  made <- table_of_terms
  told <- before$told %||% made(before$terms, before$orders)
  lines <- order_steps(before, after, key, told)
  try_terms <- function(terms) {
    rlang::try_fetch(made(terms, after$orders), drystack_error = function(e) NULL)
  }
  terms <- lapply(terms_between(before$terms, after$terms, try_terms), function(step) {
    list(reason = step$words, kind = "terms", lines = NA_real_,
      table = step$table %||% made(after$terms, after$orders), told = step$told)
  })
  steps <- c(lines$steps, terms)
  list(told = told, steps = lines_counted(steps, told), found = lines$found)
}

# Other terms let in order lines, or leave some out.
lines_counted <- function(steps, told) {
  used <- c(told$facts$used, vapply(steps, function(step) as.numeric(step$table$facts$used), 0))
  for (i in seq_along(steps)) {
    more <- abs(used[i + 1L] - used[i])
    if (steps[[i]]$kind == "terms" && more > 0) steps[[i]]$lines <- more
  }
  steps
}

# The steps of orders, under the terms of before.
order_steps <- function(before, after, key, told) {
  asked <- function(orders) table_of_terms(before$terms, orders)
  if (!is.null(before$states)) {
    return(state_steps(before$states, after$states, told, asked))
  }
  if (!is.null(before$lines)) {
    return(line_steps(before, after, key, told, asked))
  }
  now <- asked(after$orders)
  other <- list(reason = "other order lines", kind = "lines",
    lines = now$facts$read - (before$read %||%
    NA_integer_), table = now)
  list(steps = list(other), found = NULL)
}

line_steps <- function(before, after, key, told, made) {
  step <- function(reason, kind, n, table) {
    list(reason = reason, kind = kind, lines = n, table = table)
  }
  found <- compare_lines(before$lines, after$lines, key)
  # On the way there may be no line that the terms could be asked of.
  between <- function(lines) {
    rlang::try_fetch(made(lines), drystack_error = function(e) no_rows_of(told))
  }
  steps <- list()
  if (length(found$gone) > 0L) steps <- c(steps, list(step("lines gone", "gone", length(found$gone),
    between(without_rows(before$lines, found$gone)))))
  changed <- length(found$changed$after) > 0L
  late <- length(found$late) > 0L
  # The lines that are in both stand as they are now, in their order now.
  if (changed) steps <- c(steps, list(step("lines changed", "changed", length(found$changed$after),
    between(without_rows(after$lines, found$late)))))
  if (late) steps <- c(steps, list(step("lines entered since", "late", length(found$late),
    made(after$lines))))
  list(steps = steps, found = found)
}

# A table as one without orders is met: it has none of the cells.
no_rows_of <- function(table) {
  for (field in c("axes", "figures")) table[[field]] <- lapply(table[[field]],
    function(values) values[0L])
  table$role <- character()
  table
}

without_rows <- function(lines, rows) {
  if (length(rows) == 0L) lines else lines[-rows, , drop = FALSE]
}

# The figures of tables for the same cells: those that were told, and those that only a step has,
# within the dates told. A list of cells (axes by name, role) and for each measure a matrix, a
# column for each table.
figures_of_steps <- function(told, tables) {
  axes <- names(told$ask$axes)
  keys <- lapply(c(list(told), tables), cell_keys, axes = axes)
  tables <- c(list(told), tables)
  all <- unique(unlist(keys))
  last <- tables[[length(tables)]]
  fits <- unlist(lapply(tables, in_calendar_of, table = last))
  known <- unique(unlist(keys)[fits])
  measures <- Reduce(intersect, lapply(tables, function(x) names(Filter(is.numeric, x$figures))))
  figures <- lapply(stats::setNames(measures, measures), function(measure) {
    empty <- if (is_additive(told$ask$measures[[measure]]$tree)) 0 else NA_real_
    columns <- Map(function(x, key) {
      values <- x$figures[[measure]][match(known, key)]
      # What has no orders there is nothing, where nothing can be added up.
      values[!known %in% key] <- empty
      as.numeric(values)
    }, tables, keys)
    matrix(unlist(columns), length(known))
  })
  list(cells = cells_of_keys(known, tables, keys), figures = figures,
    apart = length(all) - length(known))
}

# TRUE for the rows of x whose periods are some in the calendar of a table.
in_calendar_of <- function(x, table) {
  fits <- rep(TRUE, length(x$role))
  for (axis in names(Filter(is_period_axis, table$ask$axes))) {
    about <- table$ask$axes[[axis]]
    grid <- calendar_grid(about$calendar)[[about$unit]]
    members <- member_keys(x$axes[[axis]])
    # The days are read rather than those of all periods of a calendar written.
    at <- match(iso_days(sub("/.*", "", members)), grid$starts)
    ends <- iso_days(sub(".*/", "", members))
    fits <- fits & (is.na(members) | (ends == grid$ends[at]) %in% TRUE)
  }
  fits
}

# Members by what they are: periods by their days, whatever calendar cuts them.
member_keys <- function(values) {
  if (!is_period(values)) {
    return(as.character(values))
  }
  ifelse(is.na(values), NA_character_, paste(format(start_of(values)),
    format(end_of(values)), sep = "/"))
}

# Rows by their members and role: a member may have any text, so that each says how long it is, and
# what a total releases has none.
row_keys <- function(axes, role) {
  parts <- lapply(unname(axes), function(values) {
    ifelse(is.na(values), "-", paste0(nchar(values, "bytes"), ":", values))
  })
  do.call(paste, c(parts, list(ifelse(role %in% c("line", "others"), role, "total")), sep = "\r"))
}

# A text for each row that says its members and its role.
cell_keys <- function(x, axes) row_keys(lapply(x$axes[axes], member_keys), x$role)

# The members of each cell, as the last table that has it shows them.
cells_of_keys <- function(known, tables, keys) {
  at <- rep(0L, length(known))
  for (i in seq_along(tables)) at[known %in% keys[[i]]] <- i
  place <- vapply(seq_along(known), function(j) match(known[j], keys[[at[j]]]), 1L)
  pick <- function(field) vapply(seq_along(known), function(j) field(tables[[at[j]]], place[j]), "")
  axes <- names(tables[[1L]]$ask$axes)
  shown <- lapply(stats::setNames(axes, axes), function(axis) {
    pick(function(x, i) {
      value <- x$axes[[axis]][i]
      if (is.na(value)) NA_character_ else if (is_period(value)) format(
        value) else as.character(value)
    })
  })
  list(axes = shown, role = pick(function(x, i) x$role[i]), key = known)
}
