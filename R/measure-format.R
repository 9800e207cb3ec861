#' How figures look
#'
#' Formats belong to a [measure()] and travel with it to every output; files such as CSV hold the raw numbers.
#'
#' @param digits How many decimals; for `number()`, `NULL` lets the figures decide.
#' @param symbol The sign of the currency, set before the number.
#' @return A `drystack_format`.
#' @section Errors: `drystack_error_argument` for digits that are no whole number from 0 to 10 or a symbol that is no
#'   text.
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on)
#' rollup(book, by = year,
#'   sales = measure(sum(amount), format = money("\u00a3", digits = 0)),
#'   growth = measure(growth(sales, year), format = percent())
#' )
#' @export
number <- function(digits = NULL) {
  if (!is.null(digits)) digits <- check_whole(digits, "digits", 0L, 10L)
  new_format("number", digits)
}

#' @rdname number
#' @export
percent <- function(digits = 1) new_format("percent", check_whole(digits, "digits", 0L, 10L))

#' @rdname number
#' @export
money <- function(symbol = "\u00a3", digits = 2) {
  new_format("money", check_whole(digits, "digits", 0L, 10L), check_text(symbol, "symbol"))
}

new_format <- function(kind, digits, symbol = "") {
  structure(list(kind = kind, digits = digits, symbol = symbol), class = "drystack_format")
}

# A format as it is said; where R values may not be looked for, only the constructors with constants.
format_said <- function(said, words) {
  if (is.null(said)) {
    return(NULL)
  }
  makers <- list(number = number, percent = percent, money = money)
  fn <- if (rlang::is_call(said)) call_word(said) else ""
  constants <- all(vapply(as.list(said)[-1L], function(x) is.atomic(x), logical(1L)))
  value <- if (fn %in% names(makers) && constants) {
    do.call(makers[[fn]], as.list(said)[-1L])
  } else if (!is.null(words$env)) {
    eval(said, words$env)
  }
  if (!inherits(value, "drystack_format")) {
    raise("argument", c(
      "{.arg format} is {.code number()}, {.code percent()} or {.code money(\"\u00a3\")}.",
      "x" = paste0("It is ", quoted(rlang::as_label(said)), ".")
    ))
  }
  value
}
