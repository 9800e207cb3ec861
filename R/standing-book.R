# From a standing report to its daybook.

standing_book <- function(source, values_of, options) {
  said <- source$said
  orders <- standing_orders(source, options)
  changed <- column_changes(names(orders), unlist(said$orders$columns), options$columns_before)
  built <- telling_changes(changed, filled_book(orders, source, values_of, options))
  c(built, list(columns = names(orders), changed = changed))
}

standing_orders <- function(source, options) {
  said <- source$said
  at <- list("orders", orders_key(source))
  if (at[[2L]] == "database") {
    return(at_line(source, at, orders_in_report(source, options$outside)))
  }
  path <- inner_path(said$orders[[at[[2L]]]], source, at, options$outside)
  # The columns that the report lists are those it was made with, not those it speaks of.
  spoken <- said
  spoken$orders$columns <- NULL
  at_line(source, at, orders_as_needed(path, said_reading(said$orders),
    wanted = function(names) columns_spoken_of(names, spoken)))
}

# A report names one file of orders, or several (a folder, or a pattern), or a database.
orders_key <- function(source) {
  key <- intersect(c("file", "files", "database"), names(source$said$orders))
  if (length(key) != 1L) {
    raise_key(source, list("orders"),
      "\"orders\" needs one of the keys \"file\", \"files\" and \"database\".",
      "Write {.code file: orders.csv}, {.code files: orders/*.csv} or {.code database: sqlite:shop.db}.")
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

filled_book <- function(orders, source, values_of, options) {
  said <- source$said
  book <- at_line(source, list("orders"), daybook(
    orders, said$orders$date, calendars = options$calendars %||% standing_calendars(source, options),
    undated = unlist(said$orders$undated) %||% character()
  ))
  for (i in seq_along(said$lookups)) book <- add_lookup(book, said$lookups[[i]], i, source, options)
  if (!is.null(said$closing)) book <- at_line(source, list("closing"),
    closing(book, said$closing$after, said$closing$on))
  if (!is.null(said$covered_to)) {
    book <- at_line(source, list("covered_to"), covered_to(book, said$covered_to))
  }
  values <- values_of(book)
  for (name in names(said$work_out)) {
    text <- filled_expression(said$work_out[[name]], values, source, list("work_out", name))
    book <- at_line(
      source, list("work_out", name), add_columns(book,
        stats::setNames(list(said(read_expression(text, name)$expr)), name))
    )
  }
  book <- limited_book(book, said, values, source, list())
  if (length(said$labels) > 0L) {
    book <- at_line(source, list("labels"), with_column_labels(book, unlist(said$labels)))
  }
  for (dimension in names(said$sort_keys)) {
    book <- at_line(source, list("sort_keys", dimension),
      sort_key(book, !!dimension, !!said$sort_keys[[dimension]]))
  }
  book <- at_line(source, list("as_of"), as_of(book, values$as_of$value))
  list(book = book, values = values)
}

# Conditions and the dates shown, of the report or of one block.
limited_book <- function(book, said, values, source, path) {
  at <- c(path, list("only"))
  for (one in conditions_said(said$only)) {
    filled <- filled_expression(one$text, values, source, at)
    if (is.null(filled)) next
    called <- if (nzchar(one$called)) filled_text(one$called, values, source, at) else ""
    book <- at_line(source, at, {
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
    if (is.logical(text)) text else filled_words(text, values, source, at)
  })
  if (!is.null(said$shown$from)) shown$from <- filled_limit(said$shown$from, values, source, at, start_of)
  if (!is.null(said$shown$to)) shown$to <- filled_limit(said$shown$to, values, source, at, end_of)
  at_line(source, c(path, list("shown")), shown_from(book, list(
    from = shown$from, to = shown$to, latest = shown$latest, complete = if (isTRUE(shown$complete)) TRUE
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

standing_calendars <- function(source, options) {
  said <- source$said$calendars
  if (is.null(said)) {
    return(civil_calendar())
  }
  calendars <- lapply(stats::setNames(names(said), names(said)), function(name) {
    at_line(source, list("calendars", name), calendar_from(in_folder(said[[name]], source, options)))
  })
  named_calendars(calendars)
}

# The file of a custom calendar lies beside the report.
in_folder <- function(word, source, options) {
  if (!startsWith(word, "custom:")) {
    return(word)
  }
  paste0("custom:", inner_path(sub("^custom:", "", word), source, list("calendars"), options$outside))
}

add_lookup <- function(book, said, i, source, options) {
  path <- list("lookups", i)
  given <- options$lookups[i][[1L]]
  by <- if (is.null(said$key)) said$by else stats::setNames(said$key, said$by)
  at_line(source, path, enrich(
    book, given %||% read_orders(inner_path(said$file, source, path, options$outside)), by,
      prefix = said$prefix %||% "",
    name = tools::file_path_sans_ext(basename(said$file))
  ))
}

full_path <- function(path, source) {
  ifelse(grepl("^(/|~|[A-Za-z]:)", path), path.expand(path), file.path(source$folder, path))
}

# Paths are taken from the report's folder and stay within it, unless that is allowed.
inner_path <- function(path, source, at, outside) {
  full <- full_path(path, source)
  # Where it leads, links followed; of a file that is not there the folder.
  real <- if (file.exists(full)) {
    normalizePath(full)
  } else {
    file.path(normalizePath(dirname(full), mustWork = FALSE), basename(full))
  }
  inside <- startsWith(real, paste0(source$folder, "/")) && !grepl("(^|/)\\.\\.(/|$)", real)
  if (!inside && !isTRUE(outside)) {
    raise_key(source, at, paste0("The path ", quoted(path), " leads out of the folder of the report."),
      paste0(
        "Put the file there, or allow it: {.code --allow-outside}, {.code outside = TRUE}."
      ))
  }
  full
}

# An error of the package within a report is told with its line.
at_line <- function(source, path, code) {
  rlang::try_fetch(code, drystack_error = function(e) {
    if (inherits(e, "drystack_error_standing")) {
      return(rlang::zap())
    }
    line <- key_line(path, source)
    raise("standing", c(
      paste0(braces_kept(basename(source$file)), ", line ", line, ": ", braces_kept(rlang::cnd_header(e))),
      message_bullets(e)
    ))
  })
}

message_bullets <- function(e) {
  body <- e$body
  stats::setNames(braces_kept(as.character(body)), names(body))
}
