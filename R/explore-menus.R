# What a part of the sentence can be changed to: a list that the browser shows under it.

explored_menu <- function(seen, asked) {
  word <- act_text(asked, "menu")
  make <- explore_menus()[[word]]
  if (is.null(make)) raise("act", paste0("There is no list ", quoted(word), "."))
  search <- trimws(act_text(asked, "search", ""))
  menu <- searched_menu(make(seen, asked), search)
  menu$enter <- entered_place(menu, search, seen, asked$at)
  menu
}

# What Enter takes of what is typed: the item that is called so (its place, from 0), else the text
# where it makes sense as a whole ("text"), else the first item that holds its words; -1 where there
# is none.
entered_place <- function(menu, search, seen, at) {
  items <- unlist(lapply(menu$groups, `[[`, "items"), recursive = FALSE)
  if (search == "") {
    return(-1L)
  }
  named <- match(tolower(search), tolower(vapply(items, `[[`, "", "label")))
  if (!is.na(named)) {
    return(named - 1L)
  }
  if (!is.null(menu$typed) && makes_sense(seen, search, menu$typed$words, at)) {
    return("text")
  }
  if (length(items) > 0L) 0L else if (!is.null(menu$typed)) "text" else -1L
}

explore_menus <- function() {
  list(
    measure = menu_measure, derived = menu_derived, rows = menu_axis, cols = menu_axis,
    lines = menu_axis,
      per = menu_per,
    only = menu_only, members = menu_members, dates = menu_dates, as_of = menu_as_of,
    calendar = menu_calendar, order = menu_order, totals = menu_totals, kind = menu_kind,
    figure = menu_figure, against = menu_against, fixed = menu_fixed, show_by = menu_show_by
  )
}

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

# What a line of a listing stands for.
menu_per <- function(seen, asked) {
  columns <- column_facts(seen$columns_of)
  names <- columns$name[columns$kind == "dimension"]
  new_menu("What a line is", list(
    new_group("", list(new_item("order line", list(do = "set", key = "per", value = ""),
      on = seen$ask$per == ""))),
    new_group("All lines of one", lapply(names, function(name) {
      new_item(plain_words(name), list(do = "set", key = "per", value = name),
        on = seen$ask$per == name)
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
  set <- function(key, value, words) {
    new_item(words, list(do = "set", key = key, value = value),
      on = identical(ask[[key]], value))
  }
  new_menu("Form", list(
    new_group("", lapply(names(forms), function(kind) set("kind", kind, forms[[kind]]))),
    if (ask$kind == "table" && length(c(ask$rows, ask$cols)) > 0L) new_group("", list(
      new_item("turn it: rows across, columns down", list(do = "turn")),
      set("members", if (ask$members == "seen") "shown" else "seen",
        if (ask$members == "seen") "only members with orders on the dates shown"
        else "members that only a comparison sees, too")
    )),
    new_group("", look_menu_items(look_items(request_kind(ask)), set)),
    new_group("", list(new_item("begin again", list(do = "clear", part = "all"))))
  ))
}

look_menu_items <- function(looks, set) {
  unlist(lapply(names(looks), function(name) {
    lapply(names(looks[[name]]), function(value) {
      set(name, if (value %in% c("TRUE", "FALSE")) value == "TRUE" else value,
        looks[[name]][[value]])
    })
  }), recursive = FALSE)
}

menu_figure <- function(seen, asked) {
  fits <- if (!is.null(seen$table)) fitting_figures(seen$table)
  set <- function(value, words, note = "") {
    new_item(words, list(do = "set", key = "figure", value = value), note,
      on = seen$ask$figure == value)
  }
  new_menu("Figure", list(new_group("", c(
    list(set("fitting", "the one that fits best"), set("none", "none")),
    lapply(names(fits), function(kind) set(kind, kind, fits[[kind]]$why))
  ))))
}

menu_against <- function(seen, asked) {
  new_menu("Compared with", list(
    new_group("", lapply(c("year", "half", "quarter", "month", "week"), function(unit) {
      new_item(paste("a", unit, "before"), list(do = "set", key = "against", value = unit),
        on = seen$ask$against == unit)
    })),
    new_group("The small line", lapply(c("month", "quarter", "week", "day", "none"),
      function(unit) {
        new_item(if (unit == "none") "no small line" else paste0("its last ", unit_plural(unit)),
          list(do = "set", key = "history", value = unit), on = seen$ask$history == unit)
      }))
  ))
}

menu_fixed <- function(seen, asked) {
  new_menu("This condition belongs to the daybook", list(new_group("", list(new_item(
    "It was given in R in words that the sentence cannot hold; it stays."
  )))))
}
