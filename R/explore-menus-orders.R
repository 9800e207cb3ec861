# Menus of what is looked at: conditions and members, dates, the as-of date, calendars,
# order and totals.

menu_only <- function(seen, asked) {
  ask <- seen$ask
  at <- place_asked(asked, length(ask$only))
  limit <- if (at > 0L) limit_said(ask$only[at])
  if (!is.null(limit) && limit$column %in% names(seen$columns_of$columns)) {
    return(menu_members(seen, c(list(column = limit$column, at = at), asked["search"])))
  }
  facts <- column_facts(seen$columns_of)
  columns <- facts[facts$kind != "amount", ]
  new_menu(
    if (at > 0L) "This condition" else "Which orders",
    list(
      if (at > 0L) new_group("", list(new_item("leave out", list(do = "drop_condition", at = at)))),
      new_group("Members of", lapply(columns$name, function(name) {
        new_item(plain_words(name), menu = list(menu = "members", column = name))
      }))
    ),
    typed = list(says = "or type a condition: amount > 100", key = "text", words = "condition",
      act = if (at > 0L) list(do = "set_condition", at = at) else list(do = "add_condition"))
  )
}

# The members of a column, each with the first figure among the orders that meet the other
# conditions; those that none of these has are there too.
menu_members <- function(seen, asked) {
  column <- act_text(asked, "column")
  book <- seen$columns_of
  check_column(column, names(book$columns))
  axis <- dimension_axis(column, book$columns[[column]])
  known <- members(engine_of(book), axis)
  at <- which(vapply(seen$ask$only, function(text) {
    identical(limit_said(text)$column, column)
  }, NA))[1L]
  limit <- if (!is.na(at)) limit_said(seen$ask$only[at])
  literals <- member_constants(known$members, column, book)
  figures <- member_figures(seen, column, if (!is.na(at)) at else 0L)
  order <- order(-figures$value[match(known$members, figures$member)], na.last = TRUE)
  ticked <- literals %in% limit$members
  item <- function(i) {
    found <- match(known$members[i], figures$member)
    new_item(known$members[i], value = literals[i], on = ticked[i],
      note = if (is.na(found)) "no orders" else figures$text[found])
  }
  shown <- members_searched(known$members, order, act_text(asked, "search", ""))
  items <- lapply(shown$places, item)
  none <- match("(none)", figures$member)
  if (!is.na(none) || isTRUE(limit$none)) items <- c(items, list(new_item("(none)", value = "NA",
    on = isTRUE(limit$none), note = if (is.na(none)) "no orders" else figures$text[none])))
  new_menu(plain_words(column), list(
    if (!is.na(at)) new_group("", list(new_item("all of them",
      list(do = "drop_condition", at = at)))),
    new_group(figures$says, items)
  ), multi = list(column = column, except = isTRUE(limit$except), members = as.list(limit$members)),
  more = shown$more)
}

# Of very many members those that hold the words typed, at most as many as are shown.
members_searched <- function(members, order, search) {
  words <- strsplit(tolower(trimws(search)), "[ ,]+")[[1L]]
  low <- tolower(members)
  for (word in words) order <- order[grepl(word, low[order], fixed = TRUE)]
  list(places = utils::head(order, most_items), more = max(0L, length(order) - most_items))
}

# Members as constants: texts in quotes, numbers, dates and yes or no as they are.
member_constants <- function(labels, column, book) {
  some <- column_kind(engine_of(book), column_node(column, book$columns[[column]]))
  if (is.logical(some) || (is.numeric(some) && !is.object(some))) {
    return(labels)
  }
  quoted <- encodeString(labels, quote = "\"")
  if (inherits(some, "Date")) paste0("as.Date(", quoted, ")") else quoted
}

# The first figure for each member, under all conditions but one; order lines where it cannot
# be told.
member_figures <- function(seen, column, without) {
  ask <- seen$ask
  if (without > 0L) ask$only <- ask$only[-without]
  by <- empty_ask()
  same <- c("work_out", "only", "latest", "from", "to", "complete", "as_of",
    "covered_to", "calendar", "measures")
  by[same] <- ask[same]
  by$rows <- column
  shown <- Filter(function(m) !m$hidden, ask$measures)
  table <- if (length(shown) > 0L) table_or_none(by, seen)
  says <- if (is.null(table)) "order lines" else measure_face(shown[[1L]], seen)
  if (is.null(table)) {
    by$measures <- list(explored_measure("lines", "count()"))
    table <- table_or_none(by, seen)
  }
  if (is.null(table)) {
    return(list(member = character(), value = numeric(), text = character(), says = ""))
  }
  values <- table$figures[[1L]]
  list(
    member = as.character(table$axes[[1L]]), value = if (is.numeric(values)) as.numeric(
      values) else NA,
    text = figure_column(values, table$ask$measures[[1L]])$text, says = says
  )
}

table_or_none <- function(ask, seen) {
  rlang::try_fetch(explored_table(ask, explored_book(ask, seen$base, seen$made)),
    drystack_error = function(e) NULL)
}

menu_dates <- function(seen, asked) {
  ask <- seen$ask
  calendar <- seen$columns_of$calendars[[1L]]
  latest <- function(text, words) {
    new_item(words, list(do = "set_dates", latest = text),
      on = ask$latest == text)
  }
  spans <- c("1 month", "3 month", "6 month", "12 month", "24 month", "4 quarter",
    "8 quarter", "1 year", "2 year",
    "3 year", "4 week", "13 week", "52 week")
  spans <- Filter(function(text) sub("^[0-9]+ ", "", text) %in% calendar$units, spans)
  words <- function(text) {
    n <- sub(" .*$", "", text)
    unit <- sub("^.* ", "", text)
    if (n == "1") paste("the last", unit) else paste("the last", n, unit_plural(unit))
  }
  new_menu("Dates shown", list(
    new_group("", list(
      new_item("all dates", list(do = "set_dates"),
        on = !any(nzchar(c(ask$latest, ask$from, ask$to)))),
      new_item("finished periods only", list(do = "set", key = "complete", value = !ask$complete),
        on = ask$complete)
    )),
    new_group("Up to the as-of date", lapply(spans, function(text) latest(text, words(text)))),
    new_group("Years", year_items(ask, seen))
  ), typed = list(says = "or type: 5 week, or 2026-01-01 to 2026-03-31", key = "text",
    words = "dates",
    act = list(do = "set_dates")))
}

# The years of the record, the last first.
year_items <- function(ask, seen) {
  book <- seen$columns_of
  calendar <- book$calendars[[1L]]
  if (!"year" %in% calendar$units) {
    return(list())
  }
  starts <- calendar_grid(calendar)$year$starts
  begun <- starts[starts > book$first & starts <= book$last]
  years <- as_period(as_day_date(rev(utils::tail(c(book$first, begun), 40L))), "year", calendar)
  lapply(seq_along(years), function(i) {
    from <- format(start_of(years[i]))
    to <- format(end_of(years[i]))
    new_item(format(years[i], "long"), list(do = "set_dates", from = from, to = to),
      paste(from, "to", to), on = ask$from == from && ask$to == to)
  })
}

menu_as_of <- function(seen, asked) {
  ask <- seen$ask
  book <- seen$columns_of
  last <- as_day_date(book$last)
  firsts <- seq(as.Date(format(last, "%Y-%m-01")), by = "-1 month", length.out = 13L)
  ends <- c(last, firsts[-13L] - 1)
  ends <- ends[as.integer(ends) >= book$first]
  set <- function(key, value, words, note = "") {
    new_item(words, list(do = "set", key = key, value = value), note, on = ask[[key]] == value)
  }
  new_menu("As of", list(
    new_group("", list(set("as_of", "", "the last order", day_words(book$last)))),
    new_group("Ends of months", lapply(ends[-1L], function(day) {
      set("as_of", format(day),
        day_words(as.integer(day)))
    })),
    new_group("The orders are whole", list(
      set("covered_to", "", "to the last order"),
      set("covered_to", format(last + 1), paste("to", day_words(as.integer(last + 1)))),
      new_item("to another day ...", typed = list(says = "a day: 2026-09-30",
        value = ask$covered_to,
        key = "value"),
        act = list(do = "set", key = "covered_to"))
    )),
    new_group("A period closes", list(
      set("closed_after", "", "not at all"), set("closed_after", "7", "7 days after it ends"),
      set("closed_after", "14", "14 days after it ends")
    ))
  ), typed = list(says = "or type a day: 2026-08-31", key = "value", words = "day",
    act = list(do = "set", key = "as_of")))
}

menu_calendar <- function(seen, asked) {
  book <- seen$columns_of
  own <- lapply(names(book$calendars), function(name) {
    new_item(book$calendars[[name]]$words$long, list(do = "set", key = "calendar", value = name),
      on = name == names(book$calendars)[1L])
  })
  others <- c("civil", paste0("fiscal:", month.name[-1L]), "iso")
  new_menu("Calendar", list(
    new_group("Of this daybook", own),
    new_group("Others", lapply(others, function(word) {
      new_item(calendar_from(word)$words$long, list(do = "set", key = "calendar", value = word))
    }))
  ), typed = list(says = "or type: week:4-4-5:last Saturday of January", key = "value",
    words = "calendar",
    act = list(do = "set", key = "calendar")))
}

menu_order <- function(seen, asked) {
  words <- c(seen$ask$rows, seen$ask$cols)
  if (length(words) == 0L) {
    return(new_menu("Order", list(new_group("", list(
      new_item("one line: there is nothing to order"))))))
  }
  new_menu("Order", lapply(words, function(word) {
    sorts <- if (!is_period_word(word)) sort_items(seen, word)
    new_group(paste("Members of", axis_face(word)), c(sorts, keep_items(seen, word)))
  }))
}

# The orders of a dimension; periods stand in time.
sort_items <- function(seen, word) {
  c(
    list(rule_item(seen, "sort", word, "", "in its own order")),
    of_each_figure(seen, function(name, face) {
      list(
        rule_item(seen, "sort", word, arguments_text("largest_first", name),
          paste0("largest ", face, " first")),
        rule_item(seen, "sort", word, arguments_text("smallest_first", name),
          paste0("smallest ", face, " first"))
      )
    }),
    list(new_item("another order ...", rule_act("sort", word),
      typed = list(says = "by_key(class_no), or in_order(\"Small\", \"Large\")", value = "",
        key = "text")))
  )
}

keep_items <- function(seen, word) {
  c(
    list(rule_item(seen, "keep", word, "", "all of them")),
    of_each_figure(seen, function(name, face) {
      lapply(c(5, 10), function(n) {
        rule_item(seen, "keep", word, paste0("keep_top(", n, ", ", name, ")"),
          paste("the top", n, "by", face))
      })
    }),
    of_each_figure(seen, function(name, face) {
      list(rule_item(seen, "keep", word, paste0("keep_where(", name, " < 0)"),
        paste("rows where", face, "is below 0")))
    }),
    list(new_item("another number ...", rule_act("keep", word),
      typed = list(says = "keep_top(15, amount, others = NULL)", value = "", key = "text")),
      new_item("rows by a figure ...", rule_act("keep", word),
        typed = list(says = "keep_where(amount > 1000)", value = "", key = "text")))
  )
}

of_each_figure <- function(seen, items) {
  shown <- Filter(function(m) !m$hidden, seen$ask$measures)
  unlist(lapply(shown, function(m) items(name_text(m$name), measure_face(m, seen))),
    recursive = FALSE)
}

# Rules go by the name that an axis has in the table.
rule_act <- function(kind, word) {
  list(do = "set_rule", rule = kind, axis = gsub("$", "_", word, fixed = TRUE))
}

rule_item <- function(seen, kind, word, text, words) {
  act <- c(rule_act(kind, word), list(text = text))
  new_item(words, act, on = identical(seen$ask[[kind]][[act$axis]] %||% "", text))
}

menu_totals <- function(seen, asked) {
  ask <- seen$ask
  set <- function(key, value, words) {
    new_item(words, list(do = "set", key = key, value = value),
      on = identical(ask[[key]], value))
  }
  new_menu("Totals", list(
    new_group("", list(
      set("totals", "none", "none"), set("totals", "grand", "a grand total"), set("totals", "all",
        "all subtotals, too"),
      if (length(ask$cols) > 0L && ask$kind == "table") set("totals", "rows=grand,cols=none",
        "of the rows only"),
      if (length(ask$cols) > 0L && ask$kind == "table") set("totals", "rows=none,cols=grand",
        "of the columns only")
    )),
    new_group("", list(set("totals_at", "end", "at the end"),
      set("totals_at", "start", "at the start")))
  ))
}
