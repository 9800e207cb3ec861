# What a browser may say, and what it is told. Each is a function of (app, window, said).

said_words <- function() {
  list(
    hello = said_hello, act = said_act, menu = said_menu, place = said_place, lines = said_lines,
    becomes = said_becomes, complete = said_complete, figure = said_figure_drawn, rows = said_rows,
    check = said_check, offer = said_offer, save = said_save, write = said_write
  )
}

# A window begins, or finds its socket again: its state is still there. An address may hold an ask;
# one that is broken is told, and what there was is shown.
said_hello <- function(app, window, said) {
  tell_window(window, "begun", list(name = app$opened$name, first = checks_first(app, said),
    folder = app$folder))
  wrong <- rlang::try_fetch(opened_address(app, window, said$address),
    drystack_error = function(e) e)
  draw(app, window, said)
  if (!is.null(wrong)) rlang::cnd_signal(wrong)
}

opened_address <- function(app, window, address) {
  if (is_one_text(address) && address != "") {
    window$state <- after_act(window$state, act_prepared(app, list(do = "open", address = address)))
  }
  NULL
}

# An act with what it takes from an address, a file or the daybook that is seen.
act_prepared <- function(app, act, seen = NULL) {
  if (is_one_text(act$text) && isTRUE(act$do %in% c("add_measure", "set_measure")) &&
    !is.null(seen)) {
    act <- labelled_act(act, seen)
  }
  if (identical(act$do, "open") && is_one_text(act$address)) {
    act <- list(do = "open", ask = ask_of_address(act$address),
      report = report_of_address(act$address))
    opened_in(app, act$report)
  }
  if (identical(act$do, "open_report")) {
    report <- act_text(act, "report")
    seen <- opened_in(app, report)$state$now
    act <- list(do = "open_report", report = report, ask = seen$ask, page = seen$page)
  }
  act
}

# The state after an act. Where it cannot be asked the state is the new one all the same: the error
# stands where the table would, and undo goes back. What a newer act will draw over is not drawn; an
# act that is stopped by hand leaves the state before.
said_act <- function(app, window, said) {
  before <- window$state
  window$state <- after_act(before, act_prepared(app, said$act, window$seen))
  window$rows <- most_rows_drawn
  if (!identical(window$newest, said$n)) {
    window$behind <- TRUE
    return(invisible())
  }
  rlang::try_fetch(draw(app, window, said), drystack_stopped = function(e) {
    window$behind <- TRUE
    if (isTRUE(window$stopped)) window$state <- before
    rlang::cnd_signal(e)
  })
}

said_menu <- function(app, window, said) {
  tell_window(window, "menu", c(list(n = said$n), explored_menu(seen_of(window), said)))
}

# A place of the table that was opened: a figure answers, a member goes into the sentence.
said_place <- function(app, window, said) {
  place <- place_said(table_of_window(window), said)
  if (place$kind == "member") {
    window$newest <- said$n
    return(said_act(app, window, list(n = said$n, act = member_act(window$seen, place))))
  }
  if (place$kind == "figure") {
    window$placed <- NULL
    window$place <- place
    by <- rlang::try_fetch(show_by_act(window$seen, place), drystack_error = function(e) NULL)
    tell_window(window, "answer", c(list(n = said$n, by = by),
      explained_answer(window$seen, place)))
  }
}

place_said <- function(table, said) {
  number <- function(key) if (is.numeric(said[[key]])) as.integer(said[[key]]) else 0L
  if (number("level") > 0L) head_place(table, number("col"), number("level"))
  else place_of_sheet(table, number("row"), number("col"))
}

said_lines <- function(app, window, said) {
  page <- if (is.numeric(said$page)) said$page else 1
  tell_window(window, "lines", lines_answer(placed_in(window), page))
}

# The places of the order lines behind the figure that is open, found once.
placed_in <- function(window) {
  table <- table_of_window(window)
  if (is.null(window$place)) raise("act", "No figure is open.")
  if (is.null(window$placed)) window$placed <- placed_behind(table, window$place)
  window$placed
}

said_becomes <- function(app, window, said) {
  seen <- seen_of(window)
  tell_window(window, "becomes", c(explored_texts(seen),
    list(parameters = possible_parameters(seen$ask))))
}

said_rows <- function(app, window, said) {
  window$rows <- window$rows + 2000L
  tell_window(window, "rows", list(table = table_html(seen_of(window), window$rows)))
}

# Typing: how the last word could go on, and what would be wrong with it as it stands.
said_complete <- function(app, window, said) {
  tell_window(window, "completed", c(list(n = said$n),
    completed(seen_of(window), act_text(said, "text"), act_text(said, "words"), said$at)))
}
