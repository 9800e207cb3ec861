# The state of an explorer: one plain object, and what an act makes of it. Nothing here
# draws or asks.
#
# now: what is seen: list(ask, page, reading, report), see empty_ask(),
# explore-page.R and explore-source.R;
#   report: the file that was opened here, "" for none
# past, future: what was seen before, and what was undone, the nearest last
new_state <- function(ask = empty_ask(), page = empty_page()) {
  list(now = list(ask = ask, page = page, reading = list(), report = ""), past = list(),
    future = list())
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
