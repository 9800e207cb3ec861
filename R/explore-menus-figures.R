# Menus of figures: those of the columns, those that come of the figures shown, and how
# this one looks.

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
      new_group("From the orders", column_items(seen, choose)),
      new_group("From records beside the orders", record_items(seen, choose)),
      new_group("Worked out from what is shown", if (nzchar(act_text(asked, "search", ""))) {
        derived_items(seen, derivable(seen, at))
      } else {
        lapply(derivable(seen, at), derived_line, seen = seen)
      })
    ),
    typed = list(says = "or type an expression: sum(net) / count()", key = "text",
      words = "measure",
      act = if (at == 0L) list(do = "add_measure") else list(do = "set_measure", at = at))
  )
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
      new_item(paste("number of", plural_of_key(column)),
        choose(text, plain_name(plural_of_key(column))), text)
    }),
    new_ones_items(seen, choose),
    of("median", "median", amounts, function(column) paste0("median_", plain_name(column))),
    of("max", "greatest", amounts, function(column) paste0("greatest_", plain_name(column))),
    of("min", "least", amounts, function(column) paste0("least_", plain_name(column)))
  )
}

# Amounts of records beside the orders.
record_items <- function(seen, choose) {
  unlist(lapply(unname(seen$columns_of$records), function(record) {
    facts <- column_facts(record$book)
    lapply(facts$name[facts$kind == "amount"], function(column) {
      text <- arguments_text("of", c(name_text(record$name),
        arguments_text("sum", name_text(column))))
      new_item(paste0("total ", plain_words(column), " of ", plain_words(record$name)),
        choose(text, plain_name(column)), text)
    })
  }), recursive = FALSE)
}

# "new customers": those whose first order lies in the row's own period.
new_ones_items <- function(seen, choose) {
  axes <- c(seen$ask$rows, seen$ask$cols)
  grain <- utils::tail(Filter(is_period_word, axes), 1L)
  if (length(grain) == 0L || grain %in% cyclic_parts || grepl("$", grain, fixed = TRUE)) {
    return(list())
  }
  date <- name_text(seen$columns_of$date)
  lapply(key_columns(seen), function(column) {
    text <- paste0("only(distinct(", name_text(column), "), start_of(of_each(",
      name_text(column), ", min(", date, ")), ",
      grain, ") == start_of(", date, ", ", grain, "))")
    words <- paste("new", plural_of_key(column))
    new_item(words, choose(text, plain_name(words)), text)
  })
}

# The figures that others are worked out from: this one, or all that are shown.
derivable <- function(seen, at) {
  if (at > 0L) seen$ask$measures[at] else Filter(function(m) !m$hidden, seen$ask$measures)
}

# One line for each figure, which opens to what can be worked out from it; typing finds all of them.
derived_line <- function(measure, seen) {
  new_item(paste("from", measure_face(measure, seen)),
    menu = list(menu = "derived", of = measure$name),
    note = "a year before, to date, running, share, rank")
}

menu_derived <- function(seen, asked) {
  of <- act_text(asked, "of")
  measures <- Filter(function(m) m$name == of, seen$ask$measures)
  if (length(measures) == 0L) raise("act", paste0("There is no figure ", quoted(of), "."))
  new_menu(paste("Worked out from", measure_face(measures[[1L]], seen)),
    list(new_group("", derived_items(seen, measures))))
}

# Each of some figures compared, to date, running, as a share or a rank.
derived_items <- function(seen, measures) {
  unlist(lapply(measures, function(m) {
    face <- measure_face(m, seen)
    name <- name_text(m$name)
    tree <- seen$measures[[m$name]]$tree
    senseless <- senseless_forms(tree)
    adds_up <- !is.null(tree) && is_additive(without_prior(tree))
    forms <- Filter(function(form) {
      !form$name %in% senseless && (adds_up || !grepl("^(alike|outlook|bridge)[(]", form$text))
    }, c(derived_forms(seen), beside_forms(seen, m$name)))
    lapply(forms, function(form) {
      text <- gsub("@", name, form$text, fixed = TRUE)
      new_item(gsub("@", face, form$words, fixed = TRUE),
        list(do = "add_measure", text = text, name = paste(m$name, form$name, sep = "_")), text)
    })
  }), recursive = FALSE)
}

# What makes no sense of a figure: a share of a share, a figure to date to date.
senseless_forms <- function(tree) {
  while (identical(tree$kind, "named")) tree <- tree$child
  shares <- c("share", "share_of_column", "share_of_row", "share_of_group", "running_share")
  spans <- c("ytd", "ytd_before", "running", "12_months")
  befores <- c("year_before", "before", "ytd_before")
  means <- c("daily_average", "weekly_average", "monthly_average")
  if (is.null(tree)) {
    return(character())
  }
  switch(tree$kind,
    share = c(shares, spans, means, "growth"),
    rank = c(shares, spans, befores, means, "growth", "change", "rank"),
    growth = , index = c(shares, spans, befores, means, "growth", "change"),
    along = c(spans, means, "running_share"), each = c(means, shares),
    lens = c(means, if (tree$fn == "prior") befores else c(spans, "running_share")), character())
}

# In words, as an expression and as the end of a name; @ stands for the figure.
derived_forms <- function(seen) {
  ask <- seen$ask
  axes <- c(ask$rows, ask$cols)
  cyclic <- any(vapply(axes, function(word) sub("^.*[$]", "", word) %in% cyclic_parts, NA))
  grain <- Filter(is_period_word, axes)
  c(if (!cyclic) year_forms(), if (!cyclic) bridge_forms(seen), if (!cyclic)
    run_forms(ask, axes, grain), average_forms(grain),
    if (!cyclic) alike_forms(seen), table_forms(ask, length(ask$rows) > 0L &&
      length(ask$cols) > 0L))
}

# A figure of the orders beside one of a record that is shown too: the part of a target reached, and
# the rest.
beside_forms <- function(seen, name) {
  beside <- Filter(function(m) is_beside(m$tree), seen$measures)
  own <- seen$measures[[name]]
  if (is.null(own)) {
    return(list())
  }
  grain <- utils::tail(c("year", Filter(is_period_word, c(seen$ask$rows, seen$ask$cols))), 1L)
  if (is_beside(own$tree)) {
    return(list(derived_form(paste("@ of the whole", grain),
      paste0("whole(@, ", grain, ")"), "whole")))
  }
  unlist(lapply(unname(beside), function(m) {
    target <- name_text(m$name)
    list(derived_form(paste("@ as a part of", measure_face(m, seen)),
      paste("@ /", target), "reached"),
      derived_form(paste("what @ lacks to", measure_face(m, seen), "of the whole", grain),
        paste0("whole(", target, ", ", grain, ") - @"), "to_go"))
  }), recursive = FALSE)
}

derived_form <- function(words, text, name) list(words = words, text = text, name = name)

year_forms <- function() {
  list(
    derived_form("@ a year before", "prior(@, year)", "year_before"),
    derived_form("growth of @ on a year before", "growth(@, year)", "growth"),
    derived_form("change of @ on a year before", "change(@, year)", "change"),
    derived_form("@ this year to date", "ytd(@)", "ytd"),
    derived_form("@ this year to date, a year before", "prior(ytd(@), year)", "ytd_before")
  )
}

# Why a figure moved, by its products, where a column holds their quantity.
bridge_forms <- function(seen) {
  facts <- column_facts(seen$columns_of)
  over <- grep("^(product|item|article|sku)", facts$name[facts$kind == "dimension"],
    ignore.case = TRUE,
    value = TRUE)[1L]
  quantity <- Filter(is_quantity, facts$name[facts$kind == "amount"])[1L]
  if (is.na(over) || is.na(quantity)) {
    return(list())
  }
  list(derived_form(paste("why @ moved on a year before: volume, mix and price by",
    plain_words(over)),
    paste0("bridge(@, ", arguments_text("sum", name_text(quantity)), ", over = ", name_text(over),
      ", to = year)"),
    "bridge"))
}

# Where nothing runs in time, figures run over the members of the innermost axis down.
run_forms <- function(ask, axes, grain) {
  last <- utils::tail(grain, 1L)
  down <- if (length(grain) == 0L) vapply(utils::tail(ask$rows, 1L), name_text, "")
  Filter(Negate(is.null), list(
    if (length(last) > 0L) derived_form(paste("@, the", last, "before"),
      paste0("prior(@, ", last, ")"), "before"),
    if (length(last) > 0L || length(axes) == 0L) derived_form("running @", "running(@)", "running"),
    if (length(down) > 0L) derived_form("running @ down the table",
      paste0("running(@, along = ", down, ")"), "running"),
    if (length(down) > 0L) derived_form("running share of @ down the table",
      paste0("running(share(@), along = ", down, ")"), "running_share"),
    derived_form("@ over 12 months", "moving(@, 12, month)", "12_months"),
    derived_form(paste("outlook of @ for the", utils::tail(c("month", grain), 1L)),
      paste0("outlook(@, ", utils::tail(c("month", grain), 1L), ")"), "outlook")
  ))
}

# Averages of periods that are finer than those of the table.
average_forms <- function(grain) {
  units <- c("day", "week", "month")
  finest <- match(grain, units)
  units <- units[seq_along(units) < min(finest, length(units) + 1L, na.rm = TRUE)]
  words <- c(day = "daily", week = "weekly", month = "monthly")[units]
  unname(Map(function(unit, word) {
    derived_form(paste("average of", word, "@"), paste0("mean(each(", unit, ", @))"),
      paste0(word, "_average"))
  }, units, words))
}

# Like for like by the first columns of few members that are no keys.
alike_forms <- function(seen) {
  facts <- column_facts(seen$columns_of)
  columns <- setdiff(facts$name[facts$kind == "dimension"],
    c(seen$columns_of$date, key_columns(seen)))
  lapply(utils::head(columns, 2L), function(column) {
    derived_form(paste0("@ like for like by ", plain_words(column), ", a year before"),
      paste0("alike(@, ", name_text(column), ", year)"), paste0("alike_by_", plain_name(column)))
  })
}

# What lenses on the table make of a figure.
table_forms <- function(ask, crossed) {
  form <- derived_form
  Filter(Negate(is.null), list(
    form("share of @ in the total", "share(@)", "share"),
    if (crossed) form("share of @ in the column", "share(@, of = \"column\")", "share_of_column"),
    if (crossed) form("share of @ in the row", "share(@, of = \"row\")", "share_of_row"),
    if (length(ask$rows) > 1L) form("share of @ in its group", "share(@, of = \"parent\")",
      "share_of_group"),
    form("rank by @", "rank(@)", "rank"),
    form("@ overall", "overall(@)", "overall"),
    form("the mean of @ over all rows", "overall(@, using = mean)", "mean_of_rows")
  ))
}

this_measure_items <- function(seen, at) {
  one <- seen$ask$measures[[at]]
  set <- function(...) list(do = "set_measure", at = at, ...)
  looks <- c("whole numbers" = "decimal(0)", "one decimal" = "decimal(1)",
    "two decimals" = "decimal(2)",
    "per cent" = "percentage()", "money, \u00a3" = "money(\"\u00a3\")",
    "money, \u00a3, no pence" = "money(\"\u00a3\", digits = 0)", "it comes" = "")
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
