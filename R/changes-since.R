# The block of a page that says what changed since an earlier build, and the marks
# of restated periods.

# said: by, show, since, label; page: list(document, book, values, options) of this build
# told: see told_since()
changes_block <- function(said, path, page, told) {
  block <- list(by = said$by, show = said$show, totals = "grand")
  # The next build compares with it.
  own <- document_block("rollup", block, page$document, page$book, page$values, path)
  found <- compared_with_earlier(block, path, page, told)
  found$own <- own
  found
}

compared_with_earlier <- function(block, path, page, told) {
  if (is.null(told$told)) {
    return(nothing_compared(told$why))
  }
  told <- told$told
  earlier <- told_source(told, page$document$folder)
  if (is.null(earlier)) {
    return(nothing_compared(paste("The report of the earlier build cannot be read any more:",
      "nothing can be compared.")))
  }
  now <- terms_of_report(page, block)
  before <- terms_of_told(told, earlier, block, own_said(page))
  since <- paste("on", day_words(iso_days(told$built)))
  # What cannot be asked any more stops no page.
  rlang::try_fetch({
    after <- list(terms = now, orders = orders_of_book(page$book))
    was <- earlier_side(list(terms = before, read = told$read), told, after, page)
    if (is.null(was)) {
      return(nothing_compared(paste0("The build of ", day_words(iso_days(told$built)),
        " told no figures by ", joined_words(unlist(block$by)),
          ", and kept no order lines: nothing can be compared.")))
    }
    new_changes(was$before, was$after, was$key, since)
  }, drystack_error = function(e) {
    nothing_compared(paste0("The build of ", day_words(iso_days(told$built)),
      " cannot be compared: ", rlang::cnd_header(e)))
  })
}

# The sides to be compared, by what the earlier build kept: its order lines, else the states of its
# orders, else the figures it told; NULL where none of these can answer. list(before, after, key)
earlier_side <- function(before, told, after, page) {
  kept <- told_orders(told)
  if (!is.null(kept$lines) && in_memory(page$book)) {
    before$lines <- before$orders <- kept$lines
    names <- intersect(names(kept$lines), page$book$made$names)
    after$lines <- own_lines(lines_of_book(page$book, names), page) %||% kept$lines[0L, names]
    return(list(before = before, after = after, key = kept$key))
  }
  if (!is.null(kept$states)) {
    now <- own_states(day_states(page$book, kept$states$by, kept$states$amounts), page)
    sides <- if (!is.null(now)) state_sides(before, after, kept$states, now)
    if (!is.null(sides)) {
      return(sides)
    }
  }
  before$told <- told_as_table(told, after$terms, after$orders, length(before$terms$said$only))
  if (!is.null(before$told)) list(before = before, after = after, key = NULL)
}

# NULL where states do not answer what is asked, such as distinct values.
state_sides <- function(before, after, was, is) {
  before$states <- was
  after$states <- is
  before$orders <- orders_of_states(was)
  asked <- rlang::try_fetch({
    before$told <- table_of_terms(before$terms, before$orders)
    table_of_terms(before$terms, orders_of_states(with_rows(was, is$rows)))
  }, drystack_error = function(e) NULL)
  if (!is.null(asked)) list(before = before, after = after, key = NULL)
}

nothing_compared <- function(why) structure(list(told_first = why), class = "drystack_changes")

# The terms of a table of this build.
terms_of_report <- function(page, block) {
  document <- page$document
  book <- page$book
  table <- document_block("rollup", block, document, book, page$values, list("page"))
  said <- settled_said(document, page$values)
  said$only <- c(said$only, own_said(page))
  new_terms(said, list(kind = "rollup", said = settled_block(block)), book$as_of,
    days_asked(table), book$calendars, lapply(book$lookups, lookup_table, book = book),
    lapply(book$records, record_table), document)
}

# Those of an earlier build, for the dates it showed. own: conditions beyond those of its report.
terms_of_told <- function(told, document, block, own = list()) {
  values <- earlier_values(told, document)
  shown <- range(unlist(lapply(told$tables, function(table) iso_days(unlist(table$shown)))))
  if (all(vapply(told$tables, function(table) isTRUE(table$open), NA))) shown[1L] <- NA_integer_
  lookups <- lapply(told$lookups, told_lookup)
  said <- settled_said(document, values)
  said$only <- c(said$only, own)
  new_terms(said, list(kind = "rollup", said = settled_block(block)), iso_days(told$as_of),
    shown,
    named_calendars(document_calendars(document, list(outside = TRUE))), lookups,
    lapply(told$records, told_lookup), document)
}

# A lookup as it was kept, NULL where it was not.
told_lookup <- function(lookup) {
  if (length(lookup) == 0L) {
    return(NULL)
  }
  plain <- function(values) {
    unlist(lapply(values, function(value) if (is.null(value)) NA else value))
  }
  structure(lapply(lookup, plain), class = "data.frame", row.names = seq_along(lookup[[1L]]))
}

#' @rdname changes
#' @export
changes.drystack_build <- function(before, after, key = NULL, ...) {
  own_setting()
  if (!inherits(after, "drystack_build")) raise("argument", c("{.arg after} must be a build too.",
    "x" = "It is {type_words(after)}."))
  sides <- lapply(list(before, after), function(build) {
    told <- if (length(build$told_at) == 1L) read_told(build$told_at)
    document <- if (!is.null(told)) told_source(told, dirname(build$told_at))
    if (is.null(document)) raise("argument",
      c("The figures of that build are no longer kept, or cannot be read.",
      "i" = "The figures of the last {most_told} builds are kept."))
    list(told = told, document = document, kept = told_orders(told))
  })
  rollups <- Filter(function(block) block$kind == "rollup", flat_page(sides[[1L]]$document))
  if (length(rollups) == 0L) raise("argument", "The report has no rollup that could be compared.")
  block <- rollups[[1L]]$said[c("by", "show")]
  both <- lapply(sides, function(side) {
    list(terms = terms_of_told(side$told, side$document, block), lines = side$kept$lines,
      orders = side$kept$lines %||% if (!is.null(side$kept$states))
        orders_of_states(side$kept$states),
      states = side$kept$states)
  })
  found <- builds_compared(both[[1L]], both[[2L]], key %||% sides[[1L]]$kept$key)
  new_changes(found$before, found$after, found$key,
    paste("on", day_words(iso_days(sides[[1L]]$told$built))))
}

# By the order lines of both, or by their states where both kept the same.
builds_compared <- function(before, after, key) {
  if (!is.null(before$lines) && !is.null(after$lines)) {
    return(list(before = before, after = after, key = key))
  }
  same <- !is.null(before$states) && !is.null(after$states) &&
    identical(before$states[c("by", "amounts")], after$states[c("by", "amounts")])
  found <- if (same) state_sides(before, after, before$states, after$states)
  found %||% raise("argument", c(
    "The builds kept too little of their orders to tell what changed.",
    ">" = "Name the key of the order lines: {.code orders: {{key: [order_id, line]}}}."
  ))
}

# Conditions that a daybook has beyond those of its report: that it is for one member.
own_conditions <- function(page) {
  scope <- page$book$scope
  of_report <- length(settled_said(page$document, page$values)$only)
  utils::tail(scope, max(length(scope) - of_report, 0L))
}

own_said <- function(page) as.list(condition_said(own_conditions(page)))

earlier_values <- function(told, document) {
  set <- lapply(told$set, as.character)
  first <- named_calendars(document_calendars(document, list(outside = TRUE)))
  as_of <- iso_days(told$as_of)
  facts <- new_day_facts(iso_days(told$built), as_of, first[[1L]], function(unit) {
    new_period(period_start(as_of, unit, first[[1L]]), unit, first[[1L]])
  })
  parameter_values(document, set, facts)
}

# What a report says of its figures, with the values of its parameters put in.
settled_said <- function(document, values) {
  said <- document$said
  fill <- function(text) {
    if (is.character(text)) filled_expression(text, values, document, list()) else text
  }
  only <- lapply(conditions_said(said$only), function(one) {
    text <- fill(one$text)
    if (is.null(text)) NULL else if (nzchar(one$called)) paste(value_text(one$called), "=",
      text) else text
  })
  measures <- lapply(said$measures, function(one) {
    if (!is.list(one)) return(fill(as.character(one)))
    one$show <- fill(as.character(one$show))
    one
  })
  settled <- list(
    orders = list(date = said$orders$date, undated = said$orders$undated), lookups = said$lookups,
    calendars = said$calendars, covered_to = said$covered_to,
    work_out = lapply(said$work_out, fill),
    records = said$records,
    only = Filter(Negate(is.null), only), closing = said$closing, sort_keys = said$sort_keys,
      labels = said$labels,
    measures = measures
  )
  Filter(function(v) length(v) > 0L, settled)
}

settled_block <- function(block) {
  block$show <- as.list(unlist(block$show))
  block
}

# The figures that an earlier build told by the same axes under the report's own conditions, so
# many, in the shape of a table; NULL where it told none.
told_as_table <- function(told, terms, lines, conditions) {
  by <- unlist(terms$block$said$by)
  model <- table_of_terms(terms, lines)
  axes <- names(model$ask$axes)
  fits <- Filter(function(table) {
    table$kind == "rollup" && identical(as.integer(table$conditions), conditions) &&
      setequal(names(table$axes), axes) &&
      any(names(model$figures) %in% names(table$figures))
  }, told$tables)
  if (length(fits) == 0L) {
    return(NULL)
  }
  shared <- vapply(fits, function(table) sum(names(model$figures) %in% names(table$figures)), 1L)
  table <- fits[[which.max(shared)]]
  text <- function(values) {
    unlist(lapply(values, function(v) if (is.null(v)) NA_character_ else as.character(v)))
  }
  rows <- length(table$role)
  model$axes <- lapply(table$axes[axes], function(values) {
    if (length(values) == 0L) character(rows)
      else text(values)
  })
  model$role <- text(table$role)
  shared <- intersect(names(model$figures), names(table$figures))
  model$figures <- lapply(table$figures[shared],
    function(values) suppressWarnings(as.numeric(text(values))))
  model
}

# Periods that were whole when they were told, and whose figures are others now: by calendar and
# unit the keys, and what was told of each.
restated_periods <- function(told, tables, as_of) {
  tables <- Filter(is_comparable, tables)
  found <- list()
  for (i in seq_along(tables)) {
    table <- tables[[i]]
    axes <- names(Filter(is_period_axis, table$ask$axes))
    was <- same_place(told$tables, i, table)
    if (length(axes) == 0L || is.null(was)) next
    moved <- moved_rows(was, told_table(table))
    for (axis in axes) {
      values <- table$axes[[axis]][moved]
      values <- values[!is.na(values)]
      values <- unique(values[as.integer(end_of(values)) <= as_of])
      if (length(values) == 0L) next
      id <- period_kind(table$ask$axes[[axis]])
      found[[id]] <- union(found[[id]], format(values, "key"))
    }
  }
  found
}

# The table that stood at the same place of the page, where it was by the same axes and under as
# many conditions.
same_place <- function(tables, i, table) {
  was <- if (i <= length(tables)) tables[[i]]
  same <- !is.null(was) && identical(names(was$axes), names(table$axes)) &&
    identical(as.integer(was$conditions), length(table_book(table)$scope)) &&
    any(names(was$figures) %in% names(table$figures))
  if (same) was
}

# Rows of a table whose figures were told otherwise.
moved_rows <- function(was, now) {
  text <- function(values) {
    vapply(values, function(v) if (is.null(v)) NA_character_ else as.character(v), "",
      USE.NAMES = FALSE)
  }
  keys <- function(one) row_keys(lapply(one$axes, text), text(one$role))
  place <- match(keys(now), keys(was))
  shared <- intersect(names(was$figures), names(now$figures))
  other <- lapply(shared, function(name) {
    before <- suppressWarnings(as.numeric(text(was$figures[[name]])))[place]
    after <- suppressWarnings(as.numeric(text(now$figures[[name]])))
    moved <- clean_difference(after, before)
    !is.na(place) & (is.na(moved) | moved != 0)
  })
  which(Reduce(`|`, other))
}

# Tables with their restated periods marked.
with_restated <- function(part, found, since) {
  if (inherits(part, "drystack_beside")) {
    part$parts <- lapply(part$parts, with_restated, found = found, since = since)
    return(part)
  }
  if (inherits(part, "drystack_drawing") && is_comparable(part$table)) {
    return(part$drawn_again(with_restated(part$table, found, since)))
  }
  if (!is_comparable(part)) {
    return(part)
  }
  part$restated <- list(periods = found, since = since)
  part
}
