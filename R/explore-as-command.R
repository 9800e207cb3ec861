# An ask as a command.

explored_command <- function(seen) {
  ask <- spoken_out(seen$ask)
  check_calendar_names(seen)
  said <- base_said(seen)
  c(paste("drystack", request_kind(ask)), command_book(said, ask, seen), command_table(ask, seen)) |>
    paste(collapse = " \\\n  ")
}

# On the command line a calendar has the name of its kind.
check_calendar_names <- function(seen) {
  calendars <- (seen$book %||% seen$columns_of)$calendars
  odd <- names(calendars)[names(calendars) != vapply(calendars, `[[`, "", "kind")]
  if (length(odd) > 0L) raise("standing", c("A command names calendars by their kind.",
    "x" = "Here {examples_of(odd)} {if (length(odd) == 1L) 'has a name' else 'have names'} of its own."))
}

# Each option with its values; nothing where there are none.
command_option <- function(name, values) {
  values <- unlist(values)
  if (length(values) > 0L) paste0("--", name, " ", shQuote(values, "sh"))
}

command_book <- function(said, ask, seen) {
  orders <- said$orders
  calendars <- vapply((seen$book %||% seen$columns_of)$calendars, calendar_word_of, "")
  pairs <- function(values) if (length(values) > 0L) paste0(names(values), "=", unlist(values))
  reading <- orders[intersect(names(orders), setdiff(names(new_reading()), c("rename", "types",
    "date_order")))]
  lookups <- vapply(said$lookups, function(l) {
    paste(c(l$file, if (is.null(l$key)) l$by else paste0(l$key, "=", l$by), l$prefix), collapse = ":")
  }, "")
  worked <- c(said$work_out, ask$work_out)
  c(
    command_option("orders", orders$file %||% orders$files %||% orders$database),
    command_option("date", orders$date),
    unlist(lapply(c("table", "query", "key"), function(key) command_option(key, orders[[key]]))),
    unlist(lapply(names(reading), function(key) command_option(gsub("_", "-", key), reading[[key]]))),
    command_option("rename", pairs(orders$rename)), command_option("types", pairs(orders$types)),
    command_option("date-order", orders$date_order),
    command_option("calendar", calendars), command_option("lookup", lookups),
    command_option("work-out", if (length(worked) > 0L) paste(vapply(names(worked), name_text, ""), "=",
      unlist(worked))),
    command_option("only", c(said$only, ask$only)),
    command_option("covered-to", said_or_none(ask$covered_to)), command_option("as-of",
      said_or_none(ask$as_of)),
    command_option("latest", said_or_none(ask$latest)), command_option("from", said_or_none(ask$from)),
    command_option("to", said_or_none(ask$to)), if (ask$complete) "--complete"
  )
}

said_or_none <- function(text) if (nzchar(text)) text

command_table <- function(ask, seen) {
  axes <- function(name, words) {
    if (length(words) > 0L) command_option(name, paste(axis_texts(words, seen), collapse = ","))
  }
  plain <- empty_ask()
  word <- function(key) {
    if (!identical(ask[[key]], plain[[key]])) command_option(gsub("_", "-", key), ask[[key]])
  }
  rules <- function(name, texts) {
    if (length(texts) > 0L) command_option(name, paste(vapply(names(texts), name_text, ""), "=",
      unlist(texts)))
  }
  measures <- command_option("show", vapply(ask$measures, function(m) {
    paste(name_text(m$name), "=",
      measure_text(m))
  }, ""))
  totals <- if (ask$totals != (if (ask$kind == "listing") "all" else "none")) command_option("totals",
    ask$totals)
  more <- c(totals, word("totals_at"), rules("sort", ask$sort), rules("keep", ask$keep))
  switch(request_kind(ask),
    rollup = c(axes("by", ask$rows), measures, more, word("members")),
    crosstab = c(axes("rows", ask$rows), axes("cols", ask$cols), measures, more, word("members"),
      word("measures_at")),
    listing = c(axes("groups", ask$rows), axes("lines", ask$lines), measures, command_option("per",
      said_or_none(ask$per)),
      more, word("layout"), word("after"), if (ask$number) "--number"),
    headlines = c(measures, command_option("against", said_or_none(ask$against)),
      command_option("history", ask$history))
  )
}
