#' A daybook: checked order records
#'
#' `daybook()` takes order lines, the column with their date, and the calendars that divide it into
#' periods. Every table is made from a daybook. A daybook never changes: [only()], [work_out()] and
#' [as_of()] return a new one. The columns themselves are not copied.
#'
#' @param orders A data frame with one row for each order line; or the path of a file as for
#'   [read_orders()], of a folder of such files, or a pattern such as
#'   `"orders/*.parquet"`. See below.
#' @param date The date column, bare or as text. Dates, date-times (each counts on the local
#'   day of its own time zone), or text: `2026-08-31`, `20260831`, `31/08/2026`, `31-Aug-26`,
#'   `Aug 31, 2026` (a time may follow; two digits are years from 1969 to 2068); or the day
#'   numbers of spreadsheets. A column has one form: dates in another form are unknown, and
#'   reported. The column holds these days wherever it is used: in conditions, as an axis, in
#'   listings and files. Lines without a date are kept, counted and left out of figures.
#'   A few lines dated in the future, more than a year after all others, are left out and reported
#'   unless [as_of()] includes them. If the time of day has its own column, give both: `c(Date,
#'   Time)`, or the text "Date + Time".
#' @param calendars One calendar, or a named list of them; the units of the first are named plainly
#'   (`month`), those of the others by their name (`civil$month`). Default: the civil calendar.
#' @param date_order How dates are written: `"dmy"` (31/08/2026), `"mdy"` (08/31/2026), `"ymd"`
#'   (2026/08/31), `"serial"` or `"serial1904"` (days since 30 December 1899, or since 1 January
#'   1904). Default: what a value of the column settles; where none does, it is an error.
#' @param currency The column with the currency of each order line, if there is one. A table that
#'   would add up several currencies must have it as a dimension, or is refused. Default: a column
#'   named for currency that holds several currency codes; `"none"`: all amounts are
#'   in one currency.
#' @param rates A table of exchange rates, or the path of its file, with the columns `currency`,
#'   `date` (from which a rate applies) and `rate`, the
#'   value of one unit in the currency without rates. `in_currency(net, "EUR")` then converts
#'   amounts (see [row_language]). Amounts before the first rate are unknown and counted,
#'   never left unconverted.
#' @param undated Texts in the date column that stand for no date, such as
#'   `c("n/a", "tbc")`. Empty cells always do.
#' @return A `drystack_daybook`.
#' @section Orders in files: If you give a path, columns are read when they are needed.
#'   Several files with the same columns (one of a header alone has no order lines, which a note
#'   says), and files larger than a quarter of
#'   `options(drystack.memory = )` bytes (default: a quarter of the machine's memory) are read in
#'   parts: text is split between records, Parquet between row groups. Each question reads the
#'   parts a few at a time, in processes of their own, so memory holds only the columns of a few
#'   parts. Figures, notes and explanations are the same. Medians, distinct values, first and last
#'   keep the values they need. R functions cannot work out columns or conditions of such orders, as
#'   they may look at all order lines at once. Totals lines, footers and the like are left out of
#'   files read whole; in a part of a larger file they are an error.
#' @section Errors: `drystack_error_engine` for an R function over orders in parts,
#'   `drystack_error_orders` for orders that are not a data frame or have no rows,
#'   `drystack_error_column` for a date column that is not there (the nearest name is offered),
#'   for repeated names and for columns with the name of a period, `drystack_error_date`
#'   for text that is not a date or could be read in two ways, and for dates before 1900 or after
#'   2200, `drystack_error_calendar` for calendars that are not calendars or have no names, and for
#'   orders outside a strict one; later, by a table, `drystack_error_currencies` where it would add
#'   several currencies together; `drystack_error_rates` for rates that are not amounts, or that
#'   apply twice from one day.
#' @seealso [read_orders()] and [orders_in()] for where orders come from; [enrich()], [work_out()],
#'   [only()], [as_of()] and [within_dates()] to prepare and limit them; [rollup()], [crosstab()],
#'   [listing()] and [headlines()] for tables.
#' @examples
#' yard <- harrowgill()
#' daybook(yard$orders, date = ordered_on, calendars = fiscal_calendar("July"))
#' daybook(harrowgill_path("orders.csv"), date = ordered_on)
#' @export
daybook <- function(orders, date, calendars = civil_calendar(), date_order = NULL,
  undated = character(), currency = NULL, rates = NULL) {
  own_setting()
  orders <- as_orders(orders, rlang::as_label(rlang::enquo(date)))
  check_orders(orders)
  check_column_names(names(orders))
  taken <- taken_orders(orders)
  dated <- date_and_time(rlang::enquo(date), names(orders))
  date <- dated$date
  reading <- taken$reading
  date_order <- date_order %||% reading$said$date_order
  calendars <- named_calendars(calendars)
  engine <- as_engine(taken, list(name = date, order = date_order, undated = undated))
  engine$given <- taken$given
  facts <- checked_facts(engine, date)
  far <- far_dates(engine, facts$last)
  if (!is.null(far)) facts$last <- far$last
  lone <- lone_dates(engine, facts)
  check_strict(calendars, engine, facts)
  quo <- rlang::enquo(currency)
  one_currency <- is_none_said(quo, names(orders))
  currency <- if (!rlang::quo_is_null(quo) && !one_currency)
    column_word(quo, names(orders), "currency")
  ids <- source_ids(engine, taken, names(orders))
  made <- list(
    path = taken$path, date_order = date_order, undated = undated, names = names(orders),
    columns = ids, database = taken$made, reading = reading$said,
    told = c(reading$told, engine$told, told_of_columns(engine), far_words(far),
      lone_words(lone)),
      findings = reading$findings
  )
  book <- new_daybook(hold_engine(engine), ids, engine$rows, date, calendars, currency, facts, made)
  book$one_currency <- one_currency
  book <- with_time_of_day(book, dated$time)
  if (is.null(rates)) book else with_rates(book, rates)
}

# The text "none" where no column is called so.
is_none_said <- function(quo, columns) {
  said <- rlang::quo_get_expr(quo)
  said <- if (is.symbol(said)) rlang::as_string(said) else said
  identical(said, "none") && !"none" %in% columns
}

# Orders as a daybook takes them in: path and reading, where they come from a file; by name the
# values of a column, and what it means (see new_meaning()); given: the orders as they were given,
# where they are not in memory.
taken_orders <- function(orders) {
  if (are_states(orders)) {
    kept <- unclass(orders)[[1L]]
    return(structure(list(given = orders, path = kept$path,
      reading = list(said = kept$reading), kept = kept,
      meaning = function(name) list(kind = "elsewhere", name = name)),
      class = "drystack_taken_states"))
  }
  if (is_in_database(orders)) {
    return(structure(list(given = orders, path = NULL, reading = NULL, db = unclass(orders)[[1L]],
      made = unclass(orders)[[1L]]$made, meaning = function(name) {
        list(kind = "elsewhere", name = name)
      }),
        class = "drystack_taken_database"))
  }
  if (is_in_parts(orders)) {
    return(structure(list(
      given = orders, path = unclass(orders)[[1L]]$path,
      reading = list(said = unclass(orders)[[1L]]$reading), parts = unclass(orders)[[1L]]$parts,
      told = unclass(orders)[[1L]]$told, wanted = unclass(orders)[[1L]]$wanted,
      meaning = function(name) list(kind = "elsewhere", name = name)
    ), class = "drystack_taken_parts"))
  }
  structure(taken_columns_of(orders), class = "drystack_taken")
}

are_states <- function(orders) inherits(orders, "drystack_kept_states")

is_in_database <- function(orders) inherits(orders, "drystack_orders_in_database")

is_in_parts <- function(orders) inherits(orders, "drystack_orders_in_parts")

taken_columns_of <- function(orders) {
  if (is_late(orders)) {
    place <- function(name) match(name, names(orders))
    return(list(
      given = orders, path = late(orders)$path, reading = late(orders)$reading,
      values = function(name) {
        column <- late_column(orders, place(name))
        if (is_coded(column)) expanded(column) else column
      },
      meaning = function(name) list(kind = "late", orders = orders, place = place(name))
    ))
  }
  columns <- taken_columns(check_taken_columns(orders, nrow(orders), "the orders"))
  list(
    path = attr(orders, "path"), reading = attr(orders, "reading"),
    values = function(name) columns[[name]],
    meaning = function(name) list(kind = "source", values = columns[[name]])
  )
}

far_words <- function(far) {
  if (!is.null(far)) paste0(
    count_words(far$count, "order line", "dated far after the others, to "), day_words(far$far),
    ", left out unless as_of() says otherwise"
  )
}

lone_words <- function(lone) {
  if (!is.null(lone)) paste0(
    count_words(lone$count, "order line", "dated years apart from the others ("),
    examples_of(lone$days, 3L),
    "): if that stands for no date, leave it out by ", option_said("missing", lone$days[1L])
  )
}

# A daybook holds what was said, and the engine that knows the orders.
#
# columns: the ids of the columns, by name (see daybook-engine.R)
# date: the name of the date column
# scope: conditions (see new_condition()); lookups; sort_keys: columns by
#   dimension; labels: what columns are called, by name; shown and closing: rules; covered: the day
#   to which the orders are whole, if said
# made: how the daybook came about, so that it can be said again: the file, the reading of dates,
#   the columns it had (`names`, and their ids: `columns`), and those worked out
new_daybook <- function(engine, columns, rows, date, calendars, currency, facts, made) {
  structure(
    list(
      engine = engine, columns = columns, rows = rows, date = date,
      calendars = calendars, currency = currency, undated = facts$undated,
      one_currency = FALSE, first = facts$first, last = facts$last, as_of = facts$last, made = made,
        scope = list(),
      lookups = list(), sort_keys = list(), labels = list(), shown = NULL,
      closing = NULL, covered = NULL
    ),
    class = "drystack_daybook"
  )
}

# The first and last day of the orders; days outside the calendars are an error.
checked_facts <- function(engine, date) {
  facts <- orders_facts(engine, list())
  if (is.na(facts$first)) {
    raise("date", c(
      paste0("No order line has a date: column ", quoted(date), " is empty."),
      ">" = "Name the column that holds the dates: {.arg date}."
    ))
  }
  if (facts$first < first_known_day || facts$last > last_known_day)
    check_years(as.numeric(line_days(engine)), date)
  facts
}

check_daybook <- function(book) {
  rlang::try_fetch(book, error = unless_ours(function(e) {
    raise("argument", c(
      "{.arg book} cannot be worked out.", "x" = braces_kept(conditionMessage(e)),
      ">" = paste0("If {.code book} was meant as the name of a measure or a column, give that ",
        "another name.")
    ))
  }))
  if (!inherits(book, "drystack_daybook")) {
    raise("argument", c(
      "{.arg book} must be a daybook.",
      "x" = "It is {type_words(book)}.",
      ">" = "Make one with {.code daybook(orders, date = ...)}."
    ))
  }
  invisible(book)
}

check_orders <- function(orders) {
  if (is_in_parts(orders) || is_in_database(orders) || are_states(orders)) {
    return(invisible(orders))
  }
  if (!is.data.frame(orders) && !is_late(orders)) {
    raise("orders", c("{.arg orders} must be a data frame.", "x" = "It is {type_words(orders)}."))
  }
  if (nrow(orders) == 0L) {
    raise(
      "orders", c("There are no orders: {.arg orders} has no rows.",
        ">" = "Check the export or the filter before it.")
    )
  }
  invisible(orders)
}

# Period words mean periods everywhere, so no column may carry one.
check_column_names <- function(names) {
  repeated <- unique(names[duplicated(names)])
  if (length(repeated) > 0L) {
    raise("column", c(
      "Column names must differ.",
      "x" = paste0("{examples_of(repeated)} {if (length(repeated) == 1) 'appears' else 'appear'} ",
        "more than once.")
    ))
  }
  odd <- names[is.na(names) | names == "" | names %in% names_of_tables]
  if (length(odd) > 0L) {
    raise("column", c(
      "A column needs a name of its own.", "x" = "These cannot be used: {examples_of(odd)}.",
      ">" = "Rename them before; {.val {names_of_tables}} are columns that tables have themselves."
    ))
  }
  taken <- intersect(names, c(period_units, cyclic_parts))
  if (length(taken) > 0L) {
    raise("column", c(
      "A column may not carry the name of a period.",
      "x" = "These do: {examples_of(taken)}.",
      ">" = paste(
        "Rename it before, for example to {.val {paste0('order_', taken[1])}}:",
        "periods are made from the date column."
      )
    ))
  }
  invisible(names)
}

# A column said as a bare word, as text, or held in a variable of the caller.
column_word <- function(quo, columns, name) {
  said <- said_quo(quo)
  if (rlang::quo_is_missing(quo)) {
    raise("argument", c("{.arg {name}} must name a column.",
      "i" = paste0("Columns: ", words_of(columns), ".")))
  }
  if (rlang::is_symbol(said$expr)) {
    word <- rlang::as_string(said$expr)
    if (!word %in% columns) word <- get0(word, envir = said$env, mode = "character") %||% word
  } else {
    word <- rlang::eval_tidy(quo)
  }
  check_text(word, name)
  check_column(word, columns)
  word
}

# Orders outside a strict calendar are an error that names them.
check_strict <- function(calendars, engine, facts) {
  for (calendar in calendars) {
    if (!has_edges(calendar) || !calendar$spec$strict) next
    range <- calendar_range(calendar)
    if (facts$first >= range[1L] && facts$last <= range[2L]) next
    days <- line_days(engine)
    rows <- which(!is.na(days) & (days < range[1L] | days > range[2L]))
    raise("calendar", c(
      "{length(rows)} order line{?s} {?lies/lie} outside the {calendar$words$long}.",
      "x" = "See {rows_of(rows)}: {examples_of(format(as_day_date(unclass(days[rows]))))}.",
      ">" = "Extend the calendar's table, or make it with {.code strict = FALSE}."
    ))
  }
}

named_calendars <- function(calendars) {
  if (is_calendar(calendars)) {
    return(stats::setNames(list(calendars), calendars$kind))
  }
  ok <- is.list(calendars) && length(calendars) > 0L &&
    all(vapply(calendars, is_calendar, logical(1L)))
  if (!ok) {
    raise("calendar", c(
      "{.arg calendars} must be a calendar or a named list of calendars.",
      ">" = paste0("For example {.code list(fiscal = fiscal_calendar(\"July\"), civil = ",
        "civil_calendar())}.")
    ))
  }
  names <- names(calendars)
  if (is.null(names) || any(names == "") || anyDuplicated(names) > 0L) {
    raise("calendar", c(
      "Each calendar needs its own name, which its units are called by.",
      ">" = paste0("For example {.code list(fiscal = fiscal_calendar(\"July\"), civil = ",
        "civil_calendar())}.")
    ))
  }
  calendars
}
