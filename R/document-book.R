# From a document to its daybook.

opened_document <- function(document, values_of, options) {
  said <- document$said
  orders <- document_orders(document, options)
  changed <- column_changes(names(orders), unlist(said$orders$columns), options$columns_before)
  built <- telling_changes(changed, filled_book(orders, document, values_of, options))
  c(built, list(columns = names(orders), changed = changed))
}

document_orders <- function(document, options) {
  said <- document$said
  at <- list("orders", orders_key(document))
  if (at[[2L]] == "database") {
    check_orders_keys(document, setdiff(names(new_reading()), c("zone", "keep")), "files")
    return(at_line(document, at, document_database(document, options$outside)))
  }
  check_orders_keys(document, c("table", "query", if (is.null(document$file)) "key"), "a database",
    if (is.null(document$file)) "Name one: {.code --orders sqlite:shop.db}."
      else "Name one: {.code database: sqlite:shop.db}.")
  path <- inner_path(said$orders[[at[[2L]]]], document, at, options$outside)
  # The columns that the report lists are those it was made with, not those it speaks of.
  spoken <- said
  spoken$orders$columns <- NULL
  at_line(document, at, orders_as_needed(path, said_reading(said$orders),
    wanted = function(names) columns_spoken_of(names, spoken)))
}

# What is in the orders of a document, see look_at().
looked_document <- function(document) {
  if (orders_key(document) == "database") {
    return(look_at(document_orders(document, plain_building())))
  }
  looked_orders(document$said$orders[[orders_key(document)]], said_reading(document$said$orders))
}

# Keys that say how other orders are read.
check_orders_keys <- function(document, keys, what, mend = NULL) {
  said <- intersect(keys, names(document$said$orders))
  if (length(said) > 0L) {
    path <- list("orders", said[1L])
    raise_key(document, path, paste0(key_words(path), " is for orders in ", what, "."), mend)
  }
}

# A report names one file of orders, or several (a folder, or a pattern), or a database.
orders_key <- function(document) {
  key <- intersect(c("file", "files", "database"), names(document$said$orders))
  if (length(key) != 1L) {
    raise_key(document, list("orders"),
      "\"orders\" needs one of the keys \"file\", \"files\" and \"database\".",
      paste0("Write {.code file: orders.csv}, {.code files: orders/*.csv} or {.code database: ",
        "sqlite:shop.db}."))
  }
  key
}

# The keys under orders that say how the file is read.
said_reading <- function(orders) {
  keys <- setdiff(names(new_reading()), c("rename", "types"))
  said <- lapply(orders[intersect(names(orders), keys)], unlist)
  pairs <- lapply(orders[intersect(names(orders), c("rename", "types"))], unlist)
  do.call(checked_reading, c(said, pairs))
}

filled_book <- function(orders, document, values_of, options) {
  said <- document$said
  book <- at_line(document, list("orders"), daybook(
    orders, said$orders$date, calendars = options$calendars %||%
      document_calendars(document, options),
    undated = unlist(said$orders$undated) %||% character(), currency = !!said$orders$currency,
    rates = if (!is.null(said$orders$rates))
      read_orders(inner_path(said$orders$rates, document, list("orders", "rates"), options$outside))
  ))
  book$today <- options$today
  for (i in seq_along(said$lookups)) book <- add_lookup(book, said$lookups[[i]], i,
    document, options)
  if (!is.null(said$closing)) book <- at_line(document, list("closing"),
    closing(book, said$closing$after, said$closing$on))
  if (!is.null(said$covered_to)) {
    day <- date_said(said$covered_to, "covered_to", document, day_facts(book))
    book <- at_line(document, list("covered_to"), covered_to(book, day))
  }
  values <- values_of(book)
  for (name in names(said$work_out)) {
    text <- filled_expression(said$work_out[[name]], values, document, list("work_out", name))
    book <- at_line(
      document, list("work_out", name), add_columns(book,
        stats::setNames(list(said(read_expression(text, name)$expr)), name))
    )
  }
  for (name in names(said$records)) book <- record_of_document(book, name, document,
    values, options)
  book <- limited_book(book, said, values, document, list())
  if (length(said$labels) > 0L) {
    book <- at_line(document, list("labels"), with_column_labels(book, unlist(said$labels)))
  }
  for (dimension in names(said$sort_keys)) {
    book <- at_line(document, list("sort_keys", dimension),
      sort_key(book, !!dimension, !!said$sort_keys[[dimension]]))
  }
  book <- at_line(document, list("as_of"), as_of(book, values$as_of$value))
  if (!is.null(said$as_known)) book <- known_of_document(book, document, options)
  list(book = book, values = values)
}

known_of_document <- function(book, document, options) {
  said <- document$said$as_known
  for (key in c("entered_on", "day")) if (is.null(said[[key]])) {
    raise_key(document, list("as_known"), paste0(
      argument_said(setdiff(c("entered_on", "day"), key)), " needs ",
      argument_said(key), " beside it."))
  }
  day <- date_said(said$day, "as_known", document, day_facts(book, options$today))
  at_line(document, list("as_known"), {
    check_column(said$entered_on, names(book$columns))
    known_on(book, said$entered_on, as.integer(day))
  })
}

# Conditions and the dates shown, of the report or of one block.
limited_book <- function(book, said, values, document, path) {
  at <- c(path, list("only"))
  for (one in conditions_said(said$only)) {
    filled <- filled_expression(one$text, values, document, at)
    if (is.null(filled)) next
    called <- if (nzchar(one$called)) filled_text(one$called, values, document, at) else ""
    book <- at_line(document, at, {
      read <- read_expressions(filled, "only")
      if (nzchar(called)) names(read) <- called
      add_conditions(book, read)
    })
  }
  if (is.null(said$shown)) {
    return(book)
  }
  at <- c(path, list("shown"))
  shown <- lapply(said$shown, function(text) {
    if (is.logical(text)) text else filled_words(text, values, document, at)
  })
  if (!is.null(said$shown$from)) shown$from <- filled_limit(said$shown$from, values,
    document, at, start_of)
  if (!is.null(said$shown$to)) shown$to <- filled_limit(said$shown$to, values, document, at, end_of)
  at_line(document, c(path, list("shown")), shown_from(book, list(
    from = shown$from, to = shown$to, latest = shown$latest,
    complete = if (isTRUE(shown$complete)) TRUE
  )))
}

# Conditions as texts, each with what it is called: `status != "cancelled"`, or under its name,
# `without cancelled orders: status != "cancelled"`.
conditions_said <- function(only) {
  flat <- function(one, called = "") {
    if (!is.list(one)) {
      return(lapply(one, function(text) list(text = as.character(text), called = called)))
    }
    names <- rlang::names2(one)
    unlist(lapply(seq_along(one), function(i) flat(one[[i]], names[i])), recursive = FALSE)
  }
  flat(only)
}

document_calendars <- function(document, options) {
  said <- document$said$calendars %||% list(civil = "civil")
  week_begins <- document$said$week_begins %||% "Monday"
  language <- document$said$language %||% "en"
  calendars <- Map(function(word, name) {
    calendar <- at_line(document, list("calendars", name),
      calendar_from(in_folder(word, document, options), week_begins, language))
    with_trading(calendar, document, options)
  }, said, names(said))
  at_line(document, list("calendars"), named_calendars(calendars))
}

with_trading <- function(calendar, document, options) {
  said <- document$said$trading
  if (is.null(said)) {
    return(calendar)
  }
  at <- list("trading", "holidays")
  holidays <- unlist(said$holidays) %||% character()
  is_file <- length(holidays) == 1L && is.na(iso_days(holidays))
  if (is_file) holidays <- inner_path(holidays, document, at, options$outside)
  at_line(document, list("trading"), trading(calendar,
    unlist(said$closed) %||% character(), holidays))
}

# The file of a custom calendar lies beside the report.
in_folder <- function(word, document, options) {
  if (!startsWith(word, "custom:")) {
    return(word)
  }
  paste0("custom:", inner_path(sub("^custom:", "", word), document, list("calendars"),
    options$outside))
}

add_lookup <- function(book, said, i, document, options) {
  path <- list("lookups", i)
  given <- options$lookups[i][[1L]]
  by <- unlist(said$by)
  if (!is.null(said$key)) by <- stats::setNames(unlist(said$key), by)
  at_line(document, path, enrich(
    book, given %||% orders_in_file(inner_path(said$file, document, path, options$outside),
      said_reading(said)), by,
      prefix = said$prefix %||% "", from = said$from,
    name = file_stem(basename(said$file))
  ))
}

built_book <- function(document, set, options) {
  opened_document(document, function(book) {
    facts <- day_facts(book, options$today)
    facts$closed <- closing_needed(facts$closed, book, document)
    parameter_values(document, set, facts, options$ask)
  }, options)
}

# The words of a report for a rule that is not there.
closing_needed <- function(closed, book, document) {
  force(closed)
  function(unit) {
    if (is.null(book$closing)) raise_key(
      document, list("as_of"), paste0("\"last closed ", unit, "\" needs a closing rule."),
      if (is.null(document$file)) "Say one: {.code --closed-after 14}."
        else "Add the key closing, such as closing: {{after: 14}}."
    )
    closed(unit)
  }
}
