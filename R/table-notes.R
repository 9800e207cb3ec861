# What a reader must know to read the table right: each note once, in the order of weight.

table_notes <- function(table) {
  c(
    part_way_notes(table), restated_notes(table), kept_notes(table), hidden_note(table),
    growth_note(table), covered_note(table),
    outlook_notes(table), bridge_notes(table), record_notes(table), compared_note(table),
    share_note(table), beyond_note(table), digits_note(table), currency_note(table),
    alike_notes(table), closed_days_notes(table), unreached_note(table), each_notes(table),
      like_for_like_notes(table),
    shown_total_note(table), description_notes(table), cyclic_notes(table),
    outside_notes(table), lost_note(table), bases_notes(table), calendar_note(table),
    record_note(table)
  )
}

part_way_notes <- function(table) {
  part <- table$part_way_periods
  if (nrow(part) == 0L) {
    return(character())
  }
  compared <- any(vapply(table$ask$measures, looks_through, NA, word = "prior"))
  from <- ifelse(part$cut_start, paste0("from ", day_words(part$from), " "), "")
  part_way <- paste0(
    part$label, " is part-way: ", part$days, " of ", part$of, " days, ", from, "to ",
    day_words(part$to), if (compared) "; comparatives cover the same days", "."
  )
  covered <- part$days - part$after
  not_reached <- paste0(
    part$label, ifelse(covered == 0L, " is not covered: ",
      paste0(" is covered in part, ", covered, " of ", part$of, " days: ")),
    "orders end on ", day_words(table$covered), "."
  )
  ifelse(part$after > 0L, not_reached, part_way)
}

# Periods that were whole when they were told, and whose figures are others now.
restated_mark <- "\u2020"

restated_notes <- function(table) {
  labels <- unlist(lapply(names(Filter(is_period_axis, table$ask$axes)), function(axis) {
    values <- table$axes[[axis]]
    unique(format(values[are_restated(values, table$ask$axes[[axis]], table)]))
  }))
  if (length(labels) == 0L) {
    return(character())
  }
  paste0(restated_mark, " ", joined_words(labels), if (length(labels) == 1L) " is" else " are",
    " restated: figures told ", table$restated$since, " were others.")
}

are_restated <- function(values, axis, table) {
  restated <- if (is_period(values)) table$restated$periods[[period_kind(axis)]]
  if (length(restated) == 0L) {
    return(rep(FALSE, length(values)))
  }
  !is.na(values) & format(values, "key") %in% restated
}

growth_note <- function(table) {
  if (isTRUE(table$noted$growth)) "Growth on a base that is zero or negative is unknown." else character()
}

# Headlines say it in words of their own, each for itself.
compared_note <- function(table) {
  if (table$ask$kind == "headlines") {
    return(character())
  }
  vapply(table$compared_days, function(days) {
    paste0(
      sentence_case(joined_words(labels_of(days$names, table$ask$measures))),
      if (length(days$names) == 1L) " compares " else " compare ",
      stretch_words(days$shown[1L], days$shown[2L]), " with ",
      stretch_words(days$from, days$to), "."
    )
  }, "")
}

stretch_words <- function(from, to) {
  if (from == to) day_words(from) else paste(day_words(from), "to", day_words(to))
}

covered_note <- function(table) {
  if (!isTRUE(table$noted$uncovered)) {
    return(character())
  }
  paste0(
    "Growth to days after the orders end is unknown; covered_to() says that the orders are whole ",
      "to a day ",
    "on which nothing was sold."
  )
}

unreached_note <- function(table) {
  axes <- table$noted$unreached
  if (length(axes) > 0L) paste0(sentence_case(joined_words(labels_of(axes, table$ask$axes))),
    " not reached by ", day_words(table$as_of), ": unknown; the last of each row may not be over.")
  else character()
}

share_note <- function(table) {
  if (isTRUE(table$noted$share)) "A share of a whole that is zero is unknown." else character()
}

beyond_note <- function(table) {
  if (!isTRUE(table$noted$beyond)) {
    return(character())
  }
  paste0("Some figures lie beyond what a number can hold (1.8e308), or need sums that do: they ",
    "are unknown.")
}

# Whole numbers beyond those that a double holds to the last digit.
digits_note <- function(table) {
  figures <- Filter(function(x) is.numeric(x) && !is.object(x), table$figures)
  wide <- names(Filter(function(x) any(is.finite(x) & abs(x) > 2^53), figures))
  if (length(wide) == 0L && length(table$rounded) == 0L) {
    return(character())
  }
  words <- if (length(wide) > 0L) labels_of(wide, table$ask$measures) else unique(table$rounded)
  paste0(sentence_case(joined_words(words)), if (length(words) == 1L) " has" else " have",
    " more digits than a number holds here: the first 15 to 17 are right, the others are rounded.")
}

# What figures over trading days leave out.
closed_days_notes <- function(table) {
  left <- table$closed_days
  if (length(left) == 0L) {
    return(character())
  }
  key <- vapply(left, rlang::hash, "")
  vapply(split(names(left), factor(key, unique(key))), function(names) {
    one <- left[[names[1L]]]
    of <- if (!is.null(one$amount)) paste0(" (", plain_amount(one$amount), " of ",
      plain_amount(one$of), ")")
    paste0(sentence_case(joined_words(labels_of(names, table$ask$measures))),
      if (length(names) == 1L) " leaves" else " leave", " out ", counted_lines(one$lines),
      " on closed days", of,
      "; days = \"sold\" counts every day with orders, days = \"all\" every day.")
  }, "", USE.NAMES = FALSE)
}

# What was put together, dropped, or asked for in vain.
kept_notes <- function(table) {
  as.character(c(unlist(Map(kept_note, table$kept, labels_of(names(table$kept), table$ask$axes))),
    unlist(lapply(table$kept_where, kept_where_note, ask = table$ask)), running_of_kept_note(table),
    ranks_of_kept_note(table)))
}

# "7 of 30 members of product shown, those where growth is below 0; 2 have an unknown figure and are
# not among them; totals are those of all."
kept_where_note <- function(kept, ask) {
  labels <- labels_of(kept$leading, ask$axes)
  period <- is_period_axis(ask$axes[[kept$axis]])
  condition <- measure_in_words(kept$tree, vapply(ask$measures, `[[`, "", "label"))
  what <- if (length(labels) > 1L) paste("rows by", joined_words(labels))
    else paste(if (period) "periods of" else "members of", labels)
  of <- paste(if (kept$shown == 0L) "None" else format_count(kept$shown), "of",
    format_count(kept$of), what)
  paste0(of, if (kept$together) " shown alone" else " shown", ", those where ", condition,
    not_among_words(kept$unknown), if (kept$together) paste0("; the others are ",
      quoted(kept$others))
    else if (kept$shown < kept$of) "; totals are those of all", ".")
}

not_among_words <- function(n) {
  if (n == 0L) {
    return("")
  }
  paste0("; ", format_count(n), if (n == 1L) " has" else " have", " an unknown figure and",
    if (n == 1L) " is" else " are", " not among them")
}

# Ranks and running figures are those of the whole table, whichever rows a condition keeps.
ranks_of_kept_note <- function(table) {
  away <- any(vapply(table$kept_where, function(kept) kept$shown < kept$of, NA))
  counting <- names(Filter(function(m) {
    tree_any(m$tree, function(one) one$kind %in% c("rank", "along"))
  }, table$ask$measures))
  if (away && length(counting) > 0L) paste0(
    sentence_case(joined_words(labels_of(counting, table$ask$measures))),
    if (length(counting) == 1L) " counts" else " count", " all rows, those not shown too."
  )
}

kept_note <- function(kept, label) {
  unknown <- not_among_words(kept$unknown)
  if (kept$all) {
    return(paste0(if (kept$of == 1L) "The one member" else paste("All", kept$of, "members"),
      " of ", label, " shown; ", kept$n, " asked for."))
  }
  what <- if (is.null(kept$ranks)) " members of " else " periods of "
  if (is.null(kept$others)) {
    return(paste0(kept$shown, " of ", kept$of, what, label, " shown", unknown,
      "; totals are those of all."))
  }
  if (kept$unknown > 0L) paste0(kept$shown, " of ", kept$of, what, label,
    " shown alone", unknown, ".")
}

# A running figure is in time, whichever periods are shown.
running_of_kept_note <- function(table) {
  kept <- any(vapply(table$kept, function(kept) !is.null(kept$ranks) && !kept$all, NA))
  running <- names(Filter(function(m) looks_through(m, "running"), table$ask$measures))
  if (kept && length(running) > 0L) paste0(
    sentence_case(joined_words(labels_of(running, table$ask$measures))),
    if (length(running) == 1L) " counts" else " count", " all periods to date, those not shown too."
  )
}

# Members that only a lens sees.
hidden_note <- function(table) {
  n <- table$hidden
  if (n == 0L) {
    return(character())
  }
  axes <- dimension_axes(table$ask)
  what <- if (length(axes) == 1L) axes[[1L]]$label else "combination"
  paste0(
    format_count(n), " more ", if (n == 1L) paste(what, "has") else paste0("of ", what, " have"),
    " orders only outside the dates shown", if (disregards_conditions(table)) " or the conditions",
    ", in totals but not in lines."
  )
}

disregards_conditions <- function(table) {
  any(vapply(table$ask$measures, function(m) drops_conditions(m$tree), NA))
}

# Amounts of several currencies in one figure.
currency_note <- function(table) {
  if (length(table$currencies$currencies) < 2L) {
    return(character())
  }
  paste0(
    "Amounts of ", length(table$currencies$currencies), " currencies are added together: ",
    joined_words(table$currencies$currencies), ", in totals over ",
    quoted(table$currencies$column), "."
  )
}

# Members that a reader takes for one another: spelt alike but for case, blanks and invisible signs.
alike_notes <- function(table) {
  axes <- Filter(function(axis) is.character(table$axes[[axis]]) || is.factor(table$axes[[axis]]),
    names(table$axes))
  unlist(lapply(axes, function(axis) {
    labels <- unique(as.character(table$axes[[axis]]))
    labels <- labels[!is.na(labels)]
    alike <- plain_spelling(labels)
    twice <- labels[alike %in% alike[duplicated(alike)]]
    if (length(twice) > 0L) paste0("Members of ", quoted(axis), " that differ by case, blanks or ",
      "invisible characters, each counted alone: ",
      examples_of(with_signs_shown(sort_values(twice)), 4L), ".")
  }))
}

shown_total_note <- function(table) {
  shown <- Filter(function(m) !is.null(m$total), table$ask$measures)
  if (length(shown) == 0L || all(table$role %in% c("line", "others"))) {
    return(character())
  }
  vapply(
    shown, function(m) paste0("Totals of ", m$label, " are the ", m$total, " of the lines shown."),
    "", USE.NAMES = FALSE
  )
}

description_notes <- function(table) {
  described <- Filter(function(m) !is.null(m$description), table$ask$measures)
  vapply(described, function(m) paste0(head_label(m), ": ", m$description), "", USE.NAMES = FALSE)
}

cyclic_notes <- function(table) {
  cyclic <- Filter(is_cyclic_axis, table$ask$axes)
  first <- civil_parts(table$shown$first)$year
  last <- civil_parts(table$shown$last)$year
  if (length(cyclic) == 0L || first == last) {
    return(character())
  }
  named <- sentence_case(joined_words(labels_of(names(cyclic), table$ask$axes)))
  together <- paste0(named, if (length(cyclic) == 1L) " combines " else " combine ", first,
    " to ", last, ".")
  c(together, unlist(lapply(cyclic, uneven_note, table = table)))
}

# Parts that occurred more often than others have larger sums for that alone.
uneven_note <- function(axis, table) {
  if (axis$part == "hour_of_day") {
    return(NULL)
  }
  days <- as_day_date(seq(table$shown$first, min(table$shown$last, table$covered)))
  parts <- part_factor(days, axis$part, axis$calendar)
  codes <- as.integer(parts)
  if (axis$part %in% names(part_unit)) codes <- rle(codes)$values
  counts <- stats::setNames(tabulate(codes, nlevels(parts)), levels(parts))
  counts <- counts[counts > 0L]
  if (min(counts) > 0.95 * max(counts)) {
    return(NULL)
  }
  most <- which.max(tabulate(counts))
  odd <- counts[counts != most]
  told <- vapply(split(names(odd), odd), words_of, "", most = 12L)
  paste0(
    "Not all occurred alike: ", paste(told, "occurred", count_times(names(told)), collapse = ", "),
    ", the others ", count_times(most), " (occurrences() counts); mean(each(",
    part_unit_word(axis$part), ", ...)) compares, ranks and sorts them fairly."
  )
}

count_times <- function(n) ifelse(as.integer(n) == 1L, "once", paste(n, "times"))

# Lines on days for which the calendar of an axis has no period.
outside_notes <- function(table) {
  outside <- table$outside[table$outside > 0]
  if (length(outside) == 0L) {
    return(character())
  }
  paste0(counted_lines(outside), " outside the ", names(outside), ", not in this table.")
}

lost_note <- function(table) {
  if (length(table$lost) == 0L) {
    return(character())
  }
  paste0(
    joined_words(table$lost), if (length(table$lost) == 1L) " has" else " have",
    " no partner in the year compared with: unknown. ",
    "prior(..., match = \"weekday\") compares whole weeks instead."
  )
}

bases_notes <- function(table) {
  paste0(table$bases, ", which stands for 100, lies outside the record (",
    day_words(table$first), " to ",
    day_words(table$as_of), "): the index is unknown.", recycle0 = TRUE)
}

# From which day figures to date count; by which calendar, where there are several.
calendar_note <- function(table) {
  told <- unlist(lapply(table$compared_days, `[[`, "names"))
  units <- lapply(table$ask$measures[setdiff(names(table$ask$measures), told)],
    function(m) so_far_unit(m$tree))
  units <- Filter(Negate(is.null), units)
  if (length(units) == 0L || table$ask$kind == "headlines") {
    return(character())
  }
  day <- min(table$as_of, table$shown$last)
  calendars <- vapply(units, function(unit) unit$calendar$id, "")
  several <- length(unique(calendars)) > 1L
  from <- vapply(units, function(unit) {
    start <- day_words(period_start(day, unit$unit, unit$calendar))
    if (several) paste0(start, " (", unit$calendar$words$short, ")") else start
  }, "")
  counts <- vapply(unique(from), function(start) {
    names <- names(units)[from == start]
    paste0(joined_words(labels_of(names, table$ask$measures)),
      if (length(names) == 1L) " counts" else " count",
      " from ", start)
  }, "")
  paste0("On ", day_words(day), " ", joined_words(counts), ".")
}

# The unit of a figure to date, whatever is done with it; none where a lens has moved it.
so_far_unit <- function(tree) {
  if (is_so_far(tree)) {
    return(tree$options$unit)
  }
  for (part in if (keeps(tree, "days")) figures_of(tree)) {
    unit <- so_far_unit(part)
    if (!is.null(unit)) {
      return(unit)
    }
  }
}

record_note <- function(table) {
  if (!table$before_record) {
    return(character())
  }
  paste0(
    "The record begins on ", day_words(table$first),
    ": figures that reach back before it count from there, and are ",
    "unknown where they lie wholly before it."
  )
}
