# Menus of axes: periods of each calendar, parts of dates, columns.

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
