# The state of an explorer: one plain object, and what an act makes of it. Nothing here draws or asks.
#
# now: what is seen: list(ask, page, reading, report), see empty_ask(), explore-page.R and explore-source.R;
#   report: the file that was opened here, "" for none
# past, future: what was seen before, and what was undone, the nearest last
new_state <- function(ask = empty_ask(), page = empty_page()) {
  list(now = list(ask = ask, page = page, reading = list(), report = ""), past = list(), future = list())
}

# How many steps back are kept.
steps_kept <- 200L

# The state after an act: list(do, and what the act takes). An act that changes nothing leaves no
# trace; one that is not known, or takes something else, is an error.
after_act <- function(state, act) {
  word <- act_text(act, "do")
  if (word == "undo") {
    return(stepped(state, "past", "future"))
  }
  if (word == "redo") {
    return(stepped(state, "future", "past"))
  }
  change <- state_acts()[[word]]
  if (is.null(change)) {
    raise("act", c(paste0("There is no act ", quoted(word), "."),
      advise_word(word, names(state_acts()), "acts")))
  }
  now <- change(state$now, act)
  if (identical(now, state$now)) {
    return(state)
  }
  list(now = now, past = utils::tail(c(state$past, list(state$now)), steps_kept), future = list())
}

stepped <- function(state, from, to) {
  n <- length(state[[from]])
  if (n == 0L) {
    return(state)
  }
  state[[to]] <- c(state[[to]], list(state$now))
  state$now <- state[[from]][[n]]
  state[[from]] <- utils::head(state[[from]], -1L)
  state
}

# The acts by their words. Those on the ask change the ask alone.
state_acts <- function() {
  c(lapply(ask_acts(), on_ask), page_acts(), list(
    open = act_open,
    open_report = function(now, act) {
      now <- act_open(now, act)
      now$page <- act$page
      now
    },
    read_as = function(now, act) {
      now$reading <- read_as_said(act)
      now
    }
  ))
}

# Another ask, of the orders of a report where it says so.
act_open <- function(now, act) {
  now$ask <- ask_from(act$ask)
  report <- act_text(act, "report", now$report)
  if (report != now$report) now[c("report", "reading")] <- list(report, list())
  now
}

on_ask <- function(change) {
  force(change)
  function(now, act) {
    now$ask <- change(now$ask, act)
    now
  }
}

ask_acts <- function() {
  list(
    add_measure = act_add_measure, set_measure = act_set_measure, drop_measure = act_drop_measure,
    move_measure = function(ask, act) with_moved(ask, "measures", act),
    add_axis = act_add_axis, set_axis = act_set_axis, drop_axis = act_drop_axis,
    move_axis = function(ask, act) with_moved(ask, act_side(act), act),
    other_side = act_other_side, turn = act_turn,
    add_condition = act_add_condition, set_condition = act_set_condition,
    drop_condition = function(ask, act) {
      ask$only <- ask$only[-act_at(act, length(ask$only))]
      ask
    },
    limit = act_limit, show_by = act_show_by, finer = act_finer,
    set = act_set, set_dates = act_set_dates, set_rule = act_set_rule, work_out = act_work_out,
    clear = act_clear
  )
}

# What acts take, each checked.

act_text <- function(act, key, default = NULL) {
  value <- act[[key]] %||% default
  if (!is.character(value) || length(value) != 1L || is.na(value) || nchar(value) > longest_expression) {
    raise("act", paste0("The act needs one text under ", quoted(key), "."))
  }
  value
}

act_texts <- function(act, key) {
  value <- unlist(act[[key]]) %||% character()
  if (!is.character(value) || anyNA(value) || length(value) > most_members_said) {
    raise("act", c(paste0("The act needs texts under ", quoted(key), "."),
      "i" = "At most {most_members_said}."))
  }
  value
}

most_members_said <- 2000L

act_at <- function(act, n, key = "at") {
  value <- suppressWarnings(as.numeric(act[[key]]))
  if (length(value) != 1L || is.na(value) || value != round(value) || value < 1 || value > n) {
    raise("act", paste0("There is no place ", quoted(paste(unlist(act[[key]]), collapse = " ")), " in it."))
  }
  as.integer(value)
}

act_side <- function(act) check_choice(act_text(act, "side"), c("rows", "cols", "lines"), "side")

with_moved <- function(ask, field, act) {
  n <- length(ask[[field]])
  at <- act_at(act, n)
  to <- act_at(act, n, "to")
  ask[[field]] <- append(ask[[field]][-at], ask[[field]][at], after = to - 1L)
  ask
}

# What is simply one word or another: its choices, or NULL where it is any text.
set_choices <- function() {
  list(
    kind = c("table", "listing", "headlines"), per = NULL, as_of = NULL, covered_to = NULL,
      closed_after = NULL,
    closed_on = NULL, calendar = NULL, totals = NULL, totals_at = c("end", "start"),
      members = member_words_known,
    measures_at = c("cols", "rows"), layout = c("columns", "indented"), after = words_after_groups,
    against = NULL, history = c(period_units, "none"), figure = c("fitting", "none", names(figure_kinds()))
  )
}

act_set <- function(ask, act) {
  key <- act_text(act, "key")
  if (key %in% c("complete", "number")) {
    ask[[key]] <- isTRUE(act$value)
    return(ask)
  }
  known <- set_choices()
  if (!key %in% names(known)) raise("act", c(paste0("Nothing is set by ", quoted(key), "."),
    advise_word(key, names(known), "words")))
  value <- act_text(act, "value")
  if (!is.null(known[[key]])) check_choice(value, known[[key]], key)
  if (key == "totals") check_totals_said(value)
  ask[[key]] <- value
  if (key == "kind") with_kind(ask, value) else ask
}

check_totals_said <- function(value) {
  sides <- sides_from(value)
  for (word in sides) check_choice(word, total_words, "totals")
}

# A listing needs lines to show, and has all its totals unless said otherwise; headlines compare.
with_kind <- function(ask, kind) {
  if (kind == "listing" && ask$totals == "none") ask$totals <- "all"
  if (kind == "headlines" && ask$against == "") ask$against <- "year"
  ask
}

act_set_dates <- function(ask, act) {
  said <- if (is.null(act$text)) act else typed_dates(act_text(act, "text"))
  for (key in c("latest", "from", "to")) ask[[key]] <- act_text(said, key, "")
  ask
}

# "5 week", "last 5 weeks", "2026-01-01 to 2026-03-31", or one day.
typed_dates <- function(text) {
  words <- strsplit(trimws(text), "\\s+(to|until)\\s+|\\s*\\.\\.\\s*")[[1L]]
  if (length(words) == 2L) {
    return(list(from = words[1L], to = words[2L]))
  }
  if (!is.na(iso_days(trimws(text)))) {
    return(list(from = trimws(text), to = trimws(text)))
  }
  text <- sub("^(the )?(last|latest) ", "", trimws(text))
  list(latest = sub("s$", "", sub("halves", "half", if (grepl("^[0-9]", text)) text else paste("1", text))))
}

# The order or the members kept of one axis; an empty text says that there is no such rule.
act_set_rule <- function(ask, act) {
  rule <- check_choice(act_text(act, "rule"), c("sort", "keep"), "rule")
  axis <- act_text(act, "axis")
  text <- act_text(act, "text")
  ask[[rule]] <- ask[[rule]][setdiff(names(ask[[rule]]), axis)]
  if (nzchar(text)) ask[[rule]][[axis]] <- text
  ask[[rule]] <- plain_list(ask[[rule]])
  ask
}

# A list without names where it is empty, as one that was read from an address.
plain_list <- function(x) if (length(x) == 0L) list() else x

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

act_clear <- function(ask, act) {
  part <- act_text(act, "part")
  plain <- empty_ask()
  fields <- switch(part,
    rows = , cols = , lines = part, only = "only", dates = c("latest", "from", "to", "complete"),
    order = c("sort", "keep"), measures = "measures", all = setdiff(names(plain), "measures"),
    raise("act", paste0("Nothing is cleared by ", quoted(part), "."))
  )
  ask[fields] <- plain[fields]
  if (part == "measures") ask[c("sort", "keep")] <- plain[c("sort", "keep")]
  without_stray_rules(ask)
}
