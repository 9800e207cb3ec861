#' Check orders before trusting them
#'
#' What an analyst looks for before an export is reported on. Each finding has a count, up to five
#' examples and what to do. A *problem* is most likely wrong; a *note* is worth knowing.
#'
#' @param book A daybook, best with its lookups ([enrich()]), so that unmatched keys are found too.
#' @param today Lines dated later count as future lines.
#' @return A `drystack_check` that prints as text, and is a data frame with a row for each finding:
#'   `check`, `column`, `level` (`problem` or `note`), `count`, `examples`, `advice`.
#' @section What is checked:
#'   | check | finds |
#'   |---|---|
#'   | `dates` | first and last date (always told) |
#'   | `gap in dates` | a run of days without orders: over 7, and over 3 times the 99th percentile |
#'   | `undated lines`, `future lines` | no date; a date after `today` |
#'   | `late entries` | lines out of the order of dates, in a file that is otherwise sorted by date |
#'   | `drop in lines` | a whole month with less than half the lines of the month and the year before |
#'   | `repeated lines` | lines that are the same in every column |
#'   | `missing values` | a problem where under 1 in 100 is missing, else a note |
#'   | `label variants` | labels that differ only by case or spaces |
#'   | `codes as numbers` | columns of numbers that look like codes |
#'   | `text in numbers` | columns of numbers with some text among them |
#'   | `outliers` | amounts over 5 times the 99.9th percentile (of under 1,000 values: 20 times the 90th) |
#'   | `zero amounts`, `negative amounts` | zeros where under 1 in 100 is zero; negative amounts, a note |
#'   | `unmatched keys` | keys without a row in a lookup |
#' @section Errors: `drystack_error_argument` for something that is no daybook,
#'   `drystack_error_date` for a `today` that is no date.
#' @seealso [look_at()] looks at a file before it is a daybook; [tie_out()] proves a table.
#' @examples
#' yard <- harrowgill()
#' book <- daybook(yard$orders, date = ordered_on) |> enrich(yard$customers, by = "customer_id")
#' check(book, today = "2026-09-18")
#' @export
check <- function(book, today = Sys.Date()) {
  own_setting()
  check_daybook(book)
  today <- check_day(today, "today")
  orders <- checked_orders(book)
  findings <- lapply(book_checks(), function(find) find(orders, today))
  findings <- do.call(rbind, unlist(lapply(findings, as_findings), recursive = FALSE))
  structure(findings, class = c("drystack_check", "data.frame"))
}

# What the checks look at: the facts of the daybook, the days, the columns with their
# values, and what lookups lack.
checked_orders <- function(book) {
  engine <- engine_of(book)
  columns <- Map(function(name, id) line_values(engine, column_node(name, id)),
    names(book$columns), book$columns)
  facts <- book[c("rows", "undated", "first", "last", "date")]
  lookups <- lapply(book$lookups, function(lookup) {
    lacking <- unmatched_keys(book, lookup)
    c(lookup[c("name", "by", "columns")], lacking,
      list(alike = keys_alike(lacking$keys, lookup, engine)))
  })
  c(facts, list(days = line_days(engine), columns = columns, lookups = lookups,
    findings = book$made$findings, labels = new.env(parent = emptyenv())))
}

# The different labels of a column of text and the lines of each, worked out once: list(codes,
# labels, lines).
labels_of_column <- function(book, name) {
  remembered_in(book$labels, paste0("of ", name), function() {
    x <- book$columns[[name]]
    coded <- if (is.factor(x)) list(codes = as.integer(x),
      labels = levels(x)) else encoded_labels(x)
    coded$lines <- tabulate(coded$codes, length(coded$labels))
    coded
  })
}

encoded_labels <- function(x) {
  coded <- kernel_encode(x, thread_count())
  labels <- enc2utf8(x[coded$first])
  # One text in two encodings is one label.
  distinct <- unique(labels[!is.na(labels)])
  list(codes = match(labels, distinct)[coded$codes], labels = distinct)
}

# Each is a function of such orders and of today, and gives one finding, a list of them, or NULL. A
# new check is a function in one of the files daybook-check-*.R, listed here.
book_checks <- function() {
  list(
    find_dates, find_gaps, find_undated, find_future, find_late,
    find_drops, find_repeated, find_missing, find_variants, find_codes,
    find_text_in_numbers, find_reading, find_outliers, find_zeros, find_negatives, find_unmatched
  )
}

new_finding <- function(check, count, examples, advice, column = "", level = "problem") {
  list(check = check, column = column, level = level, count = as.integer(count),
    examples = examples, advice = advice)
}

as_findings <- function(found) {
  if (!is.null(names(found))) found <- list(found)
  lapply(Filter(Negate(is.null), found), function(finding) {
    as.data.frame(finding[c("check", "column", "level", "count", "examples", "advice")])
  })
}

# A finding for each column it holds of.
each_column <- function(book, find) {
  lapply(names(book$columns), function(name) find(book$columns[[name]], name))
}

# The columns that hold amounts: numbers that are no codes.
amount_columns <- function(book) {
  Filter(function(name) {
    x <- book$columns[[name]]
    (is.numeric(x) && !is.object(x) && !looks_like_code(x, name)) || inherits(x, "integer64")
  }, names(book$columns))
}

# Up to five rows with their values.
row_examples <- function(rows, values) {
  text <- paste0(
    if (is.numeric(values)) format_plain(values[utils::head(rows, 5L)])
    else as.character(values[utils::head(rows, 5L)]), " at row ", utils::head(rows, 5L)
  )
  paste(text, collapse = ", ")
}
