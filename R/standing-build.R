#' Build a standing report
#'
#' A standing report is a YAML file with the source of the orders, the measures, and the contents of
#' the page. It is written once, by hand or by [as_standing()], and built again whenever it is due,
#' with another as-of date or other parameters. A build writes all of its files, or none.
#'
#' @param file The standing report.
#' @param set Values of its parameters, as a list: `list(as_of = "2026-08-31", depot = "Skelby")`.
#'   Dates can be words: `"last month end"`, `"last order"`,
#'   `"last closed month"`, `"today"`, `"yesterday"`.
#' @param out The folder to write to, made if it does not exist.
#' @param formats The files to write, as endings: `c("html", "xlsx")`. Default: the report's
#'   `outputs`, otherwise HTML. CSV and Parquet hold one table each; a page with several gets one
#'   file per table, named by its label.
#' @param each A column: one report for each of its members with orders.
#' @param key The column that identifies the members, as names may be shared or change: files and
#'   kept figures go by it, titles by `each`.
#' @param recipients Only these members, by key or name; `NULL` for all.
#' @param only `"changed"`: leave pages alone whose figures and texts are those of the last build;
#'   `"all"`: write all of them.
#' @param keep_going `TRUE`: if a page fails, write the others and name it in `failures`. Otherwise
#'   nothing is written.
#' @param at_once How many pages to make at the same time, in processes of their own.
#' @param keep_builds How many builds to keep for comparison (default 13).
#' @param compare The name of another calendar of the report, to build by that as well.
#' @param strict `TRUE`: an expectation of the report that is not met is an error, and the last
#'   build stays.
#' @param outside `TRUE`: paths may lead outside the report's folder.
#' @param today The day of the build.
#' @param changes `TRUE`: if the page does not say what changed since the last build, add this at
#'   its end, for its first rollup by periods.
#' @return A `drystack_build`: `files` (written, or up to date if nothing has changed), `unchanged`
#'   (those left alone), `failures` (a list of `key`, `name`, `why`), `changed`, `parameters`,
#'   `rows`, `notes`, `told` (for example that the orders end before the as-of date), `warnings`
#'   (expectations that are not met), `tie_out` (`TRUE` if every table ties out), `said_changed`
#'   (what the page says changed, as text).
#' @section Changes since earlier builds: A build keeps its figures in the folder `.NAME.told`, for
#'   the last 13 builds. A block `- changes: {by: month, show: sales, since: last build}` (or
#'   `since: 2026-09-01`) says what is different now, and why ([changes()]). Complete periods whose
#'   figures have changed are marked as restated in every table and figure of the page. With
#'   `orders: {key: [order_id, product_id]}` the order lines are kept too, with the columns the
#'   report reads, and the block names those removed, changed or entered since. Without a key, and
#'   for orders in several files or in a database, counts and sums are kept by day and by the
#'   columns of the tables; the block then says which days and members have fewer order lines, more,
#'   or other amounts. A report for one member keeps only that member's orders.
#' @section Recipients: `each`, `key`, `recipients`, `only`, `keep_going`, `at_once` and
#'   `keep_builds` can also be given in the report: `deliver: {each: rep, key: rep_id, only:
#'   changed}`. Arguments override it. A build reports order lines without a key, with their amount,
#'   members of a lookup without orders, and pages of members that no longer have orders.
#'   `NAME.manifest.json` beside the pages lists each file with its member, order lines, amount,
#'   whether it changed, checksums and warnings, and every failure with its reason; its schema is
#'   `system.file("standing", "manifest.schema.json", package = "drystack")`.
#' @section The form: The keys are those of the JSON Schema in the package,
#'   `system.file("standing", "standing.schema.json", package = "drystack")`. `drystack: 1` is the
#'   version of the form; every later version of the package reads reports of version 1.
#' @section Errors: `drystack_error_standing` with file and line for anything wrong in the report
#'   (for an unknown key it offers the nearest), and under `strict` for expectations that are not
#'   met; `drystack_error_output` for files that cannot be written.
#' @seealso [as_standing()] writes a report from a table; [changes()] compares two states
#'   of the orders.
#' @examples
#' report <- file.path(harrowgill_folder(tempfile("yard")), "monthly.yml")
#' built <- build_report(report, set = list(as_of = "2026-08-31"), out = tempfile(), formats = "md")
#' built
#' @export
build_report <- function(file, set = list(), out = ".", formats = NULL, each = NULL, compare = NULL,
  strict = FALSE, outside = FALSE, today = Sys.Date(), changes = FALSE, key = NULL,
  recipients = NULL,
  only = NULL, keep_going = NULL, at_once = NULL, keep_builds = NULL) {
  own_setting()
  # Where pages go is not said in a report: it is an option or an argument, as outside.
  callers <- surface$names
  on_surface("report", function() c(argument_names("report"), stats::na.omit(callers()["out"])))
  check_text(out, "out")
  check_flag(strict, "strict")
  check_flag(outside, "outside")
  check_flag(changes, "changes")
  document <- read_standing(file)
  if (changes) document <- with_changes(document)
  out <- if (nchar(out) > 1L) sub("/+$", "", out) else out
  delivery <- read_delivery(document, list(each = each, key = key,
    recipients = recipients, only = only,
    keep_going = keep_going, at_once = at_once, keep_builds = keep_builds))
  options <- list(
    outside = outside, today = as_day_date(check_day(today, "today")),
    strict = strict, ask = parameter_question(c(delivery$each, delivery$key)), delivery = delivery
  )
  formats <- check_formats(formats %||% unlist(document$said$outputs) %||% "html")
  options$changes <- changes
  stamp <- input_stamp(document, set, formats, delivery[c("each", "key", "recipients")],
    compare, options)
  name <- file_stem(basename(file))
  before <- stood_before(out, name, stamp)
  if (!is.null(before)) {
    return(before)
  }
  options$columns_before <- kept_stamp(out, name)$columns
  run <- list(document = document, options = options, formats = formats, out = out, name = name)
  variants <- report_variants(run, set, compare)
  built <- handed_out(variants, run, set)
  if (length(built$failures) == 0L) keep_stamp(built, variants$pages[[1L]]$built$columns,
    out, name, stamp)
  built
}

check_formats <- function(formats) {
  formats <- sub("^\\.", "", formats)
  for (one in formats) writer_for(paste0("report.", one), bundle_writers(), "report")
  unique(formats)
}

# The page of one variant, with what was expected of it.
standing_page <- function(document, variant, options) {
  book <- variant$built$book
  values <- variant$built$values
  seen <- telling_changes(variant$built$changed, seen_at_once(book, function() {
    standing_parts(document, book, values, options$earlier)
  }))
  parts <- marked_parts(seen$parts, document, options$earlier)
  tables <- Filter(function(part) inherits(part, "drystack_table"), flat_parts(parts))
  compared <- Filter(function(part) inherits(part, "drystack_changes"), parts)
  warnings <- standing_guards(document, variant$built, tables, options$today)
  if (options$strict && length(warnings) > 0L) {
    raise("standing", c(
      paste0(braces_kept(basename(document$file)),
        ": what the report expects is not met; nothing was written."),
      stats::setNames(braces_kept(warnings), rep("x", length(warnings)))
    ))
  }
  warnings <- c(warnings, variant$built$changed$news, seen$news)
  said <- document$said
  text <- function(key) {
    if (is.null(said[[key]])) {
      return(character())
    }
    filled_text(said[[key]], values, document, list(key), named_figures(document, book, values))
  }
  page <- new_report(
    parts, paste0(
      if (is.null(said$title)) title_of_file(document$file) else text("title"), variant$title
    ), text("subtitle"),
    c(
      unlist(said$footnotes), open_note(book, options$today),
      if (length(warnings) > 0L && !variant$private) paste("Attention:", warnings)
    ), isTRUE(said$contents), as.integer(options$today),
    look = page_look(said$notes %||% if (variant$private) "brief" else "full", said$paper %||% "A4",
      said$orientation %||% "portrait", variant$private),
    told = told_values(values, said)
  )
  list(page = page, warnings = warnings, tables = c(tables, unname(lapply(compared, `[[`, "own"))),
    values = values, told = end_told(book), changes = compared)
}

# The tables of a page see one state of their orders: where these change while they are made, all
# are made again; where they go on to change, it is told. list(parts, news)
seen_at_once <- function(book, make) {
  engine <- engine_of(book)
  for (attempt in seq_len(most_attempts)) {
    learn_anew(engine)
    generation <- engine$generation
    parts <- make()
    if (identical(engine$generation, generation) && is_as_learned(engine)) {
      return(list(parts = parts))
    }
  }
  list(parts = parts, news = paste("the orders changed each of", most_attempts,
    "times that this page was made: its tables may not all be of the same orders"))
}

most_attempts <- 3L

# Where the orders end before the day the report is for.
end_told <- function(book) {
  covered <- covered_day(book)
  if (covered < book$as_of) paste0("orders end on ", day_words(covered),
    ", before the as-of date, ", day_words(book$as_of))
}

# "depot-sales.yml" as a title.
title_of_file <- function(file) {
  sentence_case(plain_words(gsub("-", " ", file_stem(basename(file)), fixed = TRUE)))
}

# The values it was built with, each where the head does not tell it.
told_values <- function(values, said) {
  in_head <- braced_names(c(said$title, said$subtitle))
  names <- setdiff(intersect(names(said$parameters), names(values)), in_head)
  if (length(names) > 0L) paste0(
    "Built with ", paste0(plain_words(names), ": ", vapply(values[names],
      function(v) parameter_words(v$value), ""),
      collapse = "; "), "."
  )
}

# One report, or one for each recipient and each calendar asked for. list(pages: of each its built,
# title, private, ending, owner and recipient, by what follows the name of the report in those of
# its files;
# recipients: see recipients_of(), NULL where there are none)
report_variants <- function(run, set, compare) {
  whole <- built_book(run$document, set, run$options)
  pages <- list(list(built = whole, title = "", private = FALSE, ending = ""))
  recipients <- NULL
  if (!is.null(run$options$delivery$each)) {
    recipients <- recipients_of(run$document, whole, run$options$delivery)
    pages <- pages_of_recipients(recipients$rows, whole, run, compare)
  }
  if (!is.null(compare)) {
    other <- lapply(pages, function(page) {
      page$built$book <- first_calendar(page$built$book, !!compare)
      page$title <- paste0(page$title, ", ", compare, " calendar")
      page$ending <- paste0(page$ending, "-", compare)
      page
    })
    pages <- c(pages, other)
  }
  list(pages = pages, recipients = recipients)
}

pages_of_recipients <- function(rows, whole, run, compare) {
  delivery <- run$options$delivery
  column <- column_node(delivery$key, whole$book$columns[[delivery$key]])
  values <- dimension_codes(distinct_values(engine_of(whole$book),
    part_in_scope(whole$book), column), delivery$key)$members
  value_of <- values[match(rows$key, member_text(plain_values(values)))]
  endings <- member_endings(rows$key, delivery$key, run$out, run$name, compare)
  twice <- rows$name %in% rows$name[duplicated(rows$name)]
  lapply(seq_len(nrow(rows)), function(i) {
    one <- whole
    one$book <- add_condition(whole$book, call_node("==", list(column, value_node(value_of[i]))))
    # A parameter of the column's name tells the same.
    if (delivery$each %in% names(one$values)) one$values[[delivery$each]]$value <- rows$name[i]
    if (delivery$key %in% names(one$values)) one$values[[delivery$key]]$value <- rows$key[i]
    # What is for one member says nothing of the others.
    list(built = one, title = paste0(", ", rows$name[i], if (twice[i])
      paste0(" (", rows$key[i], ")")),
      private = TRUE, ending = paste0("-", endings[i]), registered = endings[i],
      owner = list(column = delivery$key, member = rows$key[i]), recipient = as.list(rows[i, ]))
  })
}

# In a terminal a parameter without a value is asked for, but not the one that each
# report has its own value of.
parameter_question <- function(each) {
  ask <- if (interactive()) readline else if (isatty(stdin()) && isatty(stderr())) ask_terminal
  if (is.null(ask)) {
    return(NULL)
  }
  function(name, declared) {
    if (name %in% each) {
      return(NULL)
    }
    allowed <- if (length(declared$allowed) > 0L)
      paste0(" (", words_of(unlist(declared$allowed), 20L), ")")
    answer <- ask(paste0(declared$ask %||% name, allowed, ": "))
    if (nzchar(answer)) answer
  }
}

# A program that is no R session is asked on its own standard input.
ask_terminal <- function(prompt) {
  cat(prompt, file = stderr())
  connection <- file("stdin", open = "r")
  on.exit(close(connection))
  paste(readLines(connection, n = 1L), collapse = "")
}
