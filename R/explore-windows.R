# What a window of the browser sees, and what it is told.

tell_window <- function(window, kind, what) {
  if (!is.null(window$session)) window$session$send(kind, what)
}

# What is wrong is told; where acts before it were not drawn, what they came to is drawn first.
refuse <- function(app, window, said, error) {
  if (isTRUE(window$behind)) draw(app, window, said)
  tell_window(window, "refused", list(n = said$n, html = error_html(error)))
}

# By which a window is told from others: no one can guess it.
is_window_id <- function(id) is_one_text(id) && grepl("^[0-9A-Za-z-]{1,64}$", id)

draw <- function(app, window, said) {
  end_drawing(app, window)
  window$placed <- NULL
  now <- window$state$now
  base <- rlang::try_fetch(base_of(app, now), drystack_error = function(e) {
    if (is.null(opened_in(app, now$report)$path)) rlang::zap() else e
  })
  if (inherits(base, "drystack_error")) {
    return(ask_how_to_read(app, window, said, base))
  }
  # Orders that could not be read at first have no ask yet.
  if (identical(now$ask, empty_ask())) window$state$now$ask <- now$ask <- base$ask
  window$seen <- explored_seen(now$ask, base, made_of(base))
  window$behind <- FALSE
  drawn <- drawn_ask(window$seen, window$rows, now$report)
  tell_window(window, "drawn", c(list(n = said$n), drawn, list(
    undo = length(window$state$past) > 0L, redo = length(window$state$future) > 0L,
    page = page_told(now$page), name = opened_in(app, now$report)$name, report = now$report,
    reports = as.list(reports_in(app$folder))
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

table_of_window <- function(window) {
  seen <- seen_of(window)
  if (is.null(seen$table)) raise("act", "There is no table to ask about.")
  seen$table
}

page_told <- function(page) {
  asks <- Filter(function(block) block$as != "text", page$blocks)
  list(
    title = page$title, look = page$look[names(page_choices())], choices = page_choices(),
    parameters = lapply(if (length(asks) > 0L) possible_parameters(asks[[1L]]$ask), function(one) {
      c(one, list(asked = one$name %in% page$asked))
    }),
    blocks = lapply(page$blocks, function(block) {
      list(label = block$label, as = block$as, text = block$text, beside = block$beside,
        words = if (block$as == "text") "Text" else block_words(block))
    })
  )
}

block_words <- function(block) {
  names <- vapply(Filter(function(m) !m$hidden, block$ask$measures), function(m) {
    if (nzchar(m$label)) m$label else plain_words(m$name)
  }, "")
  by <- vapply(c(block$ask$rows, block$ask$cols), axis_face, "")
  sentence_case(paste0(joined_words(names), if (length(by) > 0L) paste(" by", joined_words(by))))
}
