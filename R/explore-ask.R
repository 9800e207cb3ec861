# What is asked in the explorer, in plain values only: texts and lists of texts, as a command or a
# standing report says them, and read as those are. So it goes into an address and back.
#
# kind: "table", "listing" or "headlines"
# measures: for each list(name, text, label, format, total, more, hidden): "" where nothing
# is said; more:
#   what else measure() is told, such as marks and bars; a hidden one is only spoken of
# rows, cols, lines, per: axes as words (the groups of a listing are its rows)
# work_out: columns made on the way, by name; only: conditions
# latest, from, to, complete: the dates shown; as_of, covered_to, closed_after, closed_on: as said
# calendar: the name of the calendar that leads, or one in the words of the command line
# sort, keep: rules by the name of their axis
# figure: "fitting", "none", or a kind of figure(); and the looks of tables (plan-look.R)
empty_ask <- function() {
  list(
    kind = "table", measures = list(), rows = character(), cols = character(),
    lines = character(), per = "",
    work_out = list(), only = character(), latest = "", from = "", to = "",
    complete = FALSE, as_of = "",
    covered_to = "", closed_after = "", closed_on = "", calendar = "", totals = "none",
    totals_at = "end",
    sort = list(), keep = list(), members = "shown", against = "", history = "month",
    figure = "fitting"
  ) |> c(usual_looks())
}

explored_measure <- function(name, text, label = "", format = "", total = "", more = "",
  hidden = FALSE) {
  list(name = name, text = text, label = label, format = format, total = total, more = more,
    hidden = hidden)
}

# What is asked again next time a table is open: the daybook without what the sentence says.
#
# book: without the conditions, dates and rules that went into the ask; ask: with them
explore_base <- function(book) {
  ask <- first_ask(book)
  said <- vapply(book$scope, condition_is_text, NA, book = book)
  ask$only <- condition_said(book$scope[said])
  if (!is.null(book$shown)) ask[c("latest", "from", "to")] <- ""
  ask <- with_said(ask, saved_shown(book))
  ask <- with_said(ask, list(
    as_of = if (book$as_of != book$last) format(as_day_date(book$as_of)),
    covered_to = if (!is.null(book$covered)) format(as_day_date(book$covered)),
    closed_after = as.character(book$closing$after), closed_on = as.character(book$closing$on)
  ))
  book$scope <- book$scope[!said]
  book["shown"] <- book["closing"] <- book["covered"] <- list(NULL)
  book$as_of <- book$last
  list(book = book, ask = ask)
}

with_said <- function(ask, said) {
  said <- Filter(function(v) length(v) > 0L, said)
  ask[names(said)] <- said
  ask
}

# Whether the text of a condition means the same when it is read again.
condition_is_text <- function(condition, book) {
  again <- rlang::try_fetch(
    parse_row(read_expression(condition$text, "only")$expr, book_vocabulary(book, NULL)),
    drystack_error = function(e) NULL
  )
  !is.null(again) && identical(tree_key(again), condition$key)
}

# Where nothing was asked yet: what seems to be the amount, month by month of the last year.
first_ask <- function(book) {
  facts <- column_facts(book)
  amounts <- facts$name[facts$kind == "amount"]
  amount <- likely_amount(amounts)
  ask <- empty_ask()
  ask$measures <- list(if (is.na(amount)) explored_measure("lines",
    "count()") else explored_measure(
    plain_name(amount), arguments_text("sum", name_text(amount))
  ))
  ask$rows <- "month"
  if ("month" %in% book$calendars[[1L]]$units) ask$latest <- "12 month" else ask$rows <- "year"
  ask
}

# The daybook of an ask. What is worked out on the way is worked out once: `made` keeps it.
explored_book <- function(ask, base, made = new.env(parent = emptyenv())) {
  key <- rlang::hash(ask$work_out)
  book <- remembered_in(made, key, function() {
    texts <- unlist(ask$work_out)
    add_columns(base$book, stats::setNames(lapply(texts, function(text) {
      said(read_expression(text, "work-out")$expr)
    }), names(texts)))
  })
  book$calendars <- explored_calendars(ask$calendar, book$calendars)
  book <- add_conditions(book, read_expressions(ask$only, "only"))
  if (nzchar(ask$covered_to)) book <- covered_to(book, ask$covered_to)
  book <- explored_closing(ask, book)
  if (nzchar(ask$as_of)) book <- as_of(book, ask$as_of)
  shown_from(book, list(
    latest = if (nzchar(ask$latest)) ask$latest, from = if (nzchar(ask$from)) ask$from,
    to = if (nzchar(ask$to)) ask$to, complete = if (ask$complete) TRUE
  ))
}

# The calendar that leads comes first; one that the daybook has not is made.
explored_calendars <- function(word, calendars) {
  if (word == "") {
    return(calendars)
  }
  if (!word %in% names(calendars)) {
    # A file that an address names is not read.
    if (startsWith(trimws(word), "custom:")) {
      raise("calendar", c("A calendar from a file is set when the explorer starts.",
        ">" = "Start it with {.code --calendar custom:FILE}, or in R with {.fn daybook}."))
    }
    # Its weeks, language and trading days are those of the others.
    settings <- calendar_settings(calendars)
    made <- calendar_from(word, settings$week_begins, settings$language)
    made["trading"] <- list(settings$trading)
    return(c(stats::setNames(list(made), made$kind),
      calendars[setdiff(names(calendars), made$kind)]))
  }
  calendars[c(word, setdiff(names(calendars), word))]
}

explored_closing <- function(ask, book) {
  rule <- c(after = ask$closed_after, on = ask$closed_on)
  rule <- rule[nzchar(rule)]
  if (length(rule) == 0L) {
    return(book)
  }
  days <- lapply(stats::setNames(names(rule), names(rule)),
    function(key) number_of_option(rule[[key]], key))
  closing(book, days$after, days$on)
}

explored_request <- function(ask, book) {
  axes <- function(words) lapply(words, axis_said, book = book)
  rules <- function(texts, option) {
    if (length(texts) > 0L) lapply(texts, function(text) {
      rule_of(read_expression(text, option)$expr, option)
    })
  }
  hidden <- vapply(ask$measures, `[[`, NA, "hidden")
  names <- vapply(ask$measures, `[[`, "", "name")
  new_request(
    request_kind(ask), rows = axes(ask$rows), cols = axes(ask$cols), lines = axes(ask$lines),
    measures = stats::setNames(lapply(ask$measures, explored_said), names), show = names[!hidden],
    totals = sides_from(ask$totals), totals_at = sides_from(ask$totals_at),
    sort = rules(ask$sort, "sort"), keep = rules(ask$keep, "keep"), members = ask$members,
    look = ask[names(table_looks())], per = said(if (nzchar(ask$per)) ask$per),
    against = said(if (nzchar(ask$against)) read_expression(ask$against, "against")$expr),
    history = said(if (ask$history != "none") as.name(ask$history))
  )
}

request_kind <- function(ask) {
  if (ask$kind != "table") ask$kind else if (length(ask$cols) > 0L) "crosstab" else "rollup"
}

# A measure as it would be written: measure(sum(net), label = "Net sales").
explored_said <- function(measure) said(read_expression(measure_text(measure), "show")$expr)

measure_text <- function(measure) {
  more <- c(
    if (nzchar(measure$label)) paste("label =", value_text(measure$label)),
    if (nzchar(measure$format)) paste("format =", measure$format),
    if (nzchar(measure$total)) paste("total =", measure$total),
    if (nzchar(measure$more)) measure$more
  )
  if (length(more) == 0L) measure$text else arguments_text("measure", c(measure$text, more))
}

explored_table <- function(ask, book) make_table(explored_request(ask, book), book)
