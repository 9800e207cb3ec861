# What a table tells of the records beside its orders: where they are coarser than its rows, how
# they were spread, which conditions they do not know, where they end, and whose members are those
# of one alone.

record_notes <- function(table) {
  unlist(lapply(unname(table$beside), function(told) {
    record <- table$book$records[[told$record]]
    c(condition_notes_beside(told, record), apart_notes(record, table),
      lacking_notes(told, record, table), cut_notes(told, record, table),
      missing_notes_beside(record, table), end_note(told, record, table),
      closed_note_beside(record, table), told_of_record(record))
  }))
}

condition_notes_beside <- function(told, record) {
  if (length(told$conditions) == 0L) {
    return(NULL)
  }
  columns <- setdiff(unlist(lapply(told$conditions, `[[`, "columns")), c(names(record$book$columns),
    record$regardless))
  paste0("The record ", quoted_each(record$name), " does not know ",
    joined_words(quoted_each(vapply(told$conditions, `[[`, "", "words"))),
    ": its figures are unknown. If they are for these orders all the same, say so where it is ",
      "put beside them: ",
    joined_words(option_said("regardless", columns)), ".")
}

quoted_each <- function(texts) paste0("\"", texts, "\"", recycle0 = TRUE)

lacking_notes <- function(told, record, table) {
  words <- function(axes) joined_words(labels_of(axes, table$ask$axes))
  c(
    if (length(told$lacking) > 0L) paste0("The record ", quoted_each(record$name), " has no ",
      words(told$lacking), ": its figures are unknown in rows by ", words(told$lacking),
      if (is.null(record$spread$members)) paste0("; ", option_said("spread", "equally"),
        " divides them"), "."),
    if (length(told$over) > 0L) paste0("The record ", quoted_each(record$name), " has no ",
      words(told$over),
      ": it is spread over the members with orders, ", spread_rule_words(told$members), ".")
  )
}

spread_rule_words <- function(rule) {
  switch(rule, equally = "equally", "last year" = "as the orders were a year before",
    paste("by", rule))
}

cut_notes <- function(told, record, table) {
  unit <- record$per$unit
  no_rule <- is.null(record$spread$days)
  c(
    if (told$unknown) paste0("The record ", quoted_each(record$name), " is by ", unit,
      ": ", if (no_rule)
        paste0("it is unknown for a part of a ", unit, ", as nothing says how it is spread there; ",
          option_said("spread", "days"), " would, and whole() gives the whole ", unit, ".")
      else paste0("only sums can be spread over a part of a ", unit,
        ", other figures are unknown there.")),
    if (length(told$days) > 0L) spread_note(told, record, table)
  )
}

# Both figures where a period is shown in part: that of its days, and the whole.
spread_note <- function(told, record, table) {
  per <- record$per
  rule <- spread_rule_words(told$days)
  said <- paste0("The record ", quoted_each(record$name), " is by ", per$unit,
    "; parts of it are spread ", rule)
  day <- min(table$as_of, table$shown$last)
  start <- period_start(day, per$unit, per$calendar)
  end <- period_end(day, per$unit, per$calendar)
  measures <- Filter(function(measure) is_of_record(measure$tree, record$name), table$ask$measures)
  # Another name for one of these would say it twice.
  measures <- measures[!duplicated(lapply(measures,
    function(measure) tree_key(without_names(measure$tree))))]
  parts <- if (day < end) Filter(Negate(is.null), lapply(measures, function(measure) {
    part_and_whole(measure, told, per, table)
  }))
  if (length(parts) == 0L) {
    return(paste0(said, "."))
  }
  counted <- start:end
  if (identical(told$days, "trading days")) counted <- counted[is_open(counted, per$calendar)]
  paste0(said, ". ", period_labels(start, per$unit, per$calendar), " to ", day_words(day), " is ",
    sum(counted <= day), " of ", length(counted), " ",
    if (told$days == "last year") "days" else told$days, ": ",
    joined_words(unlist(parts)), ".")
}

# "target 30,000.00 of 48,000.00"
part_and_whole <- function(measure, told, per, table) {
  unit <- per[c("unit", "calendar")]
  lens <- function(fn) node("lens", fn = fn, child = measure$tree, options = list(unit = unit))
  # The axes that it is spread over, so that its cents are those of the table.
  axes <- table$ask$axes[intersect(names(table$ask$axes), told$over)]
  if (any(vapply(axes, function(axis) is_cyclic_axis(axis) || holds_days(axis, table$book), NA))) {
    return(NULL)
  }
  ask <- new_ask("rollup", axes,
    list(part = new_measure("part", lens("so_far")), whole = new_measure("whole", lens("whole"))),
    totals = only_rows("grand", "none"))
  rows <- answer(ask, table$book)$rows
  figures <- lapply(rows$figures, utils::tail, 1L)
  if (anyNA(unlist(figures))) {
    return(NULL)
  }
  paste(measure$label, sum_words(figures$part), "of", sum_words(figures$whole))
}

end_note <- function(told, record, table) {
  if (record$last < min(table$as_of, table$shown$last)) {
    paste0("The record ", quoted_each(record$name), " ends on ", day_words(record$last),
      ": it is unknown after that day.")
  }
}

# As part_sentence() says it of orders.
record_part_sentence <- function(part, x) {
  record <- x$book$records[[part$job$record]]
  lines <- length(lines_of_part(part, x))
  spread <- part$beside$spread
  paste0(
    format_count(lines), if (lines == 1L) " line of " else " lines of ", record$name, " from ",
    day_words(part$from), " to ", day_words(part$to), member_words(part, x), scope_words(part$job),
    if (!is.null(spread$days)) paste0(", spread ", spread_rule_words(spread$days),
      days_of_part(part, record)),
    if (!is.null(spread$members)) paste0(", spread over ",
      joined_words(plain_words(spread$over)), " ", spread_rule_words(spread$members))
  )
}

# " (14 of 22)" of the days of the periods that a part lies in.
days_of_part <- function(part, record) {
  per <- record$per
  rule <- part$beside$spread$days
  if (is.null(per) || rule == "last year") {
    return("")
  }
  all <- period_start(part$from, per$unit, per$calendar):period_end(part$to, per$unit, per$calendar)
  if (rule == "trading days") all <- all[is_open(all, per$calendar)]
  paste0(" (", sum(all >= part$from & all <= part$to), " of ", length(all), ")")
}

# Lines by day on days on which the calendar has no trade.
closed_note_beside <- function(record, table) {
  calendar <- table$book$calendars[[1L]]
  if (!is.null(record$per) || is.null(calendar$trading)) {
    return(NULL)
  }
  days <- as.integer(line_days(engine_of(record$book)))
  days <- days[!is.na(days) & days >= table$shown$first & days <= table$shown$last]
  closed <- sum(!is_open(days, calendar))
  if (closed > 0L) paste0(count_words(closed, "line"), " of the record ", quoted_each(record$name),
    if (closed == 1L) " lies" else " lie", " on days without trade.")
}

missing_notes_beside <- function(record, table) {
  counts <- table$missing_beside[[record$name]]
  counts <- counts[counts > 0]
  vapply(names(counts), function(text) {
    paste0(sentence_case(text), " is unknown on ", count_words(counts[[text]], "line"),
      " of the record ", quoted_each(record$name), ", left out of its figures.")
  }, "", USE.NAMES = FALSE)
}
