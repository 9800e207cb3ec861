#' Put a second record beside the orders
#'
#' Targets, visits, stock takes or an earlier forecast: amounts by day or by period that stand
#' beside the order lines. Measures then say which record they are of: `of(targets, sum(amount))`.
#' The second record never counts as order lines, and never moves the as-of date or how far the
#' orders go.
#'
#' @param book A daybook.
#' @param ... The record under its name, such as `targets = "targets.csv"`: a data frame, the path
#'   of a file, [orders_in()] a database, or a daybook of its own (with its own lookups,
#'   columns and conditions).
#' @param date The column with the day or the period of each line; a daybook has one already. A
#'   column of periods holds `"2026-07"`, `"Jul 2026"`, `"2026-Q3"`, a year, or labels of a calendar
#'   of the book such as `"FY2027 Q1"`.
#' @param by Which columns of the orders are which of the record, where their names differ:
#'   `c(region = "area")`. Columns of the same name are the same; columns of lookups and worked-out
#'   columns follow where the record has the columns that they come of.
#' @param per What each line stands for: a unit such as `month` or `fiscal$quarter`, or `day`. By
#'   default the periods of the column; of days that are all the first, or all the last, of a month
#'   (quarter, year), that whole period, which notes say.
#' @param spread How amounts of a period are spread where a table shows a part of it. `"none"` (the
#'   default): they are unknown there. `"days"`, `"trading days"` (of the calendar of the periods),
#'   or `"last year"`: as the orders were a year before, by `shape`. And `"equally"`, or `"last
#'   year"`, over members of columns that the record does not have: `c("trading days", "equally")`.
#'   Every part is whole cents, and together they are exactly what was given.
#' @param shape For `"last year"`: the amount of the orders whose shape is taken, such as
#'   `amount - discount`.
#' @param regardless Columns that the record does not depend on, such as `status`: conditions on
#'   them leave it as it is. Under other conditions on columns it does not have, its
#'   figures are unknown.
#' @param undated Texts in its date column that stand for no date, as in [daybook()].
#' @return A daybook with the record beside its orders.
#' @section Where a record is coarser: In a table by columns that the record does not have, or by
#'   finer periods, its figures are unknown unless `spread` says how to divide them; they are never
#'   repeated. In a period that is part-way its figure is that of the days to the as-of date, by the
#'   same rule; `whole(target)` is the figure of the whole period. Notes say both.
#' @section Errors: `drystack_error_record` for a name that is taken or missing, for periods that no
#'   calendar of the book has, and for a rule that cannot spread; `drystack_error_column` for
#'   columns that are not there; and the errors of [daybook()] for the record itself.
#' @seealso [measure_language] for `of()` and `whole()`; [daybook()]; [tie_out()], which proves sums
#'   of the record too.
#' @examples
#' yard <- harrowgill()
#' book <- daybook(yard$orders, date = ordered_on, calendars = fiscal_calendar("July")) |>
#'   alongside(targets = yard$targets, date = month, spread = "days")
#' rollup(book, by = c(depot, quarter),
#'   sales = sum(amount), target = of(targets, sum(target)), reached = sales / target
#' )
#' @export
alongside <- function(book, ..., date = NULL, by = NULL, per = NULL, spread = "none", shape = NULL,
  regardless = NULL, undated = character()) {
  own_setting()
  check_names_whole(sys.call(), "book")
  check_daybook(book)
  given <- list(...)
  name <- record_name(given, book)
  taken <- taken_record(given[[1L]], rlang::enquo(date), book, undated)
  shape <- rlang::enquo(shape)
  add_record(book, name, taken, list(by = by, per = said_quo(rlang::enquo(per)), spread = spread,
    shape = if (!rlang::quo_is_null(shape)) said_quo(shape), regardless = regardless))
}

record_name <- function(given, book) {
  name <- rlang::names2(given)
  if (length(given) != 1L || name == "") {
    raise("record", c("A record beside the orders needs a name, and is one at a time.",
      ">" = "For example {.code alongside(book, targets = \"targets.csv\", date = month)}."))
  }
  if (make.names(name) != name) raise("record",
    c(paste0(quoted(name), " cannot be the name of a record."),
    ">" = "Use letters, digits and underscores, beginning with a letter."))
  if (name %in% names(book$records)) raise("record", c(
    paste0("The daybook has a record ", quoted(name), " already."),
    ">" = "Give this one another name."))
  name
}

# A record as it was given: list(book; periods: those of its date column where that holds periods;
# path, database: where its lines are; column, columns: the names as they were given).
taken_record <- function(record, date, book, undated = character()) {
  if (inherits(record, "drystack_daybook")) {
    return(taken_daybook(record, date))
  }
  orders <- as_orders(record, rlang::as_label(date))
  check_orders(orders)
  if (rlang::quo_is_null(date)) raise("argument", c("{.arg date} must name a column.",
    "i" = paste0("Columns: ", words_of(names(orders)), ".")))
  names <- names(orders)
  column <- column_of_periods(date, names) %||% column_word(date, names, "date")
  path <- path_of_record(orders)
  read <- if (is_at_hand(orders)) record_periods(taken_orders(orders)$values(column), column,
    book$calendars)
  if (is_at_hand(orders)) orders <- named_for_record(orders, column, read)
  now <- names(orders)[match(column, names)]
  made <- daybook(orders, !!now, calendars = book$calendars, undated = undated)
  list(book = made, periods = read, path = path, database = made$made$database, columns = names,
    column = sub("^order_(?=(day|week|month|quarter|half|year)$)", "", column, perl = TRUE))
}

# Of a daybook with conditions or columns of its own no file says all.
taken_daybook <- function(record, date) {
  if (!rlang::quo_is_null(date)) raise("argument",
    c("{.arg date} is for a record that is not yet a daybook.",
    ">" = "Leave it out: the daybook has its own."))
  plain <- length(record$scope) == 0L && length(record$lookups) == 0L &&
    length(record$made$worked_out) == 0L
  list(book = record, periods = NULL, path = if (plain) record$made$path,
    database = if (plain) record$made$database)
}

is_at_hand <- function(orders) is.data.frame(orders) || is_late(orders)

path_of_record <- function(orders) {
  if (is.data.frame(orders)) attr(orders, "path")
  else if (is_late(orders)) late(orders)$path else unclass(orders)[[1L]]$path
}

# With days for periods; what is called month in a file of targets is no period that tables make
# of dates.
named_for_record <- function(orders, column, read) {
  named <- names(orders) %in% c(period_units, cyclic_parts)
  if (is.null(read) && !any(named)) {
    return(orders)
  }
  orders <- as.data.frame(orders)
  if (!is.null(read)) orders[[column]] <- as_day_date(read$starts)
  names(orders)[named] <- paste0("order_", names(orders)[named])
  orders
}

# A column called month, say, has been renamed when its file was read.
column_of_periods <- function(quo, names) {
  said <- rlang::quo_get_expr(quo)
  word <- if (is.symbol(said) || rlang::is_string(said)) as.character(said) else ""
  renamed <- paste0("order_", word)
  if (word %in% setdiff(c(period_units, cyclic_parts), names) && renamed %in% names) renamed
}

# record: name; book; by: the columns of the record by those of the orders; per: list(unit,
# calendar) of its periods, NULL by day; first, last: its days, whole periods; spread, shape,
# regardless: as said; told: how it was read; known: what columns of the orders are in it
# (daybook-alongside-columns.R), and its lines by day (plan-records-spread.R), as they are found
add_record <- function(book, name, taken, said) {
  by <- record_columns(said$by, book, taken$book)
  per <- record_per(said$per, taken, book)
  first <- taken$book$first
  last <- taken$book$last
  if (!is.null(per$unit)) {
    first <- period_start(first, per$unit, per$calendar)
    last <- period_end(last, per$unit, per$calendar)
  }
  rule <- record_spread(said$spread, per)
  if (!is.null(said$regardless)) {
    check_texts_or_none(said$regardless, "regardless")
    for (column in said$regardless) check_column(column, names(book$columns))
  }
  book$records[[name]] <- list(
    name = name, book = taken$book, by = by, per = if (!is.null(per$unit))
      per[c("unit", "calendar")],
    first = first, last = last, spread = rule, shape = record_shape(said$shape, rule, book),
    regardless = as.character(unlist(said$regardless)),
    told = paste0(name, ": ", c(told_of_reading(taken), per$told, twice_words(taken$book, per)),
      recycle0 = TRUE),
    made = list(path = taken$path, database = taken$database,
      date = taken$column %||% taken$book$date,
      per = if (!is.null(said$per$expr)) per_words(per, book), period = per_words(per, book),
      columns = taken$columns),
    known = new.env(parent = emptyenv())
  )
  book
}

# Lines for the same period and the same members are added up, and said to be.
twice_words <- function(record, per) {
  engine <- engine_of(record)
  if (is.null(per$unit) || !inherits(engine, "drystack_frame")) {
    return(NULL)
  }
  kinds <- column_facts(record)
  columns <- setdiff(kinds$name[kinds$kind == "dimension"], record$date)
  codes <- lapply(columns, function(name) {
    as.integer(members(engine, column_axis(name, record))$codes)
  })
  start <- period_start(as.integer(engine$days), per$unit, per$calendar)
  twice <- sum(duplicated(row_ids(c(list(start), unname(codes)), engine$rows)))
  if (twice > 0L) paste0(count_words(twice, "line"), " for a ", per$unit,
    " and members that have one already: they are added up")
}

check_texts_or_none <- function(x, name) {
  if (!is.character(x) || anyNA(x)) raise("argument",
    c(paste0("{.arg {name}} must be names of columns."),
    "x" = "It is {type_words(x)}."))
}

# What was told when it was put beside the orders, and of columns that were read since.
told_of_record <- function(record) {
  unique(c(record$told, paste0(record$name, ": ", told_of_columns(engine_of(record$book)),
    recycle0 = TRUE)))
}

# That a column of periods has another name here need not be told: nobody sees it.
told_of_reading <- function(taken) {
  told <- taken$book$made$told
  told[!grepl(paste("is called", quoted(taken$book$date)), told, fixed = TRUE)]
}

# Its periods, so that they can be said again.
per_words <- function(per, book) {
  if (is.null(per$unit)) {
    return("day")
  }
  name <- names(Filter(function(calendar) calendar$id == per$calendar$id, book$calendars))[1L]
  if (name == names(book$calendars)[1L]) per$unit else paste0(name, "$", per$unit)
}

# The columns of the record by those of the orders.
record_columns <- function(by, book, record) {
  if (is.null(by)) {
    return(character())
  }
  if (!is.character(by) || anyNA(by)) raise("argument", c("{.arg by} must be names of columns.",
    ">" = "For example {.code by = c(region = \"area\")}."))
  names(by) <- ifelse(rlang::names2(by) == "", by, rlang::names2(by))
  for (i in seq_along(by)) {
    check_column(names(by)[i], names(book$columns))
    check_column(by[[i]], names(record$columns))
  }
  by
}

spread_words <- c("none", "days", "trading days", "last year", "equally")

# How a record is spread: list(days, members), each NULL or a word. What the year before says is
# said of whatever has no rule of its own.
record_spread <- function(spread, per) {
  if (!is.character(spread) || length(spread) == 0L || anyNA(spread)) raise("argument",
    "{.arg spread} must be {.val {spread_words}}.")
  for (word in spread) check_choice(word, spread_words, "spread")
  days <- intersect(spread, c("days", "trading days"))
  if (length(days) > 1L || length(unique(spread)) > 2L || "none" %in% spread &&
    length(spread) > 1L) {
    raise("record", c("{.arg spread} takes one rule for days and one for members.",
      ">" = "For example {.code spread = c(\"trading days\", \"equally\")}."))
  }
  by_year <- intersect(spread, "last year")
  list(days = if (!is.null(per$unit)) one_rule(days, by_year),
    members = one_rule(intersect(spread, "equally"), by_year))
}

one_rule <- function(own, by_year) if (length(c(own, by_year)) > 0L) c(own, by_year)[1L]

record_shape <- function(shape, rule, book) {
  if (!"last year" %in% unlist(rule)) {
    return(NULL)
  }
  if (is.null(shape)) raise("record", c("To spread by last year, the shape must be said.",
    ">" = "Name the amount of the orders: {.code shape = amount}."))
  parse_row(shape$expr, book_vocabulary(book, shape$env))
}
