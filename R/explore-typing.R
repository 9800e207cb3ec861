# Help while typing: the words an expression could go on with, and what is wrong with it
# as it stands.

completed <- function(seen, text, words, at = NULL) {
  last <- regmatches(text, regexpr("[[:alpha:].][[:alnum:]._]*$", text))
  known <- typed_words(seen, words)
  fits <- if (length(last) == 1L) known[startsWith(tolower(known), tolower(last)) & known != last]
  wrong <- if (nzchar(trimws(text))) typed_wrong(seen, text, words, at) else ""
  if (wrong == "" && words == "condition") wrong <- misspelt_in(text, seen)
  list(last = if (length(last) == 1L) last else "", words = as.list(utils::head(unique(fits), 8L)),
    wrong = wrong)
}

# Members that a condition names and no order line has.
misspelt_in <- function(text, seen) {
  told <- rlang::try_fetch({
    tree <- parse_row(read_expression(text, "only")$expr, book_vocabulary(seen$columns_of))
    misspelt_notes(list(tree), engine_of(seen$columns_of))
  }, drystack_error = function(e) NULL)
  c(told, "")[1L]
}

typed_words <- function(seen, words) {
  columns <- vapply(names(seen$columns_of$columns), name_text, "")
  periods <- c(seen$columns_of$calendars[[1L]]$units, cyclic_parts)
  switch(words,
    measure = c(vapply(seen$ask$measures, `[[`, "", "name"), columns, measure_words(), periods),
    condition = c(columns, row_words()), axis = c(columns, periods, row_words()),
    dates = period_units, character()
  )
}

# The act of a text that is typed as a whole; NULL where its words are not known.
typed_act <- function(text, words, at) {
  switch(words,
    measure = if (is.null(at) || identical(as.numeric(at), 0)) list(do = "add_measure", text = text)
      else list(do = "set_measure", at = at, text = text),
    condition = list(do = "add_condition", text = text), axis = list(do = "work_out", text = text,
      side = "rows"),
    dates = list(do = "set_dates", text = text),
    day = list(do = "set", key = "as_of", value = text),
    calendar = list(do = "set", key = "calendar", value = text)
  )
}

# Whether a text that is typed means something as a whole.
makes_sense <- function(seen, text, words, at) {
  !is.null(typed_act(text, words, at)) && typed_wrong(seen, text, words, at) == ""
}

# The error it would give, or "": read against the daybook, without a look at the orders.
typed_wrong <- function(seen, text, words, at) {
  ask <- seen$ask
  act <- typed_act(text, words, at)
  if (is.null(act)) {
    return("")
  }
  said <- rlang::try_fetch({
    ask <- after_act(new_state(ask), act)$now$ask
    book <- explored_book(ask, seen$base)
    if (words == "measure" || words == "axis") read_request(explored_request(ask, book), book)
    ""
  }, drystack_error = function(e) rlang::cnd_message(e))
  # What is wrong, and what it is.
  lines <- utils::head(strsplit(said, "\n", fixed = TRUE)[[1L]], 2L)
  paste(sub("^[^[:alnum:]\"`(]+ ", "", lines), collapse = " ")
}
