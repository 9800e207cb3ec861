# A finished table: its rows as columns, the role of each, and where it came from.
#
# ask: the ask it answers; book: the daybook it was asked of, whose engine can trace a figure to its
#   order lines; source: the whole daybook, where `book` holds only the orders that are listed
# axes: for each axis its values, row by row (NA where a total releases the axis)
# figures: for each measure its values; role: "line", "others", "subtotal" or "total"
# part_way: TRUE where the row's period is not over on the as-of date
# rows: all of this and more, as table_rows() gives it
# as_of, covered, first, shown, facts, scope: the dates, the record and the orders it was made from
# part_way_periods, lost, bases, compared_days, noted, kept, kept_where, calendars, unmet,
# currencies, outside,
#   outside, before_record, missing, lookups, each, hidden: what its notes tell
# beside, apart: what they tell of records beside the orders (table-records.R)
# scope_said: the conditions as they are written
# grid, line_of, compared, history, histories, listed: what only a cross-tab, a listing, headlines,
# a rollup have
new_table <- function(ask, answer, book, source = book, grid = NULL, line_of = NULL,
  compared = NULL,
  history = NULL, histories = NULL, listed = NULL) {
  rows <- answer$rows
  plan <- answer$plan
  folded <- answer$folded
  structure(
    list(
      kind = ask$kind, ask = ask, axes = rows$axes, figures = rows$figures,
      role = rows$role, part_way = rows$part_way, rows = rows,
      as_of = book$as_of, covered = covered_day(book), first = plan$frame$first,
      shown = shown_facts(book, plan$frame), part_way_periods = part_way_shown(plan, answer),
      grain = plan$frame$grain, beside = plan$beside, apart = members_apart(folded, ask, plan),
        lost = plan$lost, bases = plan$bases, compared_days = plan$compared,
        noted = as.list(plan$notes),
      kept = folded$kept, kept_where = folded$kept_where,
      calendars = used_calendars(ask, book), scope = condition_words(book$scope),
        scope_said = condition_texts(book$scope),
      unmet = not_met(ask, source), undecided = undecided_conditions(ask, source),
      closed_days = closed_day_orders(ask, source), currencies = mixed_currencies(ask, book),
      outside = outside_calendars(ask, book), before_record = plan$before_record,
      missing = missing_amounts(folded, plan), missing_beside = missing_beside(folded, plan, book),
      added_there = unique(unlist(lapply(unname(folded$jobs), `[[`, "added_there"))),
        rounded = unique(unlist(lapply(unname(folded$jobs), `[[`, "rounded"))),
        facts = order_facts(source),
      lookups = read_lookups(ask, source), each = each_told(ask, source),
      hidden = hidden_members(folded, ask, plan), book = book,
      source = source, grid = grid, line_of = line_of, compared = compared, history = history,
      histories = histories, listed = listed, generation = engine_of(book)$generation
    ),
    class = c(paste0("drystack_", ask$kind), "drystack_table")
  )
}

# The part-way periods; of periods of which only some are kept, those that are shown.
part_way_shown <- function(plan, answer) {
  kept <- c(Filter(function(kept) !is.null(kept$ranks), answer$folded$kept),
    answer$folded$kept_where)
  if (length(kept) == 0L) {
    return(plan$part_way)
  }
  shown <- unlist(lapply(Filter(is_period, answer$rows$axes),
    function(periods) unique(format(periods))))
  plan$part_way[plan$part_way$label %in% shown, , drop = FALSE]
}

# Conditions that no line meets, and members that no line has, in the scope and in the measures.
not_met <- function(ask, book) {
  unmet <- unmet_conditions(book)
  met <- setdiff(lapply(book$scope, `[[`, "tree"), lapply(unmet, `[[`, "tree"))
  c(unmet_notes(book, unmet), misspelt_notes(c(met, lapply(ask$measures, `[[`, "tree")),
    engine_of(book)))
}

#' @export
as.data.frame.drystack_table <- function(x, ...) {
  own_setting()
  columns <- c(lapply(x$axes, plain_axis), x$figures, list(.role = x$role),
    estimated_column(x$rows$estimated))
  structure(columns, class = "data.frame", row.names = seq_along(x$role))
}

#' @exportS3Method tibble::as_tibble
as_tibble.drystack_table <- function(x, ...) tibble::as_tibble(as.data.frame(x))

plain_axis <- function(values) {
  if (is.factor(values) || is_period(values)) values else as.character(values)
}

# How many lines in scope lie on days for which the calendar of an axis has no
# period, for each such calendar.
outside_calendars <- function(ask, book) {
  calendars <- Filter(function(calendar) !is.null(calendar) && has_edges(calendar),
    lapply(ask$axes, `[[`, "calendar"))
  if (length(calendars) == 0L) {
    return(integer())
  }
  job <- new_job(book)
  counts <- vapply(calendars, function(calendar) {
    range <- calendar_range(calendar)
    count <- function(from, to) count_lines(engine_of(book), lines_part(book, job, from, to))
    count(first_known_day, min(range[1L] - 1L, book$as_of)) + count(range[2L] + 1L, book$as_of)
  }, 0)
  stats::setNames(counts, vapply(calendars, function(calendar) calendar$words$long, ""))
}

# The order lines of a job on some days, as engines are asked for them.
lines_part <- function(book, job, from, to) {
  list(job = job, from = from, to = to, book = book, dimensions = list(), kept = list(),
    members = list())
}

# Those that figures may read: dated, not after the as-of date, in scope.
part_in_scope <- function(book) lines_part(book, new_job(book), first_known_day, book$as_of)

shown_facts <- function(book, frame) {
  list(first = frame$show_first, last = frame$show_last, limited = !is.null(book$shown))
}

# The calendars that the axes and the lenses of an ask read.
used_calendars <- function(ask, book) {
  of_axes <- lapply(ask$axes, `[[`, "calendar")
  of_lenses <- unlist(lapply(ask$measures, function(m) lens_calendars(m$tree)), recursive = FALSE)
  ids <- vapply(Filter(Negate(is.null), c(of_axes, of_lenses)), `[[`, "", "id")
  Filter(function(calendar) calendar$id %in% ids, book$calendars)
}

lens_calendars <- function(tree) tree_collect(tree, function(one) list(one$options$unit$calendar))

# How many of the order lines read by the figures have no known amount, for each amount by its text.
missing_amounts <- function(folded, plan) {
  counts <- list()
  for (key in names(Filter(function(job) is.null(job$record), plan$jobs))) {
    amounts <- Filter(function(amount) !amount$quiet && !amount$position, plan$jobs[[key]]$amounts)
    for (amount in names(amounts)) {
      text <- amounts[[amount]]$text
      missing <- sum(kernel_finish(folded$jobs[[key]]$states[[amount]]$missing, "count"))
      counts[[text]] <- max(counts[[text]], missing)
    }
  }
  unlist(counts)
}

# The same of the lines of records beside the orders, by record and amount: each line once, however
# it was spread.
missing_beside <- function(folded, plan, book) {
  jobs <- Filter(function(job) !is.null(job$record), plan$jobs)
  counts <- lapply(jobs, function(job) {
    amounts <- Filter(function(amount) !amount$quiet && !amount$position, job$amounts)
    if (length(amounts) == 0L) return(NULL)
    lines <- if (!is.null(job$spread)) current_lines(book$records[[job$record]], job$spread)
    unlist(lapply(stats::setNames(names(amounts), vapply(amounts, `[[`, "", "text")),
      function(key) {
        if (is.null(lines)) {
          return(sum(kernel_finish(folded$jobs[[job$key]]$states[[key]]$missing, "count")))
        }
        length(unique(lines$line[is.na(line_values(lines$engine, amounts[[key]]$tree))]))
      }))
  })
  by_record <- split(unname(counts), vapply(jobs, `[[`, "", "record"))
  lapply(by_record, function(all) {
    all <- unlist(all)
    if (length(all) > 0L) tapply(all, names(all), max)
  })
}

# Lookups whose columns the table reads, in whatever place: list(name, by, keys, lines) with what
# they lack.
read_lookups <- function(ask, book) {
  if (length(book$lookups) == 0L && is.null(book$rates)) {
    return(list())
  }
  read <- lookups_of(engine_of(book), ids_read(ask, book))
  rates <- lapply(book$rates[c("by_day", "by_month_end")], function(one) {
    list(id = one$lookup, name = "rates", by = one$by, told = book$rates$table$told)
  })
  lookups <- Filter(function(lookup) lookup$id %in% read, c(book$lookups,
    if (!is.null(book$rates)) unname(rates)))
  lapply(lookups, function(lookup) {
    lacking <- lacking_keys(lookup, ask, book)
    c(lookup[c("name", "by")], list(told = lookup$told), lacking,
      list(alike = keys_alike(lacking$keys, lookup, engine_of(book))))
  })
}

# Of a listing for some orders only their own keys are told. Where a condition speaks of the lookup
# itself the lines that lack its row are not among them: then keys are counted, not named.
lacking_keys <- function(lookup, ask, book) {
  lacking <- unmatched_keys(book, lookup)
  if (!is.null(lookup$decode) || ask$kind != "listing" || length(book$scope) == 0L ||
    length(lacking$keys) == 0L) {
    return(lacking)
  }
  engine <- engine_of(book)
  spoken_of <- unlist(lapply(book$scope, function(condition) {
    lookups_of(engine, ids_of(condition$tree))
  }))
  if (lookup$id %in% spoken_of) {
    return(c(lacking, list(named = FALSE)))
  }
  key <- column_node(lookup$by, book$columns[[lookup$by]])
  rows <- line_values(engine, key, order_lines(engine, part_in_scope(book)))
  own <- member_text(plain_values(rows)) %in% lacking$keys
  list(keys = sort_values(unique(member_text(plain_values(rows))[own])), lines = sum(own))
}

# The ids of the columns that a table reads, in whatever place.
ids_read <- function(ask, book) {
  trees <- c(lapply(ask$measures, `[[`, "tree"), lapply(book$scope, `[[`, "tree"), rule_trees(ask))
  c(axis_columns(ask), unlist(lapply(trees, ids_of)))
}

# The ids of the columns that the axes of an ask are, and that stand on the lines of a listing.
axis_columns <- function(ask) {
  axes <- ask$axes[setdiff(names(ask$axes), names(ask$listing$time_groups))]
  unlist(lapply(c(unname(axes), unname(ask$listing$columns)), `[[`, "column"))
}

# The ids of the lookups that columns come of, however they were worked out.
lookups_of <- function(engine, ids) {
  unique(unlist(lapply(unique(ids), function(id) {
    meaning <- engine$meanings[[id]]
    switch(meaning$kind,
      worked_out = lookups_of(engine, ids_of(meaning$tree)),
      looked_up = c(meaning$lookup, lookups_of(engine, engine$meanings[[meaning$lookup]]$by))
    )
  })))
}

# Conditions that some order lines meet as little as their contrary, a column they speak of being
# unknown: list(words, columns, lines).
undecided_conditions <- function(ask, book) {
  scopes <- unlist(lapply(ask$measures, function(m) conditions_in(m$tree)), recursive = FALSE)
  conditions <- c(book$scope, lapply(scopes, new_condition, own = FALSE))
  conditions <- Filter(function(condition) may_be_unknown(condition$tree), conditions)
  conditions <- conditions[!duplicated(vapply(conditions, `[[`, "", "key"))]
  if (length(conditions) == 0L) {
    return(list())
  }
  lines <- lines_undecided(engine_of(book), conditions, book)
  lapply(which(lines > 0), function(i) {
    c(conditions[[i]][c("words", "columns")], list(lines = lines[[i]]))
  })
}

conditions_in <- function(tree) {
  tree_collect(tree, function(one) if (!is.null(one$condition)) list(one$condition))
}

# How many members the measures see only outside the dates shown.
hidden_members <- function(folded, ask, plan) {
  dimensions <- names(dimension_axes(ask))
  base <- folded$jobs[[plan$base]]
  alone <- length(folded$jobs) == 1L && length(shown_groups(plan$base, folded, plan)) == base$count
  if (length(dimensions) == 0L || ask$members == "seen" || ask$kind == "listing" || alone) {
    return(0L)
  }
  shown <- occurring_places(folded, ask, plan, dimensions)
  ask$members <- "seen"
  seen <- distinct_rows(occurring_places(folded, ask, plan, dimensions))
  sum(is.na(match_rows(seen, shown, length(seen[[1L]]), length(shown[[1L]]))))
}

# Where a table comes from: how many order lines were read, left out and why, and used. Each line
# left out counts under the first reason that fits it.
order_facts <- function(book) {
  counts <- left_out(engine_of(book), book)
  reasons <- c(
    "without a date", paste("after", day_words(book$as_of)),
    paste("that do not meet", dQuote(condition_words(book$scope), FALSE))[seq_along(book$scope)]
  )
  left <- counts > 0
  list(
    read = engine_of(book)$rows, used = engine_of(book)$rows - sum(counts),
    left_out = structure(list(reason = reasons[left], lines = counts[left]),
      class = "data.frame", row.names = seq_len(sum(left))),
    told = unique(c(book$made$told, told_of_columns(engine_of(book)), engine_of(book)$changed))
  )
}

table_book <- function(x) x$source

check_table <- function(x) {
  if (!inherits(x, "drystack_table")) {
    raise("argument", c("{.arg x} must be a table of this package.",
      "x" = "It is {type_words(x)}."))
  }
}
