# The ask: axes, measures, totals and order; everything about a request but the orders.
#
# cols:      the names of the axes that run across; all others run down
# totals:    for rows and cols "none", "grand" or "all"; totals_at: "end" or "start"
# sort, keep: rules of order (plan-sort.R) and of members kept (plan-keep.R), by the name of their dimension

new_ask <- function(axes, measures, totals = both_sides("none"), totals_at = both_sides("end"), cols = character()) {
  list(
    axes = axes, measures = measures, totals = totals, totals_at = totals_at, cols = cols, sort = list(), keep = list()
  )
}

both_sides <- function(word) c(rows = word, cols = word)

# One word for rows and columns, or one for each: c(rows = "all", cols = "none").
read_sides <- function(x, choices, name) {
  if (is.null(names(x))) {
    return(both_sides(check_choice(x, choices, name)))
  }
  if (anyDuplicated(names(x)) > 0L || !all(names(x) %in% c("rows", "cols"))) {
    raise("argument", c(
      "{.arg {name}} is one word, or one for {.val rows} and one for {.val cols}.",
      ">" = "For example {.code {name} = c(rows = \"{choices[1]}\", cols = \"{choices[2]}\")}."
    ))
  }
  sides <- both_sides(choices[1L])
  for (side in names(x)) sides[[side]] <- check_choice(x[[side]], choices, name)
  sides
}

# The names of the axes that run down, or across.
side_axes <- function(ask, side) {
  if (side == "cols") ask$cols else setdiff(names(ask$axes), ask$cols)
}

# The axes of one side up to one of them.
leading_axes <- function(ask, axis) {
  side <- side_axes(ask, if (axis %in% ask$cols) "cols" else "rows")
  side[seq_len(match(axis, side))]
}

# An axis is a dimension (a column), a period (a unit of a calendar) or a cyclic part, which is a dimension read off
# the date.
dimension_axis <- function(column) list(kind = "dimension", name = column, label = column, column = column)

period_axis <- function(unit, calendar_name, calendar, plain) {
  name <- if (plain) unit else paste(calendar_name, unit, sep = "_")
  list(kind = "period", name = name, label = name, unit = unit, calendar = calendar)
}

cyclic_axis <- function(part, calendar_name, calendar, plain) {
  name <- if (plain) part else paste(calendar_name, part, sep = "_")
  list(kind = "cyclic", name = name, label = name, part = part, calendar = calendar)
}

is_period_axis <- function(axis) axis$kind == "period"

is_cyclic_axis <- function(axis) axis$kind == "cyclic"

# `by = c(region, month)` in its parts.
said_axes <- function(quo) {
  whole <- said_quo(quo)
  parts <- if (rlang::is_call(whole$expr, "c")) unname(as.list(whole$expr)[-1L]) else list(whole$expr)
  lapply(Filter(Negate(is.null), parts), said, env = whole$env)
}

# Reads the parts of `by = c(region, month)`: bare names, strings, `civil$month`, or a variable that holds strings.
read_axes <- function(axes, book) {
  axes <- as.list(unlist(lapply(axes, function(said) read_axis(said$expr, book, said$env)), recursive = FALSE))
  names <- vapply(axes, `[[`, "", "name")
  if (anyDuplicated(names) > 0L) {
    raise("argument", c(
      "The table is asked by the same thing twice.",
      "x" = "{examples_of(unique(names[duplicated(names)]))} stands more than once in {.arg by}."
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
    return(list(dimension_axis(said)))
  }
  name <- if (rlang::is_symbol(said)) rlang::as_string(said)
  if (!is.null(name) && name %in% names(book$columns)) {
    return(list(dimension_axis(name)))
  }
  value <- if (!is.null(name) && !is.null(env)) get0(name, envir = env, mode = "character")
  if (rlang::is_call(said)) {
    text <- rlang::as_label(said)
    raise("column", c(
      paste0(quoted(text), " is no column and no period."),
      ">" = paste0("If it is a measure, give it a name: {.code x = ", braces_kept(text), "}.")
    ))
  }
  if (is.null(value)) {
    raise("column", c(
      paste0("There is no column or period ", quoted(rlang::as_label(said)), "."),
      advise_word(rlang::as_label(said), c(names(book$columns), period_units, cyclic_parts), "columns and periods")
    ))
  }
  unlist(lapply(value, read_axis, book = book, env = env), recursive = FALSE)
}

axis_of_period <- function(period, book) {
  calendar <- book$calendars[[period$calendar_name]]
  plain <- period$calendar_name == names(book$calendars)[1L]
  if (period$unit %in% cyclic_parts) {
    check_part(period$unit, calendar)
    return(cyclic_axis(period$unit, period$calendar_name, calendar, plain))
  }
  check_unit(period$unit, calendar)
  period_axis(period$unit, period$calendar_name, calendar, plain)
}
