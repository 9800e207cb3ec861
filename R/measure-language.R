#' The measure language: figures over order lines
#'
#' A measure is an expression that gives one figure for each cell of a table. It is read with R's parser and
#' interpreted
#' from a closed list; nothing else is ever evaluated. The command line reads the same words.
#'
#' @section Aggregates: worked out over the order lines of the cell. The argument is any expression of columns in the
#'   [row language][row_language], such as `sum(quantity * unit_price)`.
#'
#'   - `sum(x)`: the sum, correct to the last digit of a double; of no lines it is 0.
#'   - `count()`: order lines; `count(x)`: lines where `x` is known.
#'   - `mean(x)`, `min(x)`, `max(x)`: over the lines where `x` is known; of none they are unknown (`NA`).
#'
#'   Missing amounts (`NA`, `NaN`, infinite) are left out and counted.
#'
#' @section Arithmetic: `+ - * / ^`, comparison (1 or 0), `abs`, `round(m, digits)`, `or_zero(m)`, `if_known(m, else)`,
#'   `least`,
#'   `greatest`, between measures, numbers and earlier measures by name. Division by zero or by unknown is unknown.
#'
#' @section Lenses on time: a lens turns a cell into another and works its measure out there, so the outer lens moves
#'   first: `prior(ytd(x), year)` goes a year back, then from the start of that year to the matching day.
#'
#'   - `ytd(m)`, `htd(m)`, `qtd(m)`, `mtd(m)`, `wtd(m)`; in general `so_far(m, unit)`: from the start of the year
#'     (half,
#'     quarter, month, week) that holds the cell's last day, to that day.
#'   - `prior(m, unit, n = 1, match = "position")`: the same place `n` units earlier; [prior_matching] shows each case.
#'     Without a unit it is the finest period of the table.
#'     A complete
#'     period goes to a complete period; a part-way one is cut at the matching day: the same day of the month (29
#'     February
#'     goes to the 28th, the last day of a month to the last day of the matching month).
#'
#'   Each takes a calendar of the daybook where the first is not meant: `ytd(m, civil)`, `prior(m, civil$year)`.
#'   An interval wholly before the first order is unknown, not 0.
#'
#' @name measure_language
#' @seealso [rollup()], [row_language].
#' @examples
#' yard <- harrowgill()
#' book <- daybook(yard$orders, date = ordered_on, calendars = fiscal_calendar("July"))
#' rollup(book, by = quarter,
#'   sales = sum(amount - discount),
#'   lines = count(),
#'   per_line = sales / lines,
#'   ytd = ytd(sales),
#'   growth = ytd / prior(ytd, year) - 1
#' )
NULL
