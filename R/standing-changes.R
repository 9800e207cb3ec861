# The block of a page that says what changed since an earlier build, and the marks of what is restated.

# said: by, show, since, label; page: list(source, book, values, options) of this build, told: see
# told_since().
changes_block <- function(said, path, page, told) {
  block <- list(by = said$by, show = said$show, totals = "grand")
  # The next build compares with it.
  own <- standing_block("rollup", block, page$source, page$book, page$values, path)
  found <- compared_with_earlier(block, path, page, told)
  found$own <- own
  found
}

compared_with_earlier <- function(block, path, page, told) {
  if (is.null(told$told)) {
    return(nothing_compared(told$why))
  }
  told <- told$told
  earlier <- told_source(told, page$source$folder)
  if (is.null(earlier)) {
    return(nothing_compared(paste("The report of the earlier build cannot be read any more:",
      "nothing can be compared.")))
  }
  now <- terms_of_report(page$source, page$book, page$values, block)
  before <- terms_of_told(told, earlier, block, own_conditions(page$book, page$source, page$values))
  lines <- told_lines(told)
  key <- if (!is.null(lines)) unlist(told$key)
  after <- list(terms = now, lines = lines_of_book(page$book))
  was <- list(terms = before, lines = lines, read = told$read)
  if (is.null(lines)) {
    was$told <- told_as_table(told, now, after$lines, length(before$said$only))
    if (is.null(was$told)) {
      return(nothing_compared(paste0("The build of ", day_words(iso_days(told$built)),
        " told no figures by ", joined_words(unlist(block$by)),
          ", and kept no order lines: nothing can be compared.")))
    }
  }
  # What cannot be asked any more stops no page.
  rlang::try_fetch(new_changes(was, after, key, since = paste("on", day_words(iso_days(told$built)))),
    drystack_error = function(e) nothing_compared(paste0("The build of ", day_words(iso_days(told$built)),
      " cannot be compared: ", rlang::cnd_header(e))))
}

nothing_compared <- function(why) structure(list(told_first = why), class = "drystack_changes")

# The terms of a table of this build.
terms_of_report <- function(source, book, values, block) {
  table <- standing_block("rollup", block, source, book, values, list("page"))
  said <- settled_said(source, values)
  said$only <- c(said$only, own_conditions(book, source, values))
  new_terms(said, list(kind = "rollup", said = settled_block(block)), book$as_of, c(table$shown$first,
      table$shown$last), book$calendars, lapply(book$lookups, lookup_table, book = book),
    source)
}

# Those of an earlier build, for the dates it showed. own: conditions beyond those of its report.
terms_of_told <- function(told, source, block, own = list()) {
  values <- earlier_values(told, source)
  shown <- range(unlist(lapply(told$tables, function(table) iso_days(unlist(table$shown)))))
  lookups <- lapply(told$lookups, told_lookup)
  said <- settled_said(source, values)
  said$only <- c(said$only, own)
  new_terms(said, list(kind = "rollup", said = settled_block(block)), iso_days(told$as_of),
    shown,
    named_calendars(standing_calendars(source, list(outside = TRUE))), lookups, source)
}

# A lookup as it was kept, NULL where it was not.
told_lookup <- function(lookup) {
  if (length(lookup) == 0L) {
    return(NULL)
  }
  plain <- function(values) unlist(lapply(values, function(value) if (is.null(value)) NA else value))
  structure(lapply(lookup, plain), class = "data.frame", row.names = seq_along(lookup[[1L]]))
}

#' @rdname changes
#' @export
changes.drystack_build <- function(before, after, key = NULL, ...) {
  own_setting()
  if (!inherits(after, "drystack_build")) raise("argument", c("{.arg after} must be a build too.",
    "x" = "It is {.obj_type_friendly {after}}."))
  sides <- lapply(list(before, after), function(build) {
    told <- if (length(build$told_at) == 1L) read_told(build$told_at)
    source <- if (!is.null(told)) told_source(told, dirname(build$told_at))
    if (is.null(source)) raise("argument", c("What a build told is not kept any more, or cannot be read.",
      "i" = "Builds of the last {most_told} times are kept; of reports for each member none."))
    list(told = told, source = source, lines = told_lines(told))
  })
  if (any(vapply(sides, function(side) is.null(side$lines), NA))) raise("argument", c(
    "A build kept no order lines.",
      ">" = "Say what tells them apart: {.code orders: {{key: [order_id, line]}}}."
  ))
  rollups <- Filter(function(block) block$kind == "rollup", flat_page(sides[[1L]]$source))
  if (length(rollups) == 0L) raise("argument", "The report has no rollup that could be compared.")
  block <- rollups[[1L]]$said[c("by", "show")]
  terms <- lapply(sides, function(side) terms_of_told(side$told, side$source, block))
  new_changes(list(terms = terms[[1L]], lines = sides[[1L]]$lines), list(terms = terms[[2L]],
    lines = sides[[2L]]$lines), key %||% unlist(sides[[1L]]$told$key),
  since = paste("on", day_words(iso_days(sides[[1L]]$told$built))))
}

# Conditions that a daybook has beyond those of the report: that it is for one member.
own_conditions <- function(book, source, values) {
  of_report <- length(settled_said(source, values)$only)
  as.list(condition_said(utils::tail(book$scope, max(length(book$scope) - of_report, 0L))))
}

earlier_values <- function(told, source) {
  set <- lapply(told$set, as.character)
  first <- named_calendars(standing_calendars(source, list(outside = TRUE)))
  facts <- list(last = as_day_date(iso_days(told$as_of)), today = as_day_date(iso_days(told$built)),
    calendar = first[[1L]], last_closed = function() as_day_date(iso_days(told$as_of)))
  parameter_values(source, set, facts)
}

# What a report says of its figures, with the values of its parameters put in.
settled_said <- function(source, values) {
  said <- source$said
  fill <- function(text) if (is.character(text)) filled_expression(text, values, source, list()) else text
  only <- lapply(conditions_said(said$only), function(one) {
    text <- fill(one$text)
    if (is.null(text)) NULL else if (nzchar(one$called)) paste(value_text(one$called), "=", text) else text
  })
  measures <- lapply(said$measures, function(one) {
    if (!is.list(one)) return(fill(as.character(one)))
    one$show <- fill(as.character(one$show))
    one
  })
  settled <- list(
    orders = list(date = said$orders$date, undated = said$orders$undated), lookups = said$lookups,
    calendars = said$calendars, covered_to = said$covered_to, work_out = lapply(said$work_out, fill),
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

# The figures that an earlier build told by the same axes under the report's own conditions, so many, in the
# shape of a table; NULL where it told none.
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
  model$figures <- lapply(table$figures[shared], function(values) suppressWarnings(as.numeric(text(values))))
  model
}

# Periods that were whole when they were told, and whose figures are others now: by calendar and unit the
# keys, and what was told of each.
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

# The table that stood at the same place of the page, where it was by the same axes and under as many
# conditions.
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
    vapply(values, function(v) if (is.null(v)) NA_character_ else as.character(v), "", USE.NAMES = FALSE)
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
