#' Look at what orders hold
#'
#' The first look at an export: its columns, what each holds, and what each could be: the date, an
#' amount, a dimension, a code.
#'
#' @param orders A data frame, the path of a file as for [read_orders()] (of a folder or a pattern
#'   the first file with order lines is looked at), or [orders_in()] a database (of very many its
#'   first lines).
#' @param ... For a path: how it is read, as in [read_orders()].
#' @return A `drystack_look` that prints as text with a first command to run, and is a data frame
#'   with a row for each column: `column`, `holds` (the kind of its values), `known` and `different`
#'   (counts), `from` and `to` (least and greatest, `""` for texts), `commonest` (labels of texts
#'   that most lines have), `could_be` (`date`, `amount`, `dimension`, `code`,
#'   `condition` or nothing).
#' @section Errors: Those of [read_orders()]; `drystack_error_orders` for something that is
#'   neither a file nor a data frame.
#' @seealso [read_orders()] takes what it finds; [check()] looks at a daybook.
#' @examples
#' look_at(harrowgill_path("orders.csv"))
#' @export
look_at <- function(orders, ...) {
  own_setting()
  if (!is.character(orders)) {
    check_orders(orders)
    if (!is_in_database(orders)) {
      return(looked(orders))
    }
    first <- first_orders_of(orders)
    return(looked(first, attr(first, "path")))
  }
  check_text(orders, "orders")
  looked_orders(orders, checked_reading(...))
}

# Of several files the first with order lines is looked at.
looked_orders <- function(path, reading) {
  files <- if (path == "-") path else files_meant(path)
  if (path != "-") check_said_of_files(files, reading)
  open <- function(file) orders_in_file(file, reading)
  for (i in seq_along(files)) {
    is_last <- i == length(files)
    orders <- if (is_last) open(files[i]) else unless_header_alone(open(files[i]), files[i])
    if (!inherits(orders, "drystack_header_alone")) break
  }
  looked(orders, path, c(files[i], files[-i]))
}

looked <- function(orders, path = NULL, files = path) {
  looked <- Map(looked_column, orders, names(orders))
  column <- function(part, type) unname(vapply(looked, `[[`, type, part))
  could_be <- column("could_be", "")
  # Periods and numbers of days or seconds are dates where there are no others.
  if (!any(could_be == "date")) could_be[vapply(looked, `[[`, NA, "days_otherwise")] <- "date"
  structure(
    list(
      column = names(orders), holds = column("holds", ""), known = column("known", 1L),
      different = column("different", 1L), from = column("from", ""),
      to = column("to", ""), commonest = column("commonest", ""), could_be = could_be
    ),
    class = c("drystack_look", "data.frame"), row.names = seq_along(orders), rows = nrow(orders),
    path = path, files = files, reading = attr(orders, "reading")
  )
}

looked_column <- function(x, name) {
  known <- x[!is.na(x)]
  different <- if (is.atomic(x)) length(unique(known)) else NA_integer_
  range <- looked_range(known)
  list(
    holds = kind_words(x), known = length(known), different = different, from = range[1L],
    to = range[2L],
    commonest = if (is.character(known) || is.factor(known)) commonest_labels(known) else "",
    could_be = could_be(x, name, known, different), days_otherwise = are_days_otherwise(known)
  )
}

are_days_otherwise <- function(known) {
  are_periods(known) || (is.numeric(known) && (!is.null(epoch_seconds(known)) ||
    are_sheet_days(known)))
}

are_periods <- function(known) {
  texts <- if (is.numeric(known) && are_month_digits(known)) as.character(unique(known))
    else if (is.character(known) || is.factor(known)) utils::head(unique(as.character(known)), 200L)
  length(texts) > 0L && mean(!is.na(period_days(kernel_trimmed(texts)))) > 0.9
}

commonest_labels <- function(known) {
  counts <- sort(table(as.character(known)), decreasing = TRUE)
  if (length(counts) == 0L || counts[1L] == 1L) "" else paste(
    shown_text(names(utils::head(counts, 2L))),
    collapse = ", ")
}

kind_words <- function(x) {
  if (inherits(x, "Date")) "dates"
  else if (inherits(x, "POSIXct")) "date-times"
  else if (is.logical(x)) if (all(is.na(x))) "nothing" else "yes or no"
  else if (is.character(x) || is.factor(x)) "text"
  else if (is.integer(x) || inherits(x, "integer64")) "whole numbers"
  else if (is.numeric(x)) "numbers"
  else class(x)[1L]
}

looked_range <- function(known) {
  if (length(known) == 0L || !is.atomic(known)) {
    return(c("", ""))
  }
  if (is.numeric(known) && !is.object(known)) {
    return(format_plain(range(known)))
  }
  if (inherits(known, c("Date", "POSIXct", "integer64"))) {
    return(format(range(known)))
  }
  c("", "")
}

# What a column is likely to be; `order lines` decide, not names alone.
could_be <- function(x, name, known, different) {
  if (length(known) == 0L || is.na(different)) {
    return("")
  }
  if (inherits(known, c("Date", "POSIXct"))) {
    return("date")
  }
  if (is.logical(known)) {
    return("condition")
  }
  if (is.numeric(known)) numbers_could_be(x, name, known) else texts_could_be(known, different)
}

numbers_could_be <- function(x, name, known) {
  in_days <- !is.null(epoch_seconds(known)) || are_sheet_days(known)
  is_date <- are_digit_dates(known) || (in_days && grepl(time_names, name, ignore.case = TRUE))
  if (is_date) "date"
  else if (looks_like_code(x, name) || is_counter(known, name)) "code"
  else "amount"
}

texts_could_be <- function(known, different) {
  some <- utils::head(unique(as.character(known)), 1000L)
  if (looks_like_dates(known)) "date"
  else if (!is.null(column_amounts(some, list())$unsettled)) "amount"
  else if (different <= max(50, 0.02 * length(known))) "dimension"
  else "code"
}

time_names <- "date|time|_at$|_on$|created|ordered|stamp|epoch|datum|fecha|data|zeit"

fewest_counted <- 5L

# Numbers that go up by one from line to line, or are called so.
is_counter <- function(known, name) {
  whole <- length(known) > 1L && all(known == floor(known))
  counted <- length(known) >= fewest_counted && all(diff(utils::head(known, 1000L)) == 1)
  whole && (counted || grepl(counter_words, name, ignore.case = TRUE))
}

looks_like_dates <- function(x) {
  some <- kernel_trimmed(utils::head(unique(as.character(x)), 200L))
  mean(grepl(ordered_form, some) | !is.na(days_in_form(some, "dmy"))) > 0.9
}
