#' Orders as they were known on a day
#'
#' If the orders have the date they were entered, a report can be made as it would have looked on an
#' earlier day: with the orders entered by then, as of that day. [changes()] between it and the
#' present report shows the orders entered since then.
#'
#' @param book A daybook.
#' @param entered_on The column that holds the day each order line was entered.
#' @param day The day: a Date or ISO text.
#' @return A daybook. Lines without an entry date, and lines entered after the day, are not known
#'   yet and are counted among the lines left out. A line entered before the date of its order is
#'   known from its entry. The notes of tables say how many lines have no entry date or one before
#'   that of the order.
#' @section Errors: `drystack_error_column` for a column that is not there or holds no dates;
#'   `drystack_error_date` for anything but a day, and for a day before the first order.
#' @seealso [as_of()] goes by the date of the order; [changes()] compares two states of the orders.
#' @examples
#' orders <- harrowgill()$orders
#' orders$entered_on <- orders$ordered_on + ifelse(orders$channel == "phone", 3, 0)
#' book <- daybook(orders, date = ordered_on)
#' rollup(as_known(book, entered_on, "2026-08-31"), by = channel, lines = count())
#' @export
as_known <- function(book, entered_on, day) {
  own_setting()
  check_daybook(book)
  name <- column_word(rlang::enquo(entered_on), names(book$columns), "entered_on")
  known_on(book, name, check_day(day, "day"))
}

known_on <- function(book, name, day) {
  column <- column_node(name, book$columns[[name]])
  some <- column_kind(engine_of(book), column)
  if (!inherits(some, c("Date", "POSIXct"))) {
    raise("column", c(paste0("Column ", quoted(name), " holds no dates."),
      "x" = "It holds {type_words(some)}.",
        ">" = "Name the column of the day lines were entered on."))
  }
  tree <- call_node("<=", list(column, value_node(as_day_date(day))))
  book <- add_condition(book, tree, paste("as known on", day_words(day)))
  book$scope[[length(book$scope)]]$known <- TRUE
  book$known <- list(entered_on = name, day = format(as_day_date(day)))
  book$made$told <- c(book$made$told, odd_entries(book, name, column))
  if (book$as_of > day) book <- as_of(book, as_day_date(day))
  book
}

# Entry dates that are not there, or lie before the date of their order.
odd_entries <- function(book, name, column) {
  engine <- engine_of(book)
  count <- function(fn, args) lines_meeting(engine, new_condition(call_node(fn, args)), book)
  ordered <- column_node(book$date, book$made$columns[[book$date]])
  missing <- count("is.na", list(column))
  early <- count("<", list(column, ordered))
  c(
    if (missing > 0) count_words(missing, "order line", paste0("without a day in ", quoted(name),
      ", known on no day")),
    if (early > 0) count_words(early, "order line", "entered before the date of the order")
  )
}

# The order lines of a daybook as they were given, only those known on its day where it has one.
lines_of_book <- function(book, names = book$made$names) {
  known <- Filter(function(one) isTRUE(one$known), book$scope)
  columns <- lines_as_given(engine_of(book), book$made$columns[names], known)
  structure(columns, names = names, class = "data.frame",
    row.names = seq_len(length(columns[[1L]])))
}
