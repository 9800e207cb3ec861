# What a browser may say, and what it is told. Each is a function of (app, window, said).

said_words <- function() {
  list(
    hello = said_hello, act = said_act, menu = said_menu, place = said_place, lines = said_lines,
    becomes = said_becomes, complete = said_complete, figure = said_figure_drawn, rows = said_rows,
    check = said_check, save = said_save, write = said_write
  )
}

# A window begins, or finds its socket again: its state is still there. An address may hold an ask.
said_hello <- function(app, window, said) {
  ask <- if (is_one_text(said$address) && nzchar(said$address)) ask_of_address(said$address)
  if (!is.null(ask) && !identical(ask, window$state$now$ask)) {
    window$state <- after_act(window$state, list(do = "open", ask = ask))
  }
  tell_window(window, "begun", list(name = app$opened$name, first = is.null(ask) && app$opened$check,
    readable = !is.null(app$opened$path), folder = app$folder))
  draw(app, window, said)
}

# The state after an act. Where it cannot be asked the state is the new one all the same: the error
# stands where the table would, and undo goes back.
said_act <- function(app, window, said) {
  act <- said$act
  if (identical(act$do, "open") && is_one_text(act$address)) act$ask <- ask_of_address(act$address)
  window$state <- after_act(window$state, act)
  window$rows <- most_rows_drawn
  draw(app, window, said)
}

draw <- function(app, window, said) {
  end_drawing(app, window)
  window$seen <- NULL
  window$lines <- NULL
  base <- base_of(app, window$state$now$reading)
  window$seen <- explored_seen(window$state$now$ask, base, made_of(base))
  drawn <- drawn_ask(window$seen, window$rows)
  tell_window(window, "drawn", c(list(n = said$n), drawn, list(
    undo = length(window$state$past) > 0L, redo = length(window$state$future) > 0L,
    page = page_told(window$state$now$page)
  )))
}

# What is worked out on the way is kept beside the daybook it belongs to, but not without end.
most_made <- 50L

made_of <- function(base) {
  if (length(ls(base$made)) > most_made) rm(list = ls(base$made), envir = base$made)
  base$made
}

seen_of <- function(window) {
  if (is.null(window$seen)) raise("act", "Nothing is shown yet.")
  window$seen
}

table_of <- function(window) {
  seen <- seen_of(window)
  if (is.null(seen$table)) raise("act", "There is no table to ask about.")
  seen$table
}

said_menu <- function(app, window, said) {
  tell_window(window, "menu", c(list(n = said$n), explored_menu(seen_of(window), said)))
}

# A place of the table that was opened: a figure answers, a member goes into the sentence.
said_place <- function(app, window, said) {
  place <- place_said(table_of(window), said)
  if (place$kind == "member") {
    window$newest <- said$n
    return(said_act(app, window, list(n = said$n, act = member_act(window$seen, place))))
  }
  if (place$kind == "figure") {
    window$lines <- NULL
    window$place <- place
    by <- rlang::try_fetch(show_by_act(window$seen, place), drystack_error = function(e) NULL)
    tell_window(window, "answer", c(list(n = said$n, by = by), explained_answer(window$seen, place)))
  }
}

place_said <- function(table, said) {
  number <- function(key) if (is.numeric(said[[key]])) as.integer(said[[key]]) else 0L
  if (number("level") > 0L) head_place(table, number("col"), number("level"))
  else place_of_sheet(table, number("row"), number("col"))
}

said_lines <- function(app, window, said) {
  tell_window(window, "lines", lines_answer(lines_of(window), if (is.numeric(said$page)) said$page else 1))
}

# The order lines behind the figure that is open, worked out once.
lines_of <- function(window) {
  table <- table_of(window)
  if (is.null(window$place)) raise("act", "No figure is open.")
  if (is.null(window$lines)) window$lines <- behind(table, window$place$row, window$place$measure)
  window$lines
}

said_becomes <- function(app, window, said) {
  seen <- seen_of(window)
  tell_window(window, "becomes", c(explored_texts(seen), list(parameters = possible_parameters(seen$ask))))
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

page_told <- function(page) {
  list(title = page$title, blocks = lapply(page$blocks, function(block) {
    list(label = block$label, as = block$as, words = block_words(block))
  }))
}

block_words <- function(block) {
  names <- vapply(Filter(function(m) !m$hidden, block$ask$measures), function(m) {
    if (nzchar(m$label)) m$label else plain_words(m$name)
  }, "")
  by <- vapply(c(block$ask$rows, block$ask$cols), axis_face, "")
  sentence_case(paste0(joined_words(names), if (length(by) > 0L) paste(" by", joined_words(by))))
}
