# Acts on the parts of an ask: figures, axes and conditions.

# A figure more: a name it is given, the one it is typed with, or one of its own. One that is there
# without a name of its own is shown.
act_add_measure <- function(ask, act) {
  typed <- typed_measure(act_text(act, "text"))
  expr <- read_expression(typed$text, "show")$expr
  if (rlang::is_call(expr, "bridge")) {
    return(with_bridge(ask, expr, act_text(act, "name", typed$name)))
  }
  there <- match(typed$text, vapply(ask$measures, `[[`, "", "text"))
  if (typed$name == "figure" && !is.na(there)) {
    ask$measures[[there]]$hidden <- FALSE
    return(ask)
  }
  name <- new_name(act_text(act, "name", typed$name), ask)
  added <- explored_measure(name, typed$text, act_text(act, "label", ""),
    act_text(act, "format", ""))
  ask$measures <- c(ask$measures, list(added))
  ask
}

# A bridge is its measures, each with its label.
with_bridge <- function(ask, expr, name) {
  measures <- bridge_measures(expr, if (name == "figure") "" else name)
  for (one in names(measures)) {
    added <- explored_measure(new_name(one, ask), code_text(measures[[one]][[2L]]),
      measures[[one]]$label)
    ask$measures <- c(ask$measures, list(added))
  }
  ask
}

# "net = sum(amount)" as its name and its text.
typed_measure <- function(text) {
  read <- read_expression(text, "show")
  if (read$name == "") {
    return(list(name = "figure", text = trimws(text)))
  }
  list(name = read$name, text = trimws(sub(own_name, "", text, perl = TRUE)))
}

# A figure that is typed without a name is called by its words.
labelled_act <- function(act, seen) {
  label <- rlang::try_fetch({
    typed <- read_expression(act$text, "show")
    if (typed$name == "" && is.null(act$name) && is.null(act$label)) {
      at <- vapply(seen$ask$measures, `[[`, "", "name")
      known <- lapply(seen$measures[intersect(at, names(seen$measures))], `[[`, "tree")
      tree <- parse_measure(typed$expr, book_vocabulary(seen$columns_of, NULL, known))
      measure_in_words(tree, vapply(seen$measures, `[[`, "", "label"))
    }
  }, drystack_error = function(e) NULL)
  if (is_one_text(label) && nchar(label) <= longest_meaning) act$label <- label
  act
}

# The name, with a number where another measure, an axis or a table has it.
new_name <- function(name, ask, but = character()) {
  taken <- c(vapply(ask$measures, `[[`, "", "name"), ask$rows, ask$cols, ask$lines,
    names_of_tables, "lines")
  taken <- setdiff(taken, but)
  utils::tail(make.unique(c(taken, name), sep = "_"), 1L)
}

# Other words for the figure at a place. It has another name where none of the others speaks of it.
act_set_measure <- function(ask, act) {
  at <- act_at(act, length(ask$measures))
  one <- ask$measures[[at]]
  if (!is.null(act$text)) {
    typed <- typed_measure(act_text(act, "text"))
    name <- if (!is.null(act$name)) act_text(act,
      "name") else if (typed$name != "figure") typed$name
    one$text <- typed$text
    one[c("label", "format", "total")] <- ""
    if (!is.null(name) && !spoken_of_elsewhere(one$name, ask, at)) one$name <- new_name(name, ask,
      but = one$name)
  }
  for (key in c("label", "format", "total")) one[[key]] <- act_text(act, key, one[[key]])
  if (!is.null(act$hidden)) one$hidden <- isTRUE(act$hidden)
  ask$measures[[at]] <- one
  ask
}

spoken_of_elsewhere <- function(name, ask, at) {
  texts <- c(vapply(ask$measures[-at], `[[`, "", "text"), unlist(ask$sort), unlist(ask$keep))
  name %in% unlist(lapply(texts, names_in))
}

# A figure that others are worked out from stays, unseen; the rules that go by one that is gone
# go too.
act_drop_measure <- function(ask, act) {
  at <- act_at(act, length(ask$measures))
  name <- ask$measures[[at]]$name
  others <- unlist(lapply(vapply(ask$measures[-at], `[[`, "", "text"), names_in))
  if (name %in% others) {
    ask$measures[[at]]$hidden <- TRUE
    return(ask)
  }
  ask$measures <- ask$measures[-at]
  for (rule in c("sort", "keep")) {
    speaks <- vapply(ask[[rule]], function(text) name %in% names_in(text), NA)
    ask[[rule]] <- plain_list(ask[[rule]][!speaks])
  }
  without_unspoken(ask)
}

# Hidden figures that nothing speaks of any more.
without_unspoken <- function(ask) {
  repeat {
    hidden <- which(vapply(ask$measures, `[[`, NA, "hidden"))
    idle <- Filter(function(at) !spoken_of_elsewhere(ask$measures[[at]]$name, ask, at), hidden)
    if (length(idle) == 0L) {
      return(ask)
    }
    ask$measures <- ask$measures[-idle]
  }
}

act_add_axis <- function(ask, act) {
  side <- act_side(act)
  axis <- act_text(act, "axis")
  for (other in c("rows", "cols", "lines")) {
    if (other == side || side != "lines") ask[[other]] <- setdiff(ask[[other]], axis)
  }
  at <- if (is.null(act$at)) length(ask[[side]]) else act_at(act, length(ask[[side]]) + 1L) - 1L
  ask[[side]] <- append(ask[[side]], axis, after = at)
  ask
}

act_set_axis <- function(ask, act) {
  side <- act_side(act)
  at <- act_at(act, length(ask[[side]]))
  axis <- act_text(act, "axis")
  if (axis %in% ask[[side]][-at]) {
    return(ask)
  }
  for (other in setdiff(c("rows", "cols"), side)) ask[[other]] <- setdiff(ask[[other]], axis)
  ask[[side]][at] <- axis
  without_stray_rules(ask)
}

act_drop_axis <- function(ask, act) {
  side <- act_side(act)
  ask[[side]] <- ask[[side]][-act_at(act, length(ask[[side]]))]
  without_stray_rules(ask)
}

# An axis from the rows to the columns, or back.
act_other_side <- function(ask, act) {
  side <- check_choice(act_text(act, "side"), c("rows", "cols"), "side")
  other <- setdiff(c("rows", "cols"), side)
  at <- act_at(act, length(ask[[side]]))
  ask[[other]] <- c(ask[[other]], ask[[side]][at])
  ask[[side]] <- ask[[side]][-at]
  ask
}

act_turn <- function(ask, act) {
  ask[c("rows", "cols")] <- ask[c("cols", "rows")]
  ask
}

# Rules of axes that are gone, and columns that nothing speaks of any more.
without_stray_rules <- function(ask) {
  axes <- gsub("$", "_", c(ask$rows, ask$cols, ask$lines, ask$per), fixed = TRUE)
  for (rule in c("sort", "keep")) ask[[rule]] <- plain_list(
    ask[[rule]][names(ask[[rule]]) %in% axes])
  texts <- c(ask$rows, ask$cols, ask$lines, ask$only, vapply(ask$measures, `[[`, "", "text"),
    unlist(ask$work_out), unlist(ask$sort))
  spoken <- unlist(lapply(texts, names_in))
  ask$work_out <- plain_list(ask$work_out[names(ask$work_out) %in% spoken])
  ask
}

act_add_condition <- function(ask, act) {
  text <- condition_text(act_text(act, "text"))
  ask$only <- c(setdiff(ask$only, text), text)
  ask
}

act_set_condition <- function(ask, act) {
  at <- act_at(act, length(ask$only))
  ask$only[at] <- condition_text(act_text(act, "text"))
  ask
}

condition_text <- function(text) {
  read_expression(text, "only")
  trimws(text)
}

# These members of a column only, or all but these. Members are constants as they are written.
act_limit <- function(ask, act) {
  column <- act_text(act, "column")
  limit <- list(column = column, members = act_texts(act, "members"),
    none = isTRUE(act$none), except = isTRUE(act$except))
  for (text in limit$members) check_constant(text)
  text <- limit_text(limit)
  at <- which(vapply(ask$only, function(text) identical(limit_said(text)$column, column), NA))
  if (length(at) == 0L) {
    ask$only <- c(ask$only, text)
  } else {
    ask$only[at[1L]] <- text %||% NA_character_
    ask$only <- ask$only[!seq_along(ask$only) %in% at[-1L] & !is.na(ask$only)]
  }
  ask
}

check_constant <- function(text) {
  expr <- read_expression(text, "only")$expr
  if (is.call(expr) && identical(expr[[1L]], as.name("-")) && length(expr) == 2L) expr <- expr[[2L]]
  if (!is.atomic(expr) && !is_date_text(expr)) raise("act",
    paste0(quoted(text), " is not a constant."))
}

# What one figure is of goes into the sentence: its members, its days; and it is shown by
# another axis.
act_show_by <- function(ask, act) {
  for (limit in act$members) ask <- act_limit(ask, limit)
  if (!is.null(act$from)) ask <- act_set_dates(ask, act[c("from", "to")])
  axis <- act_text(act, "axis")
  gone <- vapply(act$members, function(limit) act_text(limit, "column"), "")
  ask$rows <- axis
  ask$cols <- setdiff(ask$cols, c(axis, gone))
  if (!is.null(act$from)) ask$cols <- ask$cols[!vapply(ask$cols, is_period_word, NA)]
  ask$kind <- "table"
  ask$per <- ""
  ask$lines <- character()
  without_stray_rules(ask)
}

is_period_word <- function(word) sub("^.*[$]", "", word) %in% period_units

# A period is shown by the next finer one, and only its own days.
act_finer <- function(ask, act) {
  ask <- act_set_dates(ask, act[c("from", "to")])
  act_set_axis(ask, act[c("side", "at", "axis")])
}

# A column made on the way, "size = banded(amount, c(0, 100))", as one more axis; a name alone is an
# axis that there is.
act_work_out <- function(ask, act) {
  text <- act_text(act, "text")
  read <- read_expression(text, "work-out")
  if (read$name == "") {
    return(act_add_axis(ask, list(side = act_side(act), axis = trimws(text))))
  }
  ask$work_out[[read$name]] <- trimws(sub(own_name, "", text, perl = TRUE))
  if (is.null(act$side)) ask
    else if (is.null(act$at)) act_add_axis(ask, list(side = act_side(act), axis = read$name))
    else act_set_axis(ask, list(side = act_side(act), at = act$at, axis = read$name))
}
