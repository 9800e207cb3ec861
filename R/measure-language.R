#' The measure language: figures over order lines
#'
#' A measure is an expression that gives one figure for each cell of a table. R's parser reads it,
#' and only the words below are understood: nothing else is ever evaluated. The command line and
#' reports use the same words, except `custom()`, which is for R only.
#'
#' @section Aggregates: worked out over the order lines of the cell. The argument is any expression
#'   of columns in the [row language][row_language], such as `sum(quantity * unit_price)`. Missing
#'   amounts (`NA`, `NaN`, infinite) are left out, and a note counts them.
#'
#'   | word | figure | example |
#'   |---|---|---|
#'   | `sum(x)` | the sum, correct to the last digit; 0 without lines | `sum(amount - discount)` |
#'   | `count()`, `count(x)` | order lines; lines where `x` is known | `count(customer_id)` |
#'   | `distinct(x)` | different known values | `distinct(customer_id)` |
#'   | `mean(x)`, `median(x)` | of the lines where `x` is known; unknown without any | `mean(amount)` |
#'   | `quantile(x, p)` | type 7, as R's default (Hyndman and Fan 1996) | `quantile(amount, 0.9)` |
#'   | `weighted_mean(x, w)` | over the lines where both are known | `weighted_mean(price, quantity)` |
#'   | `min(x)`, `max(x)` | of numbers or dates | `max(ordered_on)` |
#'   | `sd(x)`, `var(x)` | of a sample; unknown for one value | `sd(amount)` |
#'   | `first(x)`, `last(x)` | by date, then input order | `last(product_id)` |
#'   | `median(gaps(x))` | days between one date and the next | `mean(gaps(ordered_on))` |
#'   | `most_common(x)` | the most frequent value; of several the smallest | `most_common(depot)` |
#'   | `custom(fn, x, ...)` | any R function that gives one number | `custom(IQR, amount)` |
#'
#' @section Arithmetic: `+ - * / ^`, comparison and `& | !` (1 or 0), `abs`, `round(m, digits)`,
#'   `or_zero(m)`, `if_known(m, else)`, `least`, `greatest`, between measures, numbers and earlier
#'   measures by name. Division by zero or by unknown is unknown. `as_of` is the as-of date and
#'   `as.Date("2026-07-01")` a day: `as_of - max(ordered_on)` are days, `max(ordered_on) + 30`
#'   is a day.
#'
#' @section Lenses on time: a lens moves the cell and works out its measure there. The outer lens
#'   moves first: `prior(ytd(x), year)` goes back a year, then covers that year from its start to
#'   the matching day.
#'
#'   | word | looks at | example |
#'   |---|---|---|
#'   | `ytd htd qtd mtd wtd` | from the start of the unit to the cell's last day | `ytd(sales)` |
#'   | `so_far(m, unit)` | the same for any unit | `so_far(sales, quarter)` |
#'   | `current(m, unit)` | the period of the cell's last day, to the as-of date | `current(sales, quarter)` |
#'   | `whole(m, unit)` | its whole period, of a [record][alongside] to its end | `whole(target, year)` |
#'   | `prior(m, unit, n = 1, match)` | `n` units earlier, see [prior_matching] | `prior(sales, year)` |
#'   | `running(m, restart, from)` | from the first day shown to the cell | `running(sales)` |
#'   | `moving(m, n, unit, using)` | the last `n` periods together, or their mean | `moving(sales, 3)` |
#'   | `change(m, unit)`, `growth(m, unit)` | less the prior figure; relative to it | `growth(sales, year)` |
#'   | `index(m, base)` | a period of the table as 100 | `index(sales, "2025-01")` |
#'
#'   Without a unit, `prior`, `moving`, `whole` and `current` take the finest period of the table.
#'   `running(m, from = "end")` goes from the cell to the last day shown, `from = "record"` from the
#'   first order, whatever dates are shown, and `restart = year` starts
#'   again each year. `moving(m, n, using = mean)` combines the figures of the periods,
#'   not their orders. With `trading = TRUE`, `prior(m, day)` and `moving(m, 5, day)` count the
#'   [trading days][trading] of the calendar; the window includes orders on closed days in between.
#'   With `sold = TRUE` they count days with orders: the last day before this one on which
#'   something was sold. To use another calendar of the daybook than the first, name it: `ytd(m,
#'   civil)`, `prior(m, civil$year)`. A window of `moving` whose first period ends before the first
#'   order is unknown, unless `partial = TRUE`. Growth on a base that is zero or negative is
#'   unknown. An interval wholly before the first order is unknown, not 0.
#'
#'   `days_left(unit)` counts the days from the cell's last day to the end of the period that holds
#'   it; `days_left(month, trading = TRUE)` the trading days.
#'
#' @section Outlook: `outlook(m, unit, by = "days")` is where a sum or count will be at the end of
#'   the period: what is known to the cell's last day times the days of the period over those known;
#'   with `by = "trading days"` [trading days][trading] alone count, with `by = "last year"` the
#'   period of a year before over its part to the matching day. A complete period is as it is. An
#'   estimate is marked in tables, by a column `.estimated` in data and files, and lighter in
#'   figures; [tie_out()] never proves it. A note says how far the same rule was off at the same day
#'   of the last twelve periods. `prior(outlook(m, month), month)` is what it was on that day
#'   a month before.
#'
#' @section Bridges: `bridge(m, quantity, over = product_id, to = year)` stands for several
#'   measures side by side: the figure before, what lies between, and the figure now. Of the members
#'   of the column that have lines on both sides, `price` is what they fetch now less what the same
#'   quantities fetched before; `volume` is their quantity more or less at the mean price of before
#'   of all of them; `mix` is the rest, that quantities have gone to dearer or cheaper members. `new`
#'   and `gone` are members of one side alone. (Quantities at base prices, after Laspeyres.) The
#'   parts are whole cents and close in every row, totals included, which [tie_out()] checks. Without
#'   a quantity there is one part, `change`. `units = unit` counts volumes within each unit of
#'   quantity; without it a note names the units. `from = of(plan, sum(value)), from_quantity =
#'   of(plan, sum(units))` bridges from a target to the actual figure. `effect(m, quantity, over, to,
#'   part = "price")` is one of the parts. Named, as in `move = bridge(...)`, the measures are
#'   `move_before`, `move_volume` and so on.
#'
#' @section Records beside the orders: `of(targets, m)` is a measure of a record that [alongside()]
#'   has put beside the orders, over the record's own columns: `of(targets, sum(amount))`. Lenses,
#'   ranks, shares and totals work on it as on any other, and arithmetic combines both: `sales /
#'   of(targets, sum(amount))`. Axes and calendars are those of the table; `each()` over a column
#'   stands inside `of()`.
#'
#' @section Lenses on scope: these change which orders a measure sees.
#'
#'   | word | looks at | example |
#'   |---|---|---|
#'   | `only(m, condition)` | only orders that also meet a condition | `only(sales, !paid)` |
#'   | `regardless(m, ...)` | as if without some conditions, `dates` or `all` | `regardless(sales, region)` |
#'   | `on(m, column)` | periods read off another date | `on(sales, shipped_on)` |
#'
#'   | `open_at(m, from, until, older)` | open at the cell's last day | `open_at(sales, on, paid_on)` |
#'   | `alike(m, column, unit, n, from, until)` | members there now and before | `alike(sales, depot, year)` |
#'
#'   `open_at()` counts an order line from one date until another, whatever dates are shown. Without
#'   an end date a line is still open; `older = 30` counts those that began at least 30 days before.
#'   It is a balance: a total over periods is what is open on the last day. `alike()` compares like
#'   for like: only members present on both sides, and a note says how many were left out on each
#'   side, and with what amount. A member is present if it has orders or, with `from = opened_on`
#'   and `until = closed_on`, if it was open on all days of both sides; `members = "seen"` of a
#'   table also shows members that have gone.
#'
#' @section Lenses on the table: how a row compares with others.
#'
#'   | word | figure | example |
#'   |---|---|---|
#'   | `overall(m, using = mean)` | the figures of the rows, combined | `overall(sales, using = mean)` |
#'   | `overall(m, within)` | the whole, or rows alike in `within` | `overall(sales, within = month)` |
#'   | `share(m, of)` | part of `"total"`, `"parent"`, `"row"`, `"column"` | `share(sales, of = "row")` |
#'   | `share(m, within)` | its part of all rows alike in these | `share(sales, within = month)` |
#'   | `rank(m, within, from)` | 1 for the largest; ties share a rank | `rank(sales, within = year)` |
#'   | `running(m, along, within)` | over members in the order shown | `running(sales, along = region)` |
#'   | `occurrences(unit)` | how many such days or periods there were | `sales / occurrences()` |
#'
#'   In a table by [cyclic parts][cyclic_part], `occurrences()` counts the Mondays or Octobers of a
#'   row that the orders reach; elsewhere it counts periods of the table, or of a unit. Ties take
#'   the smaller rank, `from = "smallest"` ranks from the other end, and subtotals and totals have
#'   no rank. If periods are kept by a figure, ranks count the periods shown.
#'
#' @section Finer figures first: `each(grain, m)` stands inside `mean`, `sum`, `min`, `max`,
#'   `median`, `quantile`, `sd`, `var`, `count` or `longest` and gives a figure for each day (or
#'   other period) or for each value of a column: `mean(each(day, sum(net)))` is average daily
#'   sales, `mean(each(order_id, sum(net)))` the average order. The values of a column are those
#'   that an aggregate inside sees after its lenses; `overall()` inside widens the axes of the
#'   table, not the value. Days without orders are left out unless you say `days = "all"` (from the
#'   first order on) or `"trading"` (the calendar's [trading days][trading]).
#'
#' @name measure_language
#' @aliases sum count distinct mean median quantile weighted_mean min max sd var first last
#'   most_common custom ytd htd qtd mtd wtd so_far current prior running moving change growth index
#'   regardless on overall share rank occurrences each gaps open_at alike longest or_zero if_known
#'   least greatest as_amount
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
