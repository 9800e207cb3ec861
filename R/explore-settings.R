# Acts that set something to a word or a text: dates, rules, totals, the form.

with_moved <- function(ask, field, act) {
  n <- length(ask[[field]])
  at <- act_at(act, n)
  to <- act_at(act, n, "to")
  ask[[field]] <- append(ask[[field]][-at], ask[[field]][at], after = to - 1L)
  ask
}

# What is simply one word or another: its choices, or NULL where it is any text.
set_choices <- function() {
  c(list(
    kind = c("table", "listing", "headlines"), per = NULL, as_of = NULL, covered_to = NULL,
    closed_after = NULL, closed_on = NULL, calendar = NULL, totals = NULL,
    totals_at = words_of_ends,
    members = member_words_known, against = NULL, history = c(period_units, "none"),
    figure = c("fitting", "none", names(known_figures()))
  ), lapply(Filter(Negate(is_flag_look), table_looks()), `[[`, "values"))
}

is_flag_look <- function(look) is.logical(look$values)

act_set <- function(ask, act) {
  key <- act_text(act, "key")
  if (key %in% c("complete", names(Filter(is_flag_look, table_looks())))) {
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

# "5 week", "last 5 weeks", "2026-01-01 to 2026-03-31", one day, or a civil month or year:
# "2026-03", "2025".
typed_dates <- function(text) {
  words <- strsplit(trimws(text), "\\s+(to|until)\\s+|\\s*\\.\\.\\s*")[[1L]]
  if (length(words) == 2L) {
    return(list(from = words[1L], to = words[2L]))
  }
  if (!is.na(iso_days(trimws(text)))) {
    return(list(from = trimws(text), to = trimws(text)))
  }
  if (grepl("^[0-9]{4}(-(0[1-9]|1[0-2]))?$", trimws(text))) {
    first <- as.Date(paste0(trimws(text), if (nchar(trimws(text)) == 4L) "-01-01" else "-01"))
    after <- seq(first, by = if (nchar(trimws(text)) == 4L) "1 year" else "1 month",
      length.out = 2L)[2L]
    return(list(from = format(first), to = format(after - 1)))
  }
  text <- sub("^(the )?(last|latest) ", "", trimws(text))
  list(latest = sub("s$", "", sub("halves", "half",
    if (grepl("^[0-9]", text)) text else paste("1", text))))
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

# The value of an option of reading that was typed or chosen.
reading_typed <- function(text, key) {
  field <- Find(function(one) one$name == key, orders_fields())
  texts <- if (field$type %in% c("texts", "pairs") &&
    key != "drop_lines") words_by_comma(text) else text
  unlist(field_types()[[field$type]]$read(texts, field))
}

# A reading as the browser says it: texts by the names of read_orders(), as options have them,
# several parted by commas. Nothing said is nothing kept.
read_as_said <- function(act) {
  said <- Filter(function(text) is_one_text(text) && nzchar(text), act$reading %||% list())
  known <- c("date", setdiff(names(new_reading()), "keep"))
  unknown <- setdiff(names(said), known)
  if (length(unknown) > 0L) raise("act", c(paste0("Reading has no option ",
    quoted(unknown[1L]), " here."), advise_word(unknown[1L], known, "options")))
  said <- Map(reading_typed, said, names(said))
  do.call(checked_reading, said[names(said) != "date"])
  plain_list(said[order(names(said))])
}
