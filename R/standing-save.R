#' From exploring to a standing report
#'
#' Writes the YAML of a standing report that builds the same table or page again. Orders and lookups
#' must have come from files read with [read_orders()], or their files be named.
#'
#' @param x A [rollup()], [crosstab()], [listing()], [headlines()], [report()], or a figure that
#'   [figure()] drew; of the figures on a page those too.
#' @param file Where to write it. Paths in it are taken from its folder.
#' @param orders The file of the orders, where they were not read with [read_orders()].
#' @param title The title of the report.
#' @return `file`, invisibly. Building it gives the same figures.
#' @section Errors: `drystack_error_standing` for what a report cannot hold: orders without a
#'   file, R functions in measures, calendars with settings of their own, plots of other making,
#'   tables of different daybooks.
#' @examples
#' orders <- read_orders(harrowgill_path("orders.csv"))
#' x <- rollup(daybook(orders, date = ordered_on), by = year, sales = sum(amount))
#' file <- tempfile(fileext = ".yml")
#' as_standing(x, file)
#' writeLines(readLines(file))
#' @export
as_standing <- function(x, file, orders = NULL, title = NULL) {
  own_setting()
  check_text(file, "file")
  check_text(orders, "orders", optional = TRUE)
  check_text(title, "title", optional = TRUE)
  said <- standing_of(x, dirname(file), orders, title)
  check_no_braces(said)
  write_whole(file, function(aside) write_text_lines(yaml_text(said), aside))
}

standing_of <- function(x, folder, orders, title) {
  parts <- if (inherits(x, "drystack_report")) x$parts else list(x)
  labels <- if (inherits(x, "drystack_report")) x$labels else ""
  tables <- lapply(parts, saved_table)
  first <- Filter(Negate(is.null), tables)
  if (length(first) == 0L) raise(
    "standing", c("There is no table to save.",
      ">" = "Give a table of this package, or a report that has one.")
  )
  book <- table_book(first[[1L]])
  measures <- saved_measures(tables)
  blocks <- Map(saved_block, parts, labels, tables, MoreArgs = list(book = book))
  c(
    list(
      drystack = 1L, title = title %||% if (inherits(x, "drystack_report"))
        x$title else sentence_case(table_title(first[[1L]]))
    ),
    if (inherits(x, "drystack_report")) saved_page(x),
    saved_book(book, folder, orders),
    if (length(measures) > 0L) list(measures = measures),
    list(page = unname(blocks))
  )
}

saved_page <- function(x) {
  Filter(
    function(v) length(v) > 0L && !identical(v, FALSE),
    list(subtitle = x$subtitle, footnotes = as.list(x$footnotes), contents = x$contents)
  )
}

# The table a part of a page was made from; a text has none.
saved_table <- function(part) {
  if (is.character(part)) {
    return(NULL)
  }
  table <- if (inherits(part, "ggplot")) attr(part, "drystack")$table else part
  if (!inherits(table, "drystack_table")) {
    raise(
      "standing",
      c(
        "A standing report holds tables, texts, and the figures that {.fn figure} draws.",
        "x" = "This is {.obj_type_friendly {part}}."
      )
    )
  }
  table
}

table_book <- function(x) x$source

saved_book <- function(book, folder, orders) {
  path <- orders %||% book$made$path
  if (is.null(path)) {
    raise(
      "standing", c("The orders came from no file.",
        ">" = "Read them with {.fn read_orders}, or name the file: {.arg orders}.")
    )
  }
  reading <- list(file = relative_path(path, folder), date = book$date, date_order = book$made$date_order)
  reading <- utils::modifyList(reading, saved_reading(book$made$reading))
  if (length(book$made$undated) > 0L) reading$undated <- as.list(book$made$undated)
  reading$columns <- as.list(book$made$names)
  worked_out <- as.list(book$made$worked_out)
  check_saved_texts(worked_out)
  saved <- list(
    orders = Filter(Negate(is.null), reading),
    lookups = unname(lapply(book$lookups, saved_lookup, folder = folder)),
    calendars = lapply(book$calendars, calendar_word_of), as_of = if (book$as_of != book$last)
      format(as_day_date(book$as_of)),
    covered_to = if (!is.null(book$covered)) format(as_day_date(book$covered)),
    work_out = worked_out, only = as.list(condition_texts(book$scope)), shown = saved_shown(book),
    closing = Filter(Negate(is.null), book$closing %||% list()), sort_keys = book$sort_keys
  )
  Filter(function(v) length(v) > 0L, saved)
}

# What was said of the reading; what was found will be found again.
saved_reading <- function(said) {
  said <- said[!vapply(said, is.null, NA)]
  if (identical(said$totals_lines, "proven")) said$totals_lines <- NULL
  lapply(said, function(values) {
    if (length(values) > 1L || !is.null(names(values))) as.list(values) else values
  })
}

saved_lookup <- function(lookup, folder) {
  if (is.null(lookup$path)) {
    raise(
      "standing", c(paste0("The lookup ", quoted(lookup$name), " came from no file."),
        ">" = "Read it with {.fn read_orders}.")
    )
  }
  saved <- list(file = relative_path(lookup$path, folder), by = lookup$by)
  if (lookup$theirs != lookup$by) saved$key <- lookup$theirs
  if (nzchar(lookup$prefix)) saved$prefix <- lookup$prefix
  saved
}

# Within the folder of the report a path is told from there, else in full.
relative_path <- function(path, folder) {
  full <- normalizePath(path, mustWork = FALSE)
  base <- paste0(normalizePath(folder, mustWork = FALSE), "/")
  if (startsWith(full, base)) substr(full, nchar(base) + 1L, nchar(full)) else full
}

saved_shown <- function(book) {
  shown <- book$shown
  if (is.null(shown)) {
    return(NULL)
  }
  if (!is.null(shown$latest)) {
    unit <- shown$latest$unit
    plain <- unit$calendar_name == names(book$calendars)[1L]
    return(
      list(
        latest = paste(shown$latest$n, if (plain) unit$unit else paste0(unit$calendar_name, "$", unit$unit)),
        complete = if (isTRUE(shown$complete) || shown$latest$complete) TRUE
      ) |> Filter(f = Negate(is.null))
    )
  }
  day <- function(d) if (!is.null(d)) format(as_day_date(d))
  Filter(Negate(is.null), list(from = day(shown$from), to = day(shown$to),
    complete = if (isTRUE(shown$complete)) TRUE))
}

# A calendar in the words of the command line, where they say all of it.
calendar_word_of <- function(calendar) {
  spec <- calendar$spec
  start <- if (identical(spec$named_by, "start")) ":start" else ""
  word <- switch(calendar$kind,
    civil = "civil",
    iso = "iso",
    fiscal = paste0("fiscal:", month_words$en$name[spec$starts], start),
    week = paste0("week:", calendar$said$pattern, ":", calendar$said$ends, start)
  )
  same <- !is.null(word) && is.null(calendar$trading) && rlang::try_fetch(
    identical(calendar_from(word)$id, calendar$id), drystack_error = function(e) FALSE
  )
  if (!same) {
    raise(
      "standing",
      c(
        paste0("The ", calendar$words$long, " has settings that a standing report cannot hold."),
        ">" = "Name it civil, iso, fiscal or week."
      )
    )
  }
  word
}

# All measures the tables show or speak of, in order; of one name one meaning.
saved_measures <- function(tables) {
  saved <- list()
  for (x in Filter(Negate(is.null), tables)) {
    known <- x$ask$known
    for (name in names(known)) {
      one <- saved_measure(known[[name]], known)
      if (!is.null(saved[[name]]) && !identical(saved[[name]], one)) {
        raise(
          "standing",
          c(paste0("Two tables have different measures named ", quoted(name), "."),
            ">" = "Give one of them another name.")
        )
      }
      saved[[name]] <- one
    }
  }
  saved
}

saved_measure <- function(m, known) {
  check_saved_texts(stats::setNames(list(tree_text(m$tree)), m$name))
  if (has_custom(m$tree)) raise_custom(m$name)
  own_format <- !is.null(m$format) && !identical(m$format, inherited_format(m$tree, known))
  saved <- list(
    show = tree_text(m$tree), label = if (m$label != m$name) m$label,
    format = if (own_format) format_text(m$format), description = m$description,
    total = if (!is.null(m$total)) paste0("of_shown(", m$total, ")")
  )
  saved <- Filter(Negate(is.null), saved)
  if (length(saved) == 1L) saved$show else saved
}

has_custom <- function(tree) {
  own <- tree$kind == "custom" || (tree$kind == "aggregate" && identical(tree$fn, "custom"))
  own || any(vapply(subtrees(tree), has_custom, NA))
}

raise_custom <- function(name) {
  raise(
    "standing",
    c(
      paste0(quoted(name), " calls an R function, which a standing report cannot hold."),
      ">" = "Say it in the words of the measure language."
    )
  )
}

# In a report braces stand for parameters.
check_no_braces <- function(said) {
  texts <- c(names(unlist(said)), unlist(said))
  odd <- grep("[{}]", texts, value = TRUE)
  if (length(odd) > 0L) {
    raise("standing", c(
      "A standing report holds no braces but those of its parameters.",
      "x" = "Here are some: {examples_of(unique(odd), 3L)}.",
      ">" = "Rename the columns and measures, or give the report a title without braces."
    ))
  }
}

check_saved_texts <- function(texts) {
  for (name in names(texts)) {
    if (grepl("\\bcustom\\(", texts[[name]])) raise_custom(name)
  }
}

format_text <- function(format) {
  fn <- format$kind
  usual <- formals(get(fn, envir = asNamespace("drystack")))
  given <- lapply(names(usual), function(key) if (key == "symbol") format$symbol else format[[key]])
  names(given) <- names(usual)
  defaults <- lapply(usual, eval, envir = asNamespace("drystack"))
  changed <- Filter(
    function(key) {
      !identical(given[[key]], defaults[[key]]) && !isTRUE(all.equal(given[[key]], defaults[[key]]))
    }, names(given)
  )
  arguments_text(fn, vapply(changed, function(key) paste(key, "=", value_text(given[[key]])), ""))
}

saved_block <- function(part, label, table, book) {
  label <- if (nzchar(label)) list(label = label)
  if (is.character(part)) {
    return(list(text = paste(part, collapse = "\n")))
  }
  said <- saved_ask(table)
  own <- saved_limits(table_book(table), book)
  if (inherits(part, "ggplot")) {
    return(
      list(
        figure = c(
          said[intersect(names(said), c("by", "rows", "cols", "show", "sort", "keep"))],
          list(kind = attr(part, "drystack")$kind), label, own
        )
      )
    )
  }
  stats::setNames(list(c(said, label, own)), table$kind)
}

# Conditions and dates shown that a table has beyond those of the report.
saved_limits <- function(own, book) {
  texts <- condition_texts(own$scope)
  shared <- condition_texts(book$scope)
  same <- own$date == book$date && own$as_of == book$as_of && all(shared %in% texts) && identical(
    names(own$calendars), names(book$calendars)
  )
  if (!same) raise(
    "standing",
    c(
      "The tables of the report are asked of different daybooks.",
      ">" = "Make them from one daybook, with more conditions where needed."
    )
  )
  Filter(function(v) length(v) > 0L, list(
    only = as.list(setdiff(texts, shared)), shown = if (!identical(own$shown, book$shown)) saved_shown(own)
  ))
}

saved_ask <- function(x) {
  ask <- x$ask
  show <- as.list(if (ask$kind == "headlines") headline_names(ask) else names(ask$measures))
  axes <- function(names) {
    as.list(vapply(names, axis_text, "", ask = ask, book = table_book(x), USE.NAMES = FALSE))
  }
  rules <- list(
    sort = lapply(ask$sort[setdiff(names(ask$sort), implied_sorts(ask))], rule_text),
    keep = Map(keep_text, ask$keep, names(ask$keep) %in% names(Filter(is_period_axis, ask$axes)))
  )
  sides <- function(words) if (length(unique(words)) == 1L) words[[1L]] else as.list(words)
  said <- switch(x$kind,
    rollup = list(
      by = axes(names(ask$axes)), show = show, totals = ask$totals[["rows"]],
      totals_at = ask$totals_at[["rows"]], members = said_members(ask)
    ),
    crosstab = list(
      rows = axes(side_axes(ask, "rows")), cols = axes(side_axes(ask, "cols")),
      show = show, totals = sides(ask$totals), totals_at = sides(ask$totals_at),
      measures_at = ask$measures_at, members = said_members(ask)
    ),
    listing = list(
      groups = axes(names(group_axes(ask))), lines = axes(names(ask$listing$columns)),
      show = show, per = ask$listing$per$name, totals = ask$totals[["rows"]],
      totals_at = ask$totals_at[["rows"]], layout = ask$listing$look$layout,
      number = ask$listing$look$number, after = ask$listing$look$after, empty = ask$listing$look$empty
    ),
    headlines = list(show = show, against = saved_against(x), history = x$history$said %||% "none")
  )
  said <- c(said, rules)
  Filter(function(v) length(v) > 0L && !identical(v, FALSE), said)
}

said_members <- function(ask) if (ask$members != "shown") ask$members

axis_text <- function(name, ask, book) {
  axis <- ask$listing$time_groups[[name]] %||% ask$axes[[name]] %||% ask$listing$columns[[name]]
  if (axis$kind == "dimension") {
    return(axis$name)
  }
  word <- axis$unit %||% axis$part
  calendar <- names(book$calendars)[vapply(book$calendars,
    function(c) identical(c$id, axis$calendar$id), NA)][1L]
  if (calendar == names(book$calendars)[1L]) word else paste0(calendar, "$", word)
}

# Orders that keep_top() brings with it are not said again.
implied_sorts <- function(ask) {
  Filter(function(name) !is.null(ask$keep[[name]]) && is.null(ask$sort[[name]]$said), names(ask$sort))
}

rule_text <- function(rule) {
  switch(rule$kind,
    key = arguments_text("by_key", name_text(rule$column)),
    given = arguments_text("in_order", vapply(rule$members, value_text, "")),
    measure = arguments_text(
      if (rule$largest) "largest_first" else "smallest_first",
      c(tree_text(rule$tree), if (!is.null(rule$at)) paste("at =", value_text(rule$at)))
    )
  )
}

keep_text <- function(rule, period) {
  arguments_text(
    "keep_top", c(rule$n, tree_text(rule$tree),
      if (!period) paste("others =", if (is.null(rule$others)) "NULL" else value_text(rule$others)))
  )
}

saved_against <- function(x) {
  lapply(x$compared, function(with) {
    if (is.null(with)) "none" else if (with$share) paste0("share(", tree_text(with$tree), ")") else with$unit
  })
}

# YAML in which every text that needs it is quoted, and no line is broken.
yaml_text <- function(said) {
  text <- yaml::as.yaml(said, indent.mapping.sequence = TRUE, line.sep = "\n", handlers = list(
    logical = function(x) structure(tolower(as.character(x)), class = "verbatim"),
    character = function(x) structure(x, quoted = grepl(must_be_quoted, x, ignore.case = TRUE))
  ))
  strsplit(text, "\n", fixed = TRUE)[[1L]]
}

must_be_quoted <- "[^A-Za-z0-9_./ -]|^[-. ]|^(true|false|yes|no|null|on|off|y|n)$"
