# Days among figures: the as-of date, the first or the last day of a cell, and what is
# reckoned with them.

# "as_of", "first" or "last".
day_node <- function(which) node("day", fn = which, text = which)

trace_day <- function(tree, at, frame) {
  n <- length(at$cells$from)
  node("days", values = switch(tree$fn,
    as_of = rep(frame$as_of, n), first = at$cells$from, last = pmin(at$cells$to, frame$as_of)))
}

resolve_days <- function(tree, at) {
  with_face(matrix(rep(as.numeric(tree$values), each = at$count), at$count), as_day_date)
}

# A day moved by some days is a day, and so is the earlier or the later of two; between two days lie
# so many, and days compare with days. A time of day counts as its day.
call_of_figures <- function(fn, args) {
  args <- lapply(args, figure_by_day)
  days <- vapply(args, function(arg) !is.null(attr(arg, "face")), NA)
  between_days <- length(days) == 2L && all(days) && fn %in% c(row_comparisons, "-")
  if (any(days) && !between_days && !are_figures_days(fn, days)) {
    raise("expression", c(paste0(quoted(fn), " cannot be used with a day like this."),
      "i" = "You can add days to a day, subtract one day from another, and compare two days.",
      ">" = paste("Days are {.code as.Date(\"2026-07-01\")}, {.code as_of},",
        "or the {.fn min} and {.fn max} of dates.")))
  }
  found <- do.call(measure_functions()[[fn]], lapply(args, without_face))
  if (are_figures_days(fn, days)) with_face(found, as_day_date) else found
}

are_figures_days <- function(fn, days) {
  if (fn == "if_known") all(days) else are_days_of(fn, days)
}

figure_by_day <- function(figure) {
  face <- attr(figure, "face")
  some <- if (!is.null(face)) face(1)
  if (is.character(some)) {
    raise("expression", c("Text cannot be used in arithmetic.",
      "x" = "One part of an expression gives text."))
  }
  if (!inherits(some, "POSIXct")) {
    return(figure)
  }
  days <- figure
  days[] <- as.numeric(local_days(face(as.numeric(figure))))
  with_face(days, as_day_date)
}

# The earliest or the latest of several days is a day.
faced_alike <- function(m, fn, figure) {
  if (fn %in% c("min", "max")) with_face(m, attr(figure, "face")) else m
}

without_face <- function(figure) {
  attr(figure, "face") <- NULL
  figure
}

# days_left(unit): how many days lie between a cell's last day and the end of the period that holds
# it; with trading = TRUE, on how many of them is trade.
parse_days_left <- function(fn, said, vocabulary, depth) {
  args <- match_arguments(as.list(said)[-1L], c("unit", "trading", "calendar"), fn)
  node("days_left", fn = fn, text = code_text(said), options = list(
    unit = period_option(args$unit, args$calendar, vocabulary, fn),
    trading = flag_option(args$trading, "trading", fn)))
}

trace_days_left <- function(tree, at, frame) {
  unit <- tree$options$unit %||% frame$grain %||% raise_no_unit(tree$fn)
  last <- pmin(at$cells$to, frame$as_of)
  end <- period_end(last, unit$unit, unit$calendar)
  days <- if (tree$options$trading) count_trading(last + 1L, end, unit$calendar) else end - last
  node("of_cells", values = ifelse(last >= end, 0, days))
}
