# What a part of the sentence can be changed to: a list that the browser shows under it.
#
# A menu is list(title, typed, groups, more, multi). typed: NULL, or list(says, act, key) for what may be
# typed instead. A group is list(title, items); an item list(label, note, on, act), or with `menu`
# instead of an act another menu, or with `typed` a text to be typed. more: how many are not shown.
# multi: NULL, or what the members that are ticked are put into (see act_limit()).

explored_menu <- function(seen, asked) {
  word <- act_text(asked, "menu")
  make <- explore_menus()[[word]]
  if (is.null(make)) raise("act", paste0("There is no list ", quoted(word), "."))
  searched_menu(make(seen, asked), act_text(asked, "search", ""))
}

explore_menus <- function() {
  list(
    measure = menu_measure, rows = menu_axis, cols = menu_axis, lines = menu_axis, per = menu_per,
    only = menu_only, members = menu_members, dates = menu_dates, as_of = menu_as_of,
    calendar = menu_calendar, order = menu_order, totals = menu_totals, kind = menu_kind,
    figure = menu_figure, against = menu_against, fixed = menu_fixed, show_by = menu_show_by
  )
}

new_menu <- function(title, groups, typed = NULL, multi = NULL, more = 0) {
  groups <- Filter(function(group) length(group$items) > 0L, groups)
  list(title = title, groups = unname(groups), typed = typed, multi = multi, more = more)
}

new_group <- function(title, items) list(title = title, items = unname(Filter(Negate(is.null), items)))

new_item <- function(label, act = NULL, note = "", on = FALSE, menu = NULL, typed = NULL, value = NULL) {
  list(label = label, note = note, on = on, act = act, menu = menu, typed = typed, value = value)
}

# At most this many of the items are shown; typing finds the others.
most_items <- 200L

searched_menu <- function(menu, search) {
  words <- strsplit(tolower(trimws(search)), "[ ,]+")[[1L]]
  fits <- function(item) {
    text <- tolower(paste(item$label, item$note))
    all(vapply(words, grepl, NA, x = text, fixed = TRUE))
  }
  left <- most_items
  for (i in seq_along(menu$groups)) {
    items <- menu$groups[[i]]$items
    if (length(words) > 0L) items <- Filter(fits, items)
    shown <- utils::head(items, left)
    menu$more <- menu$more + length(items) - length(shown)
    left <- left - length(shown)
    menu$groups[[i]]$items <- shown
  }
  menu$groups <- Filter(function(group) length(group$items) > 0L, menu$groups)
  menu
}

# Figures: those of the columns, those that come of the figures shown, and how this one looks.

menu_measure <- function(seen, asked) {
  at <- place_asked(asked, length(seen$ask$measures))
  choose <- function(text, name) {
    if (at == 0L) list(do = "add_measure", text = text, name = name)
    else list(do = "set_measure", at = at, text = text, name = name)
  }
  new_menu(
    if (at == 0L) "One more figure" else "This figure",
    list(
      if (at > 0L) new_group("This figure", this_measure_items(seen, at)),
      new_group("Worked out from what is shown", derived_items(seen, at)),
      new_group("From the orders", column_items(seen, choose))
    ),
    typed = list(says = "or type an expression: sum(net) / count()", key = "text", words = "measure",
      act = if (at == 0L) list(do = "add_measure") else list(do = "set_measure", at = at))
  )
}

place_asked <- function(asked, n) {
  if (is.null(asked$at) || identical(as.numeric(asked$at), 0)) 0L else act_at(asked, n)
}

column_items <- function(seen, choose) {
  facts <- column_facts(seen$columns_of)
  of <- function(fn, words, columns, name) {
    lapply(columns, function(column) {
      text <- arguments_text(fn, name_text(column))
      new_item(paste(words, plain_words(column)), choose(text, name(column)), text)
    })
  }
  amounts <- facts$name[facts$kind == "amount"]
  counted <- setdiff(facts$name[facts$kind == "dimension"], seen$columns_of$date)
  c(
    of("sum", "total", amounts, plain_name),
    of("mean", "mean", amounts, function(column) paste0("mean_", plain_name(column))),
    list(new_item("order lines", choose("count()", "lines"), "count()")),
    lapply(counted, function(column) {
      text <- arguments_text("distinct", name_text(column))
      new_item(paste("number of", plural_of_key(column)), choose(text, plain_name(plural_of_key(column))),
        text)
    }),
    of("median", "median", amounts, function(column) paste0("median_", plain_name(column))),
    of("max", "greatest", amounts, function(column) paste0("greatest_", plain_name(column))),
    of("min", "least", amounts, function(column) paste0("least_", plain_name(column)))
  )
}

# Each figure that is shown, compared, to date, running, as a share or a rank.
derived_items <- function(seen, at) {
  ask <- seen$ask
  measures <- if (at > 0L) ask$measures[at] else Filter(function(m) !m$hidden, ask$measures)
  unlist(lapply(measures, function(m) {
    face <- measure_face(m, seen)
    name <- name_text(m$name)
    lapply(derived_forms(ask), function(form) {
      text <- gsub("@", name, form$text, fixed = TRUE)
      new_item(gsub("@", face, form$words, fixed = TRUE),
        list(do = "add_measure", text = text, name = paste(m$name, form$name, sep = "_")), text)
    })
  }), recursive = FALSE)
}

# In words, as an expression and as the end of a name; @ stands for the figure.
derived_forms <- function(ask) {
  form <- function(words, text, name) list(words = words, text = text, name = name)
  axes <- c(ask$rows, ask$cols)
  timed <- length(axes) == 0L || !any(vapply(axes, function(word) sub("^.*[$]", "", word) %in% cyclic_parts,
    NA))
  crossed <- length(ask$rows) > 0L && length(ask$cols) > 0L
  grain <- Filter(is_period_word, axes)
  Filter(Negate(is.null), list(
    if (timed) form("@ a year before", "prior(@, year)", "year_before"),
    if (timed) form("growth of @ on a year before", "growth(@, year)", "growth"),
    if (timed) form("change of @ on a year before", "change(@, year)", "change"),
    if (timed) form("@ this year to date", "ytd(@)", "ytd"),
    if (timed) form("@ this year to date, a year before", "prior(ytd(@), year)", "ytd_before"),
    if (length(grain) > 0L && timed) form(paste("@, the", utils::tail(grain, 1L), "before"),
      paste0("prior(@, ", utils::tail(grain, 1L), ")"), "before"),
    if (timed) form("running @", "running(@)", "running"),
    if (timed) form("@ over 12 months", "moving(@, 12, month)", "12_months"),
    form("share of @ in the total", "share(@)", "share"),
    if (crossed) form("share of @ in the column", "share(@, of = \"column\")", "share_of_column"),
    if (crossed) form("share of @ in the row", "share(@, of = \"row\")", "share_of_row"),
    if (length(ask$rows) > 1L) form("share of @ in its group", "share(@, of = \"parent\")", "share_of_group"),
    form("rank by @", "rank(@)", "rank"),
    form("@ overall", "overall(@)", "overall")
  ))
}

this_measure_items <- function(seen, at) {
  one <- seen$ask$measures[[at]]
  set <- function(...) list(do = "set_measure", at = at, ...)
  looks <- c("whole numbers" = "decimal(0)", "one decimal" = "decimal(1)", "two decimals" = "decimal(2)",
    "per cent" = "percentage()", "money, \u00a3" = "money(\"\u00a3\")",
    "money, \u00a3, no pence" = "money(\"\u00a3\", digits = 0)", "as it comes" = "")
  c(
    list(
      new_item("leave out", list(do = "drop_measure", at = at)),
      if (at > 1L) new_item("move to the left", list(do = "move_measure", at = at, to = at - 1L)),
      new_item("call it ...", typed = list(says = "its label", value = one$label, key = "label"),
        act = set()),
      new_item("largest first", sort_act(seen$ask, one$name, "largest_first")),
      new_item("smallest first", sort_act(seen$ask, one$name, "smallest_first"))
    ),
    lapply(names(looks), function(words) {
      new_item(paste("shown as", words), set(format = looks[[words]]), on = identical(one$format,
        looks[[words]]))
    }),
    if (seen$ask$totals != "none") list(
      new_item("totals from their own orders", set(total = ""), on = one$total == ""),
      new_item("totals as the mean of what is shown", set(total = "of_shown(mean)"),
        on = one$total == "of_shown(mean)"),
      new_item("totals as the sum of what is shown", set(total = "of_shown(sum)"),
        on = one$total == "of_shown(sum)")
    )
  )
}

# The order of the innermost axis down that is no period, by a figure.
sort_act <- function(ask, name, rule) {
  axis <- utils::tail(Filter(Negate(is_period_word), ask$rows), 1L)
  if (length(axis) > 0L) list(do = "set_rule", rule = "sort", axis = axis,
    text = arguments_text(rule, name_text(name)))
}

# Axes: periods of each calendar, parts of dates, columns.

menu_axis <- function(seen, asked) {
  side <- act_text(asked, "menu")
  ask <- seen$ask
  at <- place_asked(asked, length(ask[[side]]))
  choose <- function(word) {
    if (at == 0L) list(do = "add_axis", side = side, axis = word)
    else list(do = "set_axis", side = side, at = at, axis = word)
  }
  here <- if (at > 0L) ask[[side]][at] else ""
  items <- axis_items(seen$columns_of, choose, here)
  new_menu(
    c(rows = if (ask$kind == "listing") "Groups" else "Down the side", cols = "Across the top",
      lines = "Shown on each line")[[side]],
    list(
      if (at > 0L) new_group("This one", this_axis_items(ask, side, at)),
      new_group("Columns", items$columns), new_group("Periods", items$periods),
      new_group("Parts of dates, years put together", items$parts)
    ),
    typed = if (side != "lines") list(says = "or make one: size = banded(amount, c(0, 100, 500))",
      key = "text",
      words = "axis", act = list(do = "work_out", side = side))
  )
}

axis_items <- function(book, choose, here = "") {
  facts <- column_facts(book)
  words <- unlist(lapply(seq_along(book$calendars), function(i) {
    units <- rev(book$calendars[[i]]$units)
    if (i == 1L) units else paste0(names(book$calendars)[i], "$", units)
  }))
  item <- function(word, note) new_item(axis_face(word), choose(word), note, on = word == here)
  columns <- facts[facts$kind != "amount" & facts$name != book$date, ]
  list(
    columns = Map(item, columns$name, columns$kind),
    periods = lapply(words, function(word) {
      item(word, if (grepl("$", word, fixed = TRUE)) "" else calendar_words(book$calendars[[1L]]))
    }),
    parts = lapply(parts_of_calendar(book$calendars[[1L]]), item, note = "")
  )
}

parts_of_calendar <- function(calendar) {
  Filter(function(part) {
    part != "hour_of_day" && rlang::try_fetch({
      check_part(part, calendar)
      TRUE
    }, drystack_error = function(e) FALSE)
  }, cyclic_parts)
}

this_axis_items <- function(ask, side, at) {
  axis <- ask[[side]][at]
  plain <- !is_period_word(axis)
  shown <- Filter(function(m) !m$hidden, ask$measures)
  first <- if (length(shown) > 0L) shown[[1L]]$name
  rule <- function(kind, text) c(rule_act(kind, axis), list(text = text))
  list(
    new_item("leave out", list(do = "drop_axis", side = side, at = at)),
    if (ask$kind == "table" && side != "lines") new_item(
      if (side == "rows") "put across the top" else "put down the side",
      list(do = "other_side", side = side, at = at)
    ),
    if (at > 1L) new_item("move to the front", list(do = "move_axis", side = side, at = at, to = 1L)),
    if (plain && side != "lines") new_item("only some of its members", menu = list(menu = "members",
      column = axis)),
    if (plain && !is.null(first) && side != "lines") new_item("largest first", rule("sort",
      arguments_text("largest_first", name_text(first)))),
    if (!is.null(first) && side != "lines") new_item("the top 10 only", rule("keep",
      paste0("keep_top(10, ", name_text(first), ")"))),
    new_item("in its own order", rule("sort", ""))
  )
}

# What a line of a listing stands for.
menu_per <- function(seen, asked) {
  columns <- column_facts(seen$columns_of)
  names <- columns$name[columns$kind == "dimension"]
  new_menu("What a line is", list(
    new_group("", list(new_item("order line", list(do = "set", key = "per", value = ""),
      on = seen$ask$per == ""))),
    new_group("All lines of one", lapply(names, function(name) {
      new_item(plain_words(name), list(do = "set", key = "per", value = name), on = seen$ask$per == name)
    }))
  ))
}

# Another axis for the members of one figure.
menu_show_by <- function(seen, asked) {
  act <- asked$act
  items <- axis_items(seen$columns_of, function(word) c(act, list(axis = word)))
  new_menu("Show this figure by", list(new_group("Columns", items$columns), new_group("Periods",
    items$periods)))
}

menu_kind <- function(seen, asked) {
  forms <- c(table = "a table", listing = "order lines under their groups", headlines = "headlines")
  ask <- seen$ask
  set <- function(key, value, words) new_item(words, list(do = "set", key = key, value = value),
    on = identical(ask[[key]], value))
  new_menu("Form", list(
    new_group("", lapply(names(forms), function(kind) set("kind", kind, forms[[kind]]))),
    if (ask$kind == "table" && length(c(ask$rows, ask$cols)) > 0L) new_group("", list(
      new_item("turn it: rows across, columns down", list(do = "turn")),
      set("members", if (ask$members == "seen") "shown" else "seen",
        if (ask$members == "seen") "only members with orders on the dates shown"
        else "members that only a comparison sees, too"),
      if (length(ask$cols) > 0L) set("measures_at", if (ask$measures_at == "cols") "rows" else "cols",
        if (ask$measures_at == "cols") "figures one under the other" else "figures side by side")
    )),
    if (ask$kind == "listing") new_group("", list(
      set("layout", if (ask$layout == "columns") "indented" else "columns",
        if (ask$layout == "columns") "groups as headings" else "groups in columns"),
      new_item("numbered lines", list(do = "set", key = "number", value = !ask$number), on = ask$number),
      set("after", "blank", "a blank line after each group"), set("after", "page", "a page for each group"),
      set("after", "nothing", "groups close together")
    )),
    new_group("", list(new_item("begin again", list(do = "clear", part = "all"))))
  ))
}

menu_figure <- function(seen, asked) {
  fits <- if (!is.null(seen$table)) names(Filter(function(one) one$fits(seen$table), figure_kinds()))
  set <- function(value, words, note = "") {
    new_item(words, list(do = "set", key = "figure", value = value), note, on = seen$ask$figure == value)
  }
  new_menu("Figure", list(new_group("", c(
    list(set("fitting", "the one that fits best"), set("none", "none")),
    lapply(fits, function(kind) set(kind, kind))
  ))))
}

menu_against <- function(seen, asked) {
  new_menu("Compared with", list(
    new_group("", lapply(c("year", "half", "quarter", "month", "week"), function(unit) {
      new_item(paste("a", unit, "before"), list(do = "set", key = "against", value = unit),
        on = seen$ask$against == unit)
    })),
    new_group("The small line", lapply(c("month", "quarter", "week", "day", "none"), function(unit) {
      new_item(if (unit == "none") "no small line" else paste0("its last ", unit_plural(unit)),
        list(do = "set", key = "history", value = unit), on = seen$ask$history == unit)
    }))
  ))
}

menu_fixed <- function(seen, asked) {
  new_menu("This condition belongs to the daybook", list(new_group("", list(new_item(
    "It was given in R with words that no sentence can hold, and stays."
  )))))
}
