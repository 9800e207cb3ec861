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
      if (at > 0L) new_group("This one", c(this_axis_items(ask, side, at),
        list(made_item(seen, side, at)))),
      new_group("Columns", items$columns), new_group("Periods", items$periods),
      new_group("Parts of dates, years put together", items$parts),
      if (side != "lines") new_group("Amounts in bands", band_items(seen, side, at)),
      if (side != "lines") new_group("What each has done", each_items(seen, side, at))
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
    parts = lapply(parts_of_calendar(book$calendars[[1L]], holds_times(book)), item, note = "")
  )
}

parts_of_calendar <- function(calendar, timed) {
  Filter(function(part) {
    if (part == "hour_of_day") timed else rlang::try_fetch({
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
    if (at > 1L) new_item("move to the front", list(do = "move_axis", side = side,
      at = at, to = 1L)),
    if (plain && side != "lines") new_item("only some of its members", menu = list(menu = "members",
      column = axis)),
    if (plain && !is.null(first) && side != "lines") new_item("largest first", rule("sort",
      arguments_text("largest_first", name_text(first)))),
    if (!is.null(first) && side != "lines") new_item("the top 10 only", rule("keep",
      paste0("keep_top(10, ", name_text(first), ")"))),
    new_item("in its own order", rule("sort", ""))
  )
}

# A column made on the way, as an axis more or in place of one.
made_act <- function(side, at) c(list(do = "work_out", side = side), if (at > 0L) list(at = at))

# How an axis is made, to be changed; of a column, its first members under one name.
made_item <- function(seen, side, at) {
  axis <- seen$ask[[side]][at]
  if (!is.null(seen$ask$work_out[[axis]])) {
    text <- paste(name_text(axis), "=", seen$ask$work_out[[axis]])
    return(new_item("change how it is made", list(do = "work_out"), typed = list(says = "Made as",
      key = "text", value = text)))
  }
  values <- if (side != "lines" && axis %in% names(seen$columns_of$columns)) seen$table$axes[[axis]]
  members <- unique(if (is.character(values) || is.factor(values)) as.character(values))
  members <- utils::head(members[!is.na(members)], 2L)
  if (length(members) < 2L) {
    return(NULL)
  }
  text <- paste0(new_column_name(seen, axis, "groups"), " = regroup(", name_text(axis),
    ", Together = ", deparse1(members), ")")
  new_item("put members together", made_act(side, at), typed = list(says = "Groups", key = "text",
    value = text))
}

# Of amounts that are not all alike, where looking at all of them takes no time.
band_items <- function(seen, side, at) {
  if (seen$columns_of$rows > most_checked_first) {
    return(list())
  }
  facts <- column_facts(seen$columns_of)
  key <- paste(c("limits", unlist(seen$ask$work_out)), collapse = " ")
  limits <- remembered_in(seen$made, key, function() {
    likely_limits(facts$name[facts$kind == "amount"], seen)
  })
  lapply(names(limits), function(name) {
    said <- paste(format(limits[[name]], scientific = FALSE, trim = TRUE, digits = 15L),
      collapse = ", ")
    text <- paste0(new_column_name(seen, name, "bands"), " = banded(", name_text(name),
      ", c(", said, "))")
    new_item(paste(plain_words(name), "in bands"),
      c(made_act(side, at), list(text = text)), note = said)
  })
}

# Axes of figures of each customer, order and the like: when they first came, how long they have
# been away, how much they have bought.
each_items <- function(seen, side, at) {
  date <- name_text(seen$columns_of$date)
  keys <- key_columns(seen)
  unlist(lapply(keys, function(column) {
    of <- function(words, what, text) {
      new_item(paste0(words, " of the ", singular_of_key(column)), c(made_act(side, at),
        list(text = paste(new_column_name(seen, column, what), "=", text))), note = text)
    }
    each <- function(figure) paste0("of_each(", name_text(column), ", ", figure, ")")
    list(
      of("month of the first order", "first", paste0("start_of(", each(paste0("min(", date, ")")),
        ", month)")),
      of("months since the first order", "age", paste0("periods_between(",
        each(paste0("min(", date, ")")), ", ", date, ", month)")),
      of("days since the last order", "away", paste0("banded(as_of - ",
        each(paste0("max(", date, ")")), ", c(31, 91, 182, 366))")),
      of("order lines", "lines", paste0("banded(", each("count()"), ", c(2, 5, 20))"))
    )
  }), recursive = FALSE)
}

# Columns that hold keys, as their names say, the first few.
key_columns <- function(seen) {
  facts <- column_facts(seen$columns_of)
  names <- setdiff(facts$name[facts$kind == "dimension"], seen$columns_of$date)
  utils::head(names[!startsWith(vapply(names, plural_of_key, ""), "different ")], 3L)
}

singular_of_key <- function(column) {
  plain_words(sub("[_. ]?(id|no|nr|number|code|key)$", "", column, ignore.case = TRUE))
}

# A name of no other column, as it is written.
new_column_name <- function(seen, name, what) {
  name <- paste0(gsub("[^[:alnum:]_.]+", "_", name), "_", what)
  name_text(utils::tail(make.unique(c(names(seen$columns_of$columns), name), sep = "_"), 1L))
}

# Round numbers about the mean of some amounts, within their least and greatest: for each that
# has any.
likely_limits <- function(names, seen) {
  ask <- empty_ask()
  ask$work_out <- seen$ask$work_out
  functions <- c("mean", "min", "max")
  texts <- outer(functions, vapply(names, name_text, ""),
    function(fn, name) paste0(fn, "(", name, ")"))
  ask$measures <- Map(explored_measure, paste0("figure_", seq_along(texts), recycle0 = TRUE), texts)
  figures <- unlist(table_or_none(ask, seen)$figures)
  if (length(names) == 0L || !is.numeric(figures)) {
    return(list())
  }
  figures <- matrix(figures, 3L, dimnames = list(functions, names))
  limits <- lapply(stats::setNames(nm = names), function(name) {
    of <- figures[, name]
    about <- round_number(abs(of[["mean"]]) * c(0.2, 0.5, 1, 2, 5))
    limits <- unique(c(if (isTRUE(of[["min"]] < 0)) 0, about))
    limits[(limits > of[["min"]] & limits <= of[["max"]]) %in% TRUE]
  })
  limits[lengths(limits) > 1L]
}

# The nearest of 1, 2 and 5, and of their tenths and tens.
round_number <- function(x) {
  unit <- 10^floor(log10(ifelse(x %in% c(0, NA), 1, x)))
  steps <- c(0, 1, 2, 5, 10)
  nearest <- vapply(x / unit, function(size) c(steps[which.min(abs(steps - size))], NA)[1L], 0)
  nearest * unit
}
