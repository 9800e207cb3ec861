# Where the orders of an explorer come from, and how they are read: a daybook of R, the orders of a
# command, a standing report, the demo.
#
# opened: list(name, path: of the file whose reading can be changed, open: a function of
# a reading that
#   gives the daybook, look: one that gives its columns, state: what is seen first, check: TRUE
#   where the check of the orders comes first)

opened_book <- function(book, name = "orders", path = NULL, again = NULL, look = NULL,
  check = FALSE) {
  # What was read is not read twice.
  open <- function(reading) if (length(reading) == 0L) book else again(reading)
  list(name = name, path = path, open = open, look = look, check = check,
    state = new_state(explore_base(book)$ask))
}

# The daybook of what is seen, opened once, with what its sentence begins with.
base_of <- function(app, now) {
  opened <- opened_in(app, now$report)
  newest_in(app$bases, rlang::hash(now[c("report", "reading")]), opened$stamp, function() {
    base <- explore_base(opened$open(now$reading))
    base$made <- new.env(parent = emptyenv())
    base
  })
}

# What is kept under a key as long as its stamp is the same.
newest_in <- function(env, key, stamp, make) {
  kept <- env[[key]]
  if (is.null(kept) || !identical(kept$stamp, stamp)) {
    kept <- make()
    kept$stamp <- stamp
    assign(key, kept, envir = env)
  }
  kept
}

# What the explorer was begun with, or a report of its folder; one that was written since is
# read anew.
opened_in <- function(app, report) {
  if (report == "") {
    return(app$opened)
  }
  path <- file_in_folder(app$folder, report, report_endings)
  if (!file.exists(path)) {
    raise("standing", c(paste0("There is no report ", quoted(report), " in ",
      quoted(app$folder), "."), advise_word(report, reports_in(app$folder), "reports")))
  }
  stamp <- paste(unlist(file.info(path)[c("size", "mtime")]), collapse = " ")
  newest_in(app$reports, report, stamp, function() opened_report(path))
}

# The orders of a document, read anew as the browser says.
opened_orders <- function(document) {
  read_as <- function(reading) {
    document$said$orders[names(reading)] <- reading
    document
  }
  open <- function(reading) document_book(with_likely_date(read_as(reading)))
  path <- document$said$orders$file
  name <- basename(path %||% document$said$orders$database)
  if (is.null(path) || in_parts(path) || path == "-") {
    return(opened_book(open(list()), name))
  }
  look <- function(reading) looked_document(read_as(reading))
  rlang::try_fetch(opened_book(open(list()), name, path, open, look, check = TRUE),
    drystack_error = function(e) {
      unread <- list(name = name, path = path, open = open, look = look, check = FALSE,
        state = new_state())
      if (leads_on(e, unread)) unread else rlang::zap()
    })
}

# Of a file without a word on its dates, the column that is likely to be the date.
with_likely_date <- function(document) {
  if (is.null(document$said$orders[["date"]])) {
    looked <- looked_document(document)
    date <- likely_first_ask(looked)[["date"]]
    if (is.na(date)) {
      raise("column", c("No column of the orders looks like a date.",
        "i" = paste0("There are ", words_of(looked$column, 20L), "."),
        ">" = paste0("Name it: ", option_said("date", "COLUMN"), ".")))
    }
    document$said$orders[["date"]] <- date
  }
  document
}

# A standing report: its daybook, and its page as one that is being made.
opened_report <- function(path, outside = FALSE) {
  document <- read_standing(path)
  options <- list(outside = outside, today = Sys.Date(), strict = FALSE, ask = NULL)
  built <- built_book(document, list(), options)
  opened <- opened_book(built$book, basename(path))
  page <- opened_page(document, built, opened$state$now$ask)
  asks <- Filter(function(block) block$as != "text", page$blocks)
  opened$state <- new_state(if (length(asks) > 0L) asks[[1L]]$ask else opened$state$now$ask, page)
  opened
}

opened_page <- function(document, built, ask) {
  said <- document$said
  figures <- named_figures(document, built$book, built$values)
  page <- empty_page()
  text <- function(text, path) {
    filled <- filled_text(as.character(text), built$values, document, path, figures)
    if (filled != text && nzchar(filled)) page$braced[[filled]] <<- text
    filled
  }
  if (!is.null(said$title)) page$title <- text(said$title, list("title"))
  look <- said[intersect(names(said), names(page$look))]
  page$look[names(look)] <- lapply(look, unlist)
  if (!is.null(said$subtitle)) page$look$subtitle <- text(said$subtitle, list("subtitle"))
  page$asked <- names(said$parameters)
  blocks <- lapply(flat_page(document), opened_block, document = document,
    values = built$values, ask = ask,
    text = text)
  page$blocks <- blocks
  page
}

opened_block <- function(block, document, values, ask, text) {
  said <- block$said
  # The second of several side by side stands beside the one before.
  beside <- "beside" %in% block$path && utils::tail(block$path, 1L)[[1L]] > 1L
  if (block$kind == "text") {
    return(new_page_block(ask, "text", text = text(said, block$path), beside = beside))
  }
  new_page_block(ask_of_block(block$kind, said, document, values, block$path, ask),
    if (block$kind %in% block_forms) block$kind else "table",
    label = if (is.null(said$label)) "" else text(said$label, block$path), beside = beside,
    axis_labels = as.list(unlist(said$axis_labels)), since = as.character(said$since %||% ""))
}

# A block of a report as an ask: the report's conditions and dates, then its own.
ask_of_block <- function(kind, said, document, values, path, ask) {
  fill <- function(text) filled_expression(text, values, document, path)
  texts <- function(key) as.character(unlist(said[[key]]))
  ask$kind <- if (kind %in% c("listing", "headlines")) kind else "table"
  ask$rows <- c(texts("by"), texts("rows"), texts("groups"))
  ask$cols <- texts("cols")
  ask$lines <- texts("lines")
  ask$per <- c(texts("per"), "")[1L]
  ask$measures <- report_measures(said, document, values, fill)
  ask$only <- c(ask$only, unlist(lapply(texts("only"), fill)))
  ask <- with_said(ask, block_dates(said, fill))
  side <- function(said, plain) {
    if (is.list(said)) paste(names(said), unlist(said), sep = "=", collapse = ",")
      else said %||% plain
  }
  ask$totals <- side(said[["totals"]], if (kind == "listing") "all" else "none")
  ask$totals_at <- side(said$totals_at, "end")
  for (rule in c("sort", "keep")) ask[[rule]] <- block_rules(said[[rule]], ask, fill)
  words <- said[intersect(names(said), c("members", names(table_looks())))]
  ask[names(words)] <- words
  if (kind == "headlines") {
    ask$against <- if (is.list(said$against)) deparse1(against_said(said$against, fill)$expr)
      else said$against %||% ""
    ask$history <- said$history %||% "month"
  }
  ask$figure <- if (kind == "figure") said$kind %||% "fitting" else ask$figure
  ask
}

# The measures of the report that a block speaks of, those it does not show hidden; then its own.
report_measures <- function(said, document, values, fill) {
  spoken <- spoken_of(document$said$measures, unlist(said[c("show", "sort", "keep", "against")]))
  items <- shown_items(said, document$said$measures)
  shown <- vapply(items, `[[`, "", "name")
  of_report <- Map(function(one, name) {
    if (!is.list(one)) one <- list(show = one)
    explored_measure(name, fill(one$show), one$label %||% "", one$format %||% "", one$total %||% "",
      more_said(one, name, document, values), !name %in% shown)
  }, spoken, names(spoken))
  own <- Filter(function(item) !is.null(item$own), items)
  own <- lapply(own, function(item) explored_measure(item$name, fill(item$own)))
  measures <- c(unname(of_report), own)
  names <- vapply(measures, `[[`, "", "name")
  measures[order(match(names, shown), na.last = FALSE)]
}

# What a measure is told beside its label, format and total, as measure() takes it.
more_said <- function(one, name, document, values) {
  given <- as.list(measure_said(one, name, document, values, list("measures", name))$expr)
  more <- given[intersect(names(given), c("description", "marks", "bar", "history"))]
  paste(names(more), "=", vapply(more, deparse1, ""), collapse = ", ", recycle0 = TRUE)
}

block_dates <- function(said, fill) {
  shown <- lapply(said$shown, function(text) {
    if (is.logical(text)) text else gsub("\"", "", fill(text),
      fixed = TRUE)
  })
  if (is.null(said$shown)) list() else c(list(latest = "", from = "",
    to = "")[setdiff(c("latest", "from", "to"), names(shown))], shown)
}

# One rule is for the innermost dimension.
block_rules <- function(said, ask, fill) {
  if (is.null(said)) {
    return(list())
  }
  if (is.list(said)) {
    return(lapply(said, fill))
  }
  inner <- utils::tail(Filter(Negate(is_period_word),
    if (length(ask$rows) > 0L) ask$rows else ask$cols), 1L)
  if (length(inner) == 0L) inner <- utils::tail(c(ask$rows, ask$cols), 1L)
  stats::setNames(list(fill(said)), gsub("$", "_", inner, fixed = TRUE))
}
