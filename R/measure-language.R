#' The measure language: figures over order lines
#'
#' A measure is an expression that gives one figure for each cell of a table. It is read with R's
#' parser and interpreted from a closed list; nothing else is ever evaluated. The command line reads
#' the same words (but `custom()`, which is for R only).
#'
#' @section Aggregates: worked out over the order lines of the cell. The argument is any expression
#'   of columns in the [row language][row_language], such as `sum(quantity * unit_price)`. Missing
#'   amounts (`NA`, `NaN`, infinite) are left out and counted in a note.
#'
#'   | word | figure | example |
#'   |---|---|---|
#'   | `sum(x)` | the sum, correct to the last digit; of no lines 0 | `sum(amount - discount)` |
#'   | `count()`, `count(x)` | order lines; lines where `x` is known | `count(customer_id)` |
#'   | `distinct(x)` | different known values | `distinct(customer_id)` |
#'   | `mean(x)`, `median(x)` | over the lines where `x` is known; of none unknown | `mean(amount)` |
#'   | `quantile(x, p)` | type 7, as R's default (Hyndman and Fan 1996) | `quantile(amount, 0.9)` |
#'   | `weighted_mean(x, w)` | over the lines where both are known | `weighted_mean(price, quantity)` |
#'   | `min(x)`, `max(x)` | of numbers or dates | `max(ordered_on)` |
#'   | `sd(x)`, `var(x)` | of a sample; of one value unknown | `sd(amount)` |
#'   | `first(x)`, `last(x)` | by date, then input order | `last(product_id)` |
#'   | `median(gaps(x))` | days between the dates that follow each other | `mean(gaps(ordered_on))` |
#'   | `most_common(x)` | of several the smallest | `most_common(depot)` |
#'   | `custom(fn, x, ...)` | any R function that gives one number | `custom(IQR, amount)` |
#'
#' @section Arithmetic: `+ - * / ^`, comparison and `& | !` (1 or 0), `abs`, `round(m, digits)`, `or_zero(m)`,
#'   `if_known(m, else)`, `least`, `greatest`, between measures, numbers and earlier measures by
#'   name. Division by zero or by unknown is unknown. `as_of` is the as-of date and
#'   `as.Date("2026-07-01")` a day: `as_of - max(ordered_on)` are days, `max(ordered_on) + 30` is a day.
#'
#' @section Lenses on time: a lens turns a cell into another and works its measure out there, so
#'   the outer lens moves first: `prior(ytd(x), year)` goes a year back, then from the start of that
#'   year to the matching day.
#'
#'   | word | looks at | example |
#'   |---|---|---|
#'   | `ytd htd qtd mtd wtd` | from the start of the unit to the cell's last day | `ytd(sales)` |
#'   | `so_far(m, unit)` | the same for any unit | `so_far(sales, quarter)` |
#'   | `current(m, unit)` | the period of the cell's last day, to the as-of date | `current(sales, quarter)` |
#'   | `prior(m, unit, n = 1, match)` | `n` units earlier, see [prior_matching] | `prior(sales, year)` |
#'   | `running(m, restart, from)` | from the first day shown, or to the last | `running(sales)` |
#'   | `moving(m, n, unit, using)` | the last `n` periods together, or their mean | `moving(sales, 3)` |
#'   | `change(m, unit)`, `growth(m, unit)` | less the prior figure; relative to it | `growth(sales, year)` |
#'   | `index(m, base)` | a period of the table as 100 | `index(sales, "2025-01")` |
#'
#'   Without a unit, `prior`, `moving` and `current` take the finest period of the table.
#'   `running(m, from = "end")` goes from the cell to the last day shown, `from = "record"` from the first
#'   order on, whatever dates are shown, `restart = year` begins
#'   anew with each year; `moving(m, n, using = mean)` combines the figures of the periods,
#'   not their orders. With `trading = TRUE`, `prior(m, day)` and `moving(m, 5, day)` go by
#'   the [trading days][trading] of the calendar; orders of closed days between are in the
#'   window. With `sold = TRUE` they go by the days with orders: the last day before this one on which
#'   something was sold. Each takes a calendar of the daybook where the first is not meant: `ytd(m, civil)`,
#'   `prior(m, civil$year)`. A window of `moving` whose first period ends before the first order
#'   is unknown, unless `partial = TRUE`. Growth on a base that is zero or negative is unknown. An
#'   interval wholly before the first order is unknown, not 0.
#'
#' @section Lenses on scope: which orders are looked at.
#'
#'   | word | looks at | example |
#'   |---|---|---|
#'   | `only(m, condition)` | the orders that meet a condition too | `only(sales, !paid)` |
#'   | `regardless(m, ...)` | without some conditions, `dates` or `all` | `regardless(sales, region)` |
#'   | `on(m, column)` | periods read off another date | `on(sales, shipped_on)` |
#'
#'   | `open_at(m, from, until, older)` | open at the cell's last day | `open_at(sales, on, paid_on)` |
#'   | `alike(m, column, unit, n, from, until)` | members there now and before | `alike(sales, depot, year)` |
#'
#'   `open_at()` counts order lines from one date on until another, whatever dates are shown: without an end a
#'   line is open still; `older = 30` those that began at least so many days before. It is no flow: a total
#'   over periods is what is open at the last day. `alike()` is like for like: a note tells how many members
#'   stand outside on each side, and with how much. Members are there by their orders, or, with
#'   `from = opened_on` and `until = closed_on`, where they were open on all days of both sides;
#'   `members = "seen"` of a table makes rows of those that are gone.
#'
#' @section Lenses on the table: how a row stands to others.
#'
#'   | word | figure | example |
#'   |---|---|---|
#'   | `overall(m, using = mean)` | the figures of the rows, combined | `overall(sales, using = mean)` |
#'   | `overall(m, within)` | its own values released, but for `within` | `overall(sales, within = month)` |
#'   | `share(m, of)` | part of the `"total"`, `"parent"`, `"row"`, `"column"` | `share(sales, of = "row")` |
#'   | `share(m, within)` | part of what shares these values | `share(sales, within = month)` |
#'   | `rank(m, within, from)` | 1 for the largest; equal figures share one | `rank(sales, within = year)` |
#'   | `running(m, along, within)` | over members in the order shown | `running(sales, along = region)` |
#'   | `occurrences(unit)` | how often the row's part of time came round | `sales / occurrences()` |
#'
#'   `occurrences()` counts the Mondays or Octobers of a row that the orders reach, as a table by
#'   [cyclic parts][cyclic_part] needs it; elsewhere the periods of the table, or those of a unit.
#'   Of equal figures all have the smaller rank, and `from = "smallest"` ranks from the other end;
#'   subtotals and totals have none. Of periods that are kept by a figure ranks count those shown.
#'
#' @section Finer figures first: `each(grain, m)` stands inside `mean`, `sum`, `min`, `max`,
#'   `median`, `quantile`, `sd`, `var`, `count` or `longest` and gives a figure for each day (or other
#'   period) or for each value of a column: `mean(each(day, sum(net)))` is the average
#'   of daily totals, `mean(each(order_id, sum(net)))` the average order. The values of a column are
#'   those that some aggregate inside sees, where its lenses look; `overall()` inside releases axes of
#'   the table, not the value. Days without
#'   orders are left out unless `days = "all"` (from the first order on) or `"trading"`
#'   (the calendar's [trading days][trading]).
#'
#' @name measure_language
#' @aliases sum count distinct mean median quantile weighted_mean min max sd var first last
#'   most_common custom ytd htd qtd mtd wtd so_far current prior running moving change growth index
#'   regardless on overall share rank occurrences each gaps open_at alike longest or_zero if_known least
#'   greatest as_amount
#' @references Hyndman, R. J. and Fan, Y. (1996) Sample quantiles in statistical packages. American
#'   Statistician 50, 361-365.
#' @seealso [rollup()], [measure()] for labels, formats and
#'   totals, [row_language], [explain_plan()].
#' @examples
#' yard <- harrowgill()
#' book <- daybook(yard$orders, date = ordered_on, calendars = fiscal_calendar("July")) |>
#'   work_out(net = amount - discount) |>
#'   only(status != "cancelled")
#' rollup(book, by = quarter,
#'   sales = sum(net), buyers = distinct(customer_id), per_order = mean(each(order_id, sales)),
#'   ytd = ytd(sales), growth = growth(ytd, year)
#' )
#' rollup(book, by = region,
#'   sales = sum(net), share = share(sales), rank = rank(sales),
#'   unpaid = only(sales, !paid), best_day = max(each(day, sales))
#' )
NULL
