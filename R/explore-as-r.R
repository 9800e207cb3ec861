# An ask in R: its daybook, its limits, its table.

explored_r <- function(seen) {
  ask <- spoken_out(seen$ask)
  steps <- c(r_book(seen), r_limits(ask, seen))
  c(paste0("book <- ", paste(steps, collapse = " |>\n  ")), r_table(ask, seen))
}

r_book <- function(seen) {
  said <- rlang::try_fetch(base_said(seen), drystack_error_standing = function(e) NULL)
  if (is.null(said)) {
    return("book")
  }
  c(r_call("daybook", c(r_orders(said$orders), paste("date =", name_text(said$orders$date)),
    paste("calendars =", r_calendars(said$calendars)),
    r_named(said$orders["date_order"]), r_named(said$orders["undated"]))),
    vapply(said$lookups, r_lookup, ""), r_more("work_out", said$work_out, seen$ask$work_out),
    if (length(said$only) > 0L) r_call("only", unlist(said$only)))
}

r_call <- function(fn, args) {
  args <- args[nzchar(args)]
  plain <- arguments_text(fn, args)
  if (nchar(plain) <= 90L) plain else paste0(fn, "(\n    ", paste(args, collapse = ",\n    "), "\n  )")
}

r_named <- function(said) {
  said <- Filter(Negate(is.null), said)
  if (length(said) == 0L) return("")
  paste(vapply(names(said), function(key) paste(key, "=", r_value(said[[key]])), ""), collapse = ", ")
}

r_value <- function(value) {
  if (is.list(value) || !is.null(names(value))) {
    names <- names(value)
    texts <- vapply(value, value_text, "")
    if (!is.null(names)) texts <- paste(vapply(names, name_text, ""), "=", texts)
    return(arguments_text("c", texts))
  }
  value_text(value)
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

r_calendars <- function(words) {
  texts <- vapply(words, r_calendar, "")
  arguments_text("list", paste(vapply(names(words), name_text, ""), "=", texts))
}

r_calendar <- function(word) {
  parts <- trimws(strsplit(word, ":", fixed = TRUE)[[1L]])
  start <- if (utils::tail(parts, 1L) == "start") ", named_by = \"start\"" else ""
  switch(parts[1L], civil = "civil_calendar()", iso = "iso_week_calendar()",
    fiscal = paste0("fiscal_calendar(", value_text(parts[2L]), start, ")"),
    week = paste0("week_calendar(", value_text(parts[2L]), ", ", value_text(parts[3L]), start, ")"))
}

r_lookup <- function(lookup) {
  by <- if (is.null(lookup$key)) value_text(lookup$by) else arguments_text("c", paste(name_text(lookup$key),
    "=",
    value_text(lookup$by)))
  r_call("enrich", c(r_call("read_orders", value_text(lookup$file)), paste("by =", by),
    r_named(lookup["prefix"])))
}

r_more <- function(fn, ...) {
  said <- c(...)
  if (length(said) > 0L) r_call(fn, paste(vapply(names(said), name_text, ""), "=", unlist(said)))
}

r_limits <- function(ask, seen) {
  shown <- if (nzchar(ask$latest)) {
    words <- strsplit(trimws(ask$latest), "[ ,]+")[[1L]]
    arguments_text("latest", c(words, if (ask$complete) "complete = TRUE"))
  } else {
    c(if (nzchar(ask$from)) paste("from =", value_text(ask$from)), if (nzchar(ask$to)) paste("to =",
      value_text(ask$to)),
      if (ask$complete) "complete = TRUE")
  }
  rule <- c(if (nzchar(ask$closed_after)) paste("after =", ask$closed_after),
    if (nzchar(ask$closed_on)) paste("on =", ask$closed_on))
  leads <- ask$calendar
  c(
    if (nzchar(leads)) r_leading(leads, seen),
    if (length(ask$only) > 0L) r_call("only", ask$only),
    if (nzchar(ask$covered_to)) r_call("covered_to", value_text(ask$covered_to)),
    if (length(rule) > 0L) r_call("closing", rule),
    if (nzchar(ask$as_of)) r_call("as_of", value_text(ask$as_of)),
    if (length(shown) > 0L) r_call("within_dates", shown)
  )
}

r_leading <- function(word, seen) {
  if (!word %in% names(seen$base$book$calendars)) {
    raise("standing", c("A calendar that the daybook does not have cannot be added in R afterwards.",
      ">" = paste0("Give it to {.fn daybook}: {.code calendars = ", braces_kept(r_calendar(word)), "}.")))
  }
  r_call("first_calendar", name_text(word))
}

r_table <- function(ask, seen) {
  axes <- function(key, words) {
    if (length(words) > 0L) paste0(key, " = ", arguments_text("c",
      axis_texts(words, seen)))
  }
  sides <- function(word) {
    said <- sides_from(word)
    if (is.null(names(said))) value_text(said) else arguments_text("c", paste(names(said), "=",
      vapply(said, value_text, "")))
  }
  rules <- function(key, texts) {
    if (length(texts) > 0L) paste0(key, " = ", arguments_text("list", paste(vapply(names(texts), name_text,
      ""), "=", unlist(texts))))
  }
  plain <- empty_ask()
  word <- function(key) if (!identical(ask[[key]], plain[[key]])) paste(key, "=", value_text(ask[[key]]))
  measures <- vapply(ask$measures, function(m) paste(name_text(m$name), "=", measure_text(m)), "")
  totals <- if (ask$totals != (if (ask$kind == "listing") "all" else "none")) paste("totals =",
    sides(ask$totals))
  at <- if (ask$totals_at != "end") paste("totals_at =", sides(ask$totals_at))
  more <- c(totals, at, rules("sort", ask$sort), rules("keep", ask$keep))
  args <- switch(request_kind(ask),
    rollup = c(axes("by", ask$rows), measures, more, word("members")),
    crosstab = c(axes("rows", ask$rows), axes("cols", ask$cols), measures, more, word("members"),
      word("measures_at")),
    listing = c(axes("groups", ask$rows), axes("lines", ask$lines), measures,
      if (nzchar(ask$per)) paste("per =", name_text(ask$per)), more, word("layout"), word("number"),
        word("after")),
    headlines = c(measures, paste("against =", if (nzchar(ask$against)) ask$against else "NULL"),
      paste("history =", if (ask$history == "none") "NULL" else ask$history))
  )
  call <- r_call(request_kind(ask), c("book", args))
  drawn <- ask$kind == "table" && !is.null(seen$table) && figure_fits(ask$figure, seen$table)
  if (drawn) r_call("figure", c(call, paste("kind =", value_text(ask$figure)))) else call
}

# Axes as an expression names them: columns by their names, periods as they are said.
axis_texts <- function(words, seen) {
  columns <- names(seen$columns_of$columns)
  ifelse(words %in% columns, vapply(words, name_text, ""), words)
}
