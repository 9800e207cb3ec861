# Axes: what the rows and columns of a table are. A dimension (a column), a period (a unit of a
# calendar), a cyclic part, which is a dimension read off the date, or the order lines of a listing.
#
# name:   by which the axis is told from others of its table
# label:  what it is called; labelled: whether somebody said so; total: what stands for all
# of its members
# repeated: TRUE where its members stand on every line of a rollup
# sort:   the rule of order said with it, as an expression, and where its R values are (`env`)
# column: the id of the column of a dimension, or of the date a cyclic part is read off

dimension_axis <- function(name, column, label = NULL) {
  new_axis("dimension", name, label, column = column)
}

period_axis <- function(unit, calendar_name, calendar, plain) {
  name <- if (plain) unit else paste(calendar_name, unit, sep = "_")
  new_axis("period", name, unit = unit, calendar = calendar)
}

cyclic_axis <- function(part, calendar_name, calendar, plain, date) {
  name <- if (plain) part else paste(calendar_name, part, sep = "_")
  axis <- new_axis("cyclic", name, part = part, calendar = calendar, column = date)
  # "month of the year", as people say it.
  axis$label <- sub(" of (year|month|day)$", " of the \\1", axis$label)
  axis
}

new_axis <- function(kind, name, label = NULL, ...) {
  list(kind = kind, name = name, label = label %||% plain_words(name),
    labelled = !is.null(label), ...)
}

# Periods of one calendar and unit are of one kind.
period_kind <- function(axis) paste(axis$calendar$id, axis$unit)

is_period_axis <- function(axis) axis$kind == "period"

is_cyclic_axis <- function(axis) axis$kind == "cyclic"

is_line_axis <- function(axis) axis$kind == "lines"

# `by = c(region, month)` in its parts.
said_axes <- function(quo) {
  whole <- said_quo(quo)
  parts <- if (rlang::is_call(whole$expr, "c")) unname(as.list(whole$expr)[-1L])
    else if (is.character(whole$expr)) as.list(whole$expr) else list(whole$expr)
  # A comma too many says nothing.
  empty <- vapply(parts, function(part) is.null(part) || identical(part, quote(expr = )), NA)
  lapply(parts[!empty], said, env = whole$env)
}

# Reads the parts of `by = c(region, month)`: bare names, strings, `civil$month`, or a
# variable that holds strings.
read_axes <- function(axes, book) {
  axes <- as.list(unlist(lapply(axes, function(said) read_axis(said$expr, book, said$env)),
    recursive = FALSE))
  names <- vapply(axes, `[[`, "", "name")
  if (anyDuplicated(names) > 0L) {
    raise("argument", c(
      "The table has the same axis twice.",
      "x" = "{examples_of(unique(names[duplicated(names)]))} appears more than once in {.arg by}."
    ))
  }
  stats::setNames(axes, names)
}

read_axis <- function(said, book, env) {
  period <- period_of_words(said, book$calendars, c(period_units, cyclic_parts))
  if (!is.null(period)) {
    return(list(axis_of_period(period, book)))
  }
  if (is.character(said)) {
    check_column(said, c(names(book$columns), period_units, cyclic_parts))
    return(list(column_axis(said, book)))
  }
  name <- if (rlang::is_symbol(said)) rlang::as_string(said)
  if (!is.null(name) && name %in% names(book$columns)) {
    return(list(column_axis(name, book)))
  }
  if (rlang::is_call(said, "axis")) {
    return(list(read_labelled_axis(said, book, env)))
  }
  value <- if (!is.null(name) && !is.null(env)) get0(name, envir = env, mode = "character")
  if (rlang::is_call(said)) {
    text <- rlang::as_label(said)
    raise("column", c(
      paste0(quoted(text), " is neither a column nor a period."),
      ">" = paste0("If it is a measure, give it a name: {.code x = ", braces_kept(text), "}.")
    ))
  }
  if (is.null(value)) {
    raise("column", c(
      paste0("There is no column or period ", quoted(rlang::as_label(said)), "."),
      advise_word(rlang::as_label(said), c(names(book$columns), period_units, cyclic_parts),
        "columns and periods")
    ))
  }
  unlist(lapply(value, read_axis, book = book, env = env), recursive = FALSE)
}

# The axes of a table, where the date column is the days of the first calendar, and a period that
# was worked out of it is that period.
read_table_axes <- function(axes, book) {
  axes <- lapply(read_axes(axes, book), dated_axis, book = book)
  kinds <- vapply(Filter(is_period_axis, axes), period_kind, "")
  twice <- names(kinds)[kinds %in% kinds[duplicated(kinds)]]
  if (length(twice) > 0L) {
    raise("argument", c(
      "The table has the same axis twice.",
      "x" = "{examples_of(twice)} are the same periods.", ">" = "Leave all but one out."
    ))
  }
  axes
}

dated_axis <- function(axis, book) {
  period <- if (axis$kind == "dimension") period_of_column(axis$column, book)
  if (is.null(period)) {
    return(axis)
  }
  axis$column <- NULL
  axis[c("kind", "unit", "calendar")] <- list("period", period$unit, period$calendar)
  axis
}

# The period that a column is by which the daybook's date is told: list(unit, calendar), or NULL.
period_of_column <- function(id, book) {
  date <- book$columns[[book$date]]
  tree <- expanded_tree(column_node("", id), engine_of(book))
  if (identical(tree$id, date)) {
    return(list(unit = "day", calendar = book$calendars[[1L]]))
  }
  if (identical(tree$fn, "start_of") && identical(tree$args[[1L]]$id, date)) tree$constants
}

column_axis <- function(name, book) dimension_axis(name, book$columns[[name]], book$labels[[name]])

# What stands in the call axis(), such as one with a label and a word for all members.
read_labelled_axis <- function(said, book, env) {
  args <- match_arguments(as.list(said)[-1L], c("column", "label", "sort", "total",
    "repeated"), "axis")
  if (is.null(args$column)) raise("argument", c("{.code axis()} needs a column or a period.",
    ">" = "For example {.code axis(region, label = \"Sales region\")}."))
  axes <- read_axis(args$column, book, env)
  if (length(axes) != 1L) raise("argument", "{.code axis()} takes one column or period.")
  axis <- axes[[1L]]
  axis <- labelled_axis(axis, args$label, env)
  axis$total <- text_said(args$total, "total", list(env = env))
  axis$repeated <- flag_said(args$repeated, "repeated")
  axis[c("sort", "env")] <- list(args$sort, env)
  axis
}

# A text with parts in braces says how each period is called: "{month_name} {year}"; any other heads
# the axis. c("Month", "{Mon}") says both.
labelled_axis <- function(axis, said, env) {
  said <- if (rlang::is_call(said, "c")) as.list(said)[-1L] else list(said)
  texts <- unlist(lapply(said, text_said, name = "label", vocabulary = list(env = env)))
  template <- is_period_axis(axis) & grepl("{", texts, fixed = TRUE)
  if (!is_period_axis(axis) && any(grepl("{", texts, fixed = TRUE))) raise("argument", c(
    "Only the labels of periods have parts in braces.",
    ">" = "Give {.arg label} a text without them."))
  if (length(texts) > 2L || sum(template) > 1L || sum(!template) > 1L) {
    raise("argument", c(paste0("{.arg label} is the heading of the axis, the form of its period ",
      "labels, or both."),
      ">" = "For example {.code axis(month, label = c(\"Month\", \"{{month_name}} {{year}}\"))}."))
  }
  if (any(!template)) axis[c("label", "labelled")] <- list(texts[!template], TRUE)
  if (any(template)) axis$calendar <- with_period_label(axis$calendar, axis$unit, texts[template])
  axis
}

axis_of_period <- function(period, book) {
  calendar <- book$calendars[[period$calendar_name]]
  plain <- period$calendar_name == names(book$calendars)[1L]
  if (period$unit %in% cyclic_parts) {
    check_part(period$unit, calendar)
    return(cyclic_axis(period$unit, period$calendar_name, calendar, plain,
      (if (period$unit == "hour_of_day") book$hours) %||% book$columns[[book$date]]))
  }
  check_unit(period$unit, calendar)
  period_axis(period$unit, period$calendar_name, calendar, plain)
}
