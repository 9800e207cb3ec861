# Words of the row language that make dimensions: bands of an amount, groups of members, parts of a
# date. They are read here because their constants are more than single values.

row_dimension_parsers <- made_once(function() {
  parts <- stats::setNames(rep(list(parse_part), length(cyclic_parts)), cyclic_parts)
  c(list(banded = parse_banded, regroup = parse_regroup, start_of = parse_start,
    in_currency = parse_in_currency, periods_between = parse_periods_between), parts)
})

# banded(amount, c(0, 100, 500)): each band from its lower limit up to the next, the ends open.
parse_banded <- function(fn, said, vocabulary, depth) {
  args <- match_arguments(as.list(said)[-1L], c("x", "limits", "labels"), fn)
  if (is.null(args$x) || is.null(args$limits)) {
    raise(
      "expression", c("{.fn banded} takes an amount and limits.",
        ">" = "For example {.code banded(amount, c(0, 100, 500))}.")
    )
  }
  limits <- constant_said(args$limits, vocabulary, depth)
  if (!is.numeric(limits) || anyNA(limits) || any(diff(limits) <= 0)) {
    raise("expression", c(
      "The limits of {.fn banded} must be numbers that increase.",
      "x" = paste0("They are ", quoted(rlang::as_label(args$limits)), ".")
    ))
  }
  labels <- if (is.null(args$labels)) band_labels(limits) else constant_said(args$labels,
    vocabulary, depth)
  if (!is.character(labels) || length(labels) != length(limits) + 1L ||
    anyDuplicated(labels) > 0L) {
    raise("expression", c(
      "{.arg labels} of {.fn banded} are different texts, one for each band.",
      "x" = paste(
        "{length(limits)} limit{?s} make {length(limits) + 1} bands:",
        "there is one below the first and one from the last on."
      )
    ))
  }
  dimension_node(fn, said, args$x, list(limits = limits, labels = labels), vocabulary, depth)
}

band_labels <- function(limits) {
  text <- trimws(formatC(limits, format = "fg", big.mark = ",", digits = 12L))
  n <- length(limits)
  c(paste("under", text[1L]), if (n > 1L) paste(text[-n], "to under", text[-1L]),
    paste(text[n], "and over"))
}

# regroup(region, Uplands = c("North", "Peak")): members under a new name; the others keep theirs.
parse_regroup <- function(fn, said, vocabulary, depth) {
  given <- as.list(said)[-1L]
  names <- rlang::names2(given)
  if (length(given) < 2L || names[1L] != "" || any(names[-1L] == "") ||
    anyDuplicated(names[-1L]) > 0L) {
    raise("expression", c(
      "{.fn regroup} takes a column and groups with names.",
      ">" = "For example {.code regroup(region, Uplands = c(\"North\", \"Peak\"))}."
    ))
  }
  groups <- lapply(given[-1L], function(group) {
    as.character(constant_said(group, vocabulary, depth))
  })
  members <- unlist(groups, use.names = FALSE)
  twice <- unique(members[duplicated(members)])
  if (length(twice) > 0L) {
    raise("expression", c("A member is in two groups of {.fn regroup}.",
      "x" = "{examples_of(twice)}."))
  }
  dimension_node(fn, said, given[[1L]], list(groups = groups), vocabulary, depth)
}

# day_of_week(shipped_on): by the first calendar of the daybook.
parse_part <- function(fn, said, vocabulary, depth) {
  if (length(placed_arguments(fn, said, "x")) != 1L) raise("expression",
    c("{.fn {fn}} takes one column of dates.",
    ">" = "{.code {fn}(shipped_on)}"))
  calendar <- vocabulary$calendars[[1L]] %||% civil_calendar()
  dimension_node(fn, said, said[[2L]], list(part = fn, calendar = calendar), vocabulary, depth)
}

# start_of(ordered_on, quarter): by the first calendar, or by one that is named: civil$quarter.
parse_start <- function(fn, said, vocabulary, depth) {
  given <- placed_arguments(fn, said, c("x", "unit"))
  if (length(given) != 2L) {
    raise("expression", c("{.fn start_of} takes a column of dates and a period.",
      ">" = "For example {.code start_of(ordered_on, quarter)}."))
  }
  period <- period_option(given[[2L]], NULL, vocabulary, fn)
  dimension_node(fn, said, given[[1L]], period[c("unit", "calendar")], vocabulary, depth)
}

dimension_node <- function(fn, said, column, constants, vocabulary, depth) {
  text <- paste(deparse(said, width.cutoff = 500L), collapse = " ")
  node("call", fn = fn, args = list(parse_row(column, vocabulary, depth + 1L)),
    constants = constants, text = text)
}

constant_said <- function(said, vocabulary, depth) {
  tree <- parse_row(said, new_vocabulary(env = vocabulary$env), depth + 1L)
  if (tree$kind != "value") raise(
    "expression", c("Constants are needed here.",
      "x" = paste0("This is ", quoted(rlang::as_label(said)), "."))
  )
  tree$value
}

row_dimensions <- function() {
  part <- function(x, part, calendar) cyclic_part(as_dates(x, part), !!part, calendar)
  c(
    list(banded = banded_values, regroup = regrouped_values, start_of = start_values,
      spelt = spelt_values,
      place_among = places_among, period_place = places_of_periods, days_reached = days_reached_by),
    stats::setNames(rep(list(part), length(cyclic_parts)), cyclic_parts)
  )
}

banded_values <- function(x, limits, labels) {
  if (!(is.numeric(x) || is.logical(x))) {
    raise("expression", c("{.fn banded} takes amounts.", "x" = "This is {type_words(x)}."))
  }
  factor(labels[findInterval(x, limits) + 1L], levels = labels)
}

regrouped_values <- function(x, groups, checked = TRUE) {
  text <- if (is.factor(x)) levels(x) else unique(as.character(x))
  unknown <- setdiff(unlist(groups), text)
  if (checked && length(unknown) > 0L) {
    raise("expression", c(
      "{.fn regroup} names values that are not members: {examples_of(unknown)}.",
      advise_word(unknown[1L], sort_values(text[!is.na(text)]), "members")
    ))
  }
  owner <- stats::setNames(rep(names(groups), lengths(groups)), unlist(groups))
  grouped <- ifelse(text %in% names(owner), owner[text], text)
  if (is.factor(x)) {
    return(factor(grouped[as.integer(x)], levels = unique(grouped)))
  }
  grouped[match(as.character(x), text)]
}

start_values <- function(x, unit, calendar) {
  start_of(as_period(as_dates(x, "start_of"), !!unit, calendar))
}

# Text is read as ISO dates; other text is no date by itself.
as_dates <- function(x, part) {
  if (is.factor(x)) x <- as_plain(x)
  if (!is.character(x)) {
    return(x)
  }
  days <- iso_days(x)
  wrong <- unique(x[is.na(days) & !is.na(x) & kernel_trimmed(x) != ""])
  if (length(wrong) > 0L) {
    raise("expression", c(
      "{.fn {part}} takes dates, and this is text.", "x" = "It holds {examples_of(wrong)}.",
      ">" = paste0("Read the column as dates: ", braces_kept(
        pair_said("types", "shipped_on", "date")), ".")
    ))
  }
  as_day_date(days)
}
