#' How figures look
#'
#' Formats belong to a [measure()] and travel with it to every output; files of data such
#' as CSV hold the raw numbers, and xlsx real number formats on real numbers. Figures are rounded
#' half away from zero on their decimal digits (0.5 is 1, -2.5 is -3, 1.005 is 1.01), as workbooks
#' do and as IEEE 754-2019 (section 4.3.1) defines under roundTiesToAway.
#'
#' @param digits How many decimals; for `decimal()`, `NULL` lets the figures decide.
#' @param symbol The sign of the currency, set before the number.
#' @param negative How a number below zero looks: `"minus"`, or `"brackets"` round it.
#' @param sign `TRUE`: a number above zero has a plus, as changes have.
#' @param unknown,zero What stands for an unknown figure, and for zero;
#'   `zero = NULL` for the number itself.
#' @param thousands,decimal The marks of the locale: `"."` and `","` for German, say.
#' @return A `drystack_format`. `compact()` gives short figures (12.4k, 3.1M, 2.0bn), `plain()`
#'   all digits without marks.
#' @section Errors: `drystack_error_argument` for digits that are no whole number from 0 to 10, for
#'   a symbol or mark that is no text, and for the same mark twice.
#' @seealso [measure()] takes a format.
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on)
#' rollup(book, by = year,
#'   sales = measure(sum(amount), format = money("\u00a3", digits = 0)),
#'   change = measure(change(sales, year), format = compact(sign = TRUE)),
#'   growth = measure(growth(sales, year), format = percentage(negative = "brackets"))
#' )
#' @export
decimal <- function(digits = NULL, negative = "minus", sign = FALSE, unknown = unknown_face,
  zero = NULL, thousands = ",", decimal = ".") {
  new_format("decimal", digits, "", negative, sign, unknown, zero, thousands, decimal)
}

#' @rdname decimal
#' @export
percentage <- function(digits = 1, negative = "minus", sign = FALSE, unknown = unknown_face,
  zero = NULL, thousands = ",", decimal = ".") {
  new_format("percentage", digits, "", negative, sign, unknown, zero, thousands, decimal)
}

#' @rdname decimal
#' @export
money <- function(symbol = "\u00a3", digits = 2, negative = "minus", sign = FALSE,
  unknown = unknown_face, zero = NULL, thousands = ",", decimal = ".") {
  new_format("money", digits, symbol, negative, sign, unknown, zero, thousands, decimal)
}

#' @rdname decimal
#' @export
compact <- function(digits = 1, symbol = "", negative = "minus", sign = FALSE,
  unknown = unknown_face, zero = NULL, decimal = ".") {
  new_format("compact", digits, symbol, negative, sign, unknown, zero, "", decimal)
}

#' @rdname decimal
#' @export
plain <- function(unknown = unknown_face, decimal = ".") {
  new_format("plain", NULL, "", "minus", FALSE, unknown, NULL, "", decimal)
}

# What stands for an unknown figure.
unknown_face <- "\u2013"

new_format <- function(kind, digits, symbol, negative, sign, unknown, zero, thousands, decimal) {
  if (!is.null(digits) || !kind %in% c("decimal", "plain"))
    digits <- check_whole(digits, "digits", 0L, 10L)
  check_text(symbol, "symbol")
  check_choice(negative, c("minus", "brackets"), "negative")
  check_flag(sign, "sign")
  check_text(unknown, "unknown")
  check_text(zero, "zero", optional = TRUE)
  check_text(thousands, "thousands")
  check_text(decimal, "decimal")
  if (thousands == decimal) raise("argument",
    "{.arg thousands} and {.arg decimal} must be different marks.")
  structure(
    list(
      kind = kind, digits = digits, symbol = symbol, negative = negative,
      sign = sign, unknown = unknown, zero = zero, thousands = thousands, decimal = decimal
    ),
    class = "drystack_format"
  )
}
