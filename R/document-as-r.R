# A document with one block in R: its daybook, and its table.

# columns: of the daybook; begins: what the daybook is called where the document does not
# say its orders
r_of_document <- function(said, columns, begins = "book") {
  steps <- c(if (is.null(said$orders)) begins else r_daybook(said),
    vapply(said$lookups, r_lookup, ""), r_steps(said))
  c(paste0("book <- ", paste(steps, collapse = " |>\n  ")),
    r_table(spoken_out(with_names_of_axes(said, columns))))
}

r_call <- function(fn, args) {
  args <- args[nzchar(args)]
  plain <- arguments_text(fn, args)
  if (nchar(plain) <= 90L) plain else paste0(fn, "(\n    ",
    paste(args, collapse = ",\n    "), "\n  )")
}

r_named <- function(said) {
  said <- Filter(function(value) length(value) > 0L, said)
  if (length(said) == 0L) return("")
  paste(vapply(names(said), function(key) paste(key, "=", r_value(said[[key]])), ""),
    collapse = ", ")
}

r_daybook <- function(said) {
  orders <- said$orders
  currency <- if (!is.null(orders$currency)) paste("currency =", name_text(orders$currency)) else ""
  rates <- if (!is.null(orders$rates)) paste("rates =", r_call("read_orders",
    value_text(orders$rates))) else ""
  r_call("daybook", c(r_orders(orders), paste("date =", r_date(orders$date)),
    paste("calendars =", r_calendars(said)), r_named(orders["date_order"]),
    r_named(orders["undated"]), currency, rates))
}

r_orders <- function(orders) {
  reading <- orders[intersect(names(orders), setdiff(names(new_reading()), c("date_order")))]
  if (!is.null(orders$database)) {
    return(r_call("orders_in", c(value_text(orders$database),
      r_named(orders[c("table", "query", "key", "zone")]))))
  }
  path <- value_text(orders$file %||% orders$files)
  if (is.null(orders$file)) path else r_call("read_orders", c(path, r_named(reading)))
}

r_calendars <- function(said) {
  words <- said$calendars %||% list(civil = "civil")
  texts <- vapply(words, r_calendar, "", settings = said)
  arguments_text("list", paste(vapply(names(words), name_text, ""), "=", texts))
}

r_calendar <- function(word, settings = list()) {
  parts <- trimws(strsplit(word, ":", fixed = TRUE)[[1L]])
  start <- if (utils::tail(parts, 1L) == "start") "named_by = \"start\""
  language <- r_named(settings["language"])
  weeks <- r_named(settings["week_begins"])
  call <- function(fn, ...) {
    args <- c(...)
    arguments_text(fn, args[nzchar(args)])
  }
  calendar <- switch(parts[1L], civil = call("civil_calendar", weeks, language),
    iso = call("iso_week_calendar", language),
    fiscal = call("fiscal_calendar", value_text(parts[2L]), start, weeks, language),
    week = call("week_calendar", value_text(parts[2L]), value_text(parts[3L]), start, language))
  if (is.null(settings$trading)) calendar
    else call("trading", calendar, r_named(settings$trading["closed"]),
      r_named(settings$trading["holidays"]))
}

r_lookup <- function(lookup) {
  ours <- unlist(lookup$by)
  by <- if (is.null(lookup$key)) value_text(ours)
    else arguments_text("c", paste(vapply(ours, name_text, ""), "=",
      vapply(unlist(lookup$key), value_text, "")))
  reading <- lookup[intersect(names(lookup), names(new_reading()))]
  r_call("enrich", c(r_call("read_orders", c(value_text(lookup$file), r_named(reading))),
    paste("by =", by), r_named(lookup["prefix"]), r_named(lookup["from"])))
}

# Each step that makes more of the daybook, in the order in which a document is built.
r_steps <- function(said) {
  named <- function(fn, texts) {
    r_call(fn, paste(vapply(names(texts), name_text, ""), "=", unlist(texts)))
  }
  keys <- said$sort_keys
  c(
    if (length(said$closing) > 0L) r_call("closing", r_named(said$closing)),
    if (!is.null(said$covered_to)) r_call("covered_to", value_text(said$covered_to)),
    if (length(said$work_out) > 0L) named("work_out", said$work_out),
    vapply(names(said$records), function(name) r_record(name, said$records[[name]]), ""),
    if (!is.null(said$leads)) r_call("first_calendar", name_text(said$leads)),
    if (length(said$only) > 0L) r_call("only", condition_options(said$only)),
    if (length(said$shown) > 0L) r_call("within_dates", r_shown(said$shown)),
    if (length(said$labels) > 0L) named("label_columns", lapply(said$labels, value_text)),
    vapply(names(keys), function(name) {
      r_call("sort_key", c(name_text(name), name_text(keys[[name]])))
    }, ""),
    if (!is.null(said$as_of)) r_call("as_of", value_text(said$as_of)),
    if (!is.null(said$as_known)) r_call("as_known", c(name_text(said$as_known$entered_on),
      value_text(said$as_known$day)))
  )
}

r_shown <- function(shown) {
  whole <- if (isTRUE(shown$complete)) "complete = TRUE"
  if (!is.null(shown$latest)) {
    return(arguments_text("latest", c(strsplit(trimws(shown$latest), "[ ,]+")[[1L]], whole)))
  }
  c(r_named(shown[intersect(c("from", "to"), names(shown))]), whole)
}

# A table whose measures stand where they are shown.
r_table <- function(said) {
  kind <- names(said$page[[1L]])
  block <- said$page[[1L]][[1L]]
  args <- unlist(lapply(fields_of("block", kind), function(field) {
    value <- block[[field$name]]
    if (is.null(value) || identical(value, FALSE)) NULL
      else if (field$name == "show") unlist(value) else paste(field$name, "=",
        r_argument(value, field))
  }))
  r_call(kind, c("book", args))
}

r_argument <- function(value, field) {
  codes <- function(value) {
    if (identical(value, "none")) return("NULL")
    if (is.null(names(value))) return(unlist(value))
    arguments_text("list", paste(vapply(names(value), name_text, ""), "=",
      vapply(value, function(one) if (one == "none") "NULL" else one, "")))
  }
  if (field$name == "per") {
    return(name_text(value))
  }
  switch(field$type,
    axes = if (length(value) == 1L) value[[1L]] else arguments_text("c", unlist(value)),
    rules = , comparisons = codes(value), flag = "TRUE",
    text = if (field$name == "history") codes(value) else value_text(value), r_value(value))
}

# A column, or those of the day and of the time: c(Date, Time).
r_date <- function(said) {
  parts <- trimws(strsplit(said, "+", fixed = TRUE)[[1L]])
  if (length(parts) == 2L) arguments_text("c", vapply(parts, name_text, "")) else name_text(said)
}

r_record <- function(name, said) {
  reading <- said[intersect(names(said), names(new_reading()))]
  place <- if (!is.null(said$lines)) {
    columns <- typed_lines(said$lines)
    r_call("data.frame", paste(vapply(names(columns), name_text, ""), "=",
      vapply(columns, r_value, "")))
  } else if (is.null(said$database)) {
    if (length(reading) == 0L) value_text(said$file) else r_call("read_orders",
      c(value_text(said$file), r_named(reading)))
  } else r_call("orders_in", c(value_text(said$database),
    r_named(said[c("table", "query", "key")])))
  r_call("alongside", c(paste(name_text(name), "=", place), paste("date =", name_text(said$date)),
    if (!is.null(said$per)) paste("per =", said$per), r_named(said[c("by", "spread")]),
    if (!is.null(said$shape)) paste("shape =", said$shape),
    r_named(said[c("regardless", "undated")])))
}
