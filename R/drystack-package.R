#' drystack: period totals and comparisons for sales orders
#'
#' Begin with [daybook()] and [rollup()]; `drystack --help` in a terminal does the same from a file.
#'
#' | I want to | in R | in a terminal or a report |
#' |---|---|---|
#' | see what a file holds | [look_at()], [check()] | `drystack look`, `drystack check` |
#' | read an export, a folder, a database | [read_orders()], [orders_in()] | `--orders`; `orders:` |
#' | add columns of customers or products | [enrich()] | `--lookup`; `lookups:` |
#' | work out a column, such as net | [work_out()] | `--work-out`; `work_out:` |
#' | leave order lines out | [only()] | `--only`; `only:` |
#' | set the as-of date, the months shown | [as_of()], [within_dates()] | `--as-of`, `--latest`; `shown:` |
#' | use a fiscal or a retail calendar | [fiscal_calendar()], [week_calendar()] | `--calendar`; `calendars:` |
#' | total by period and column | [rollup()] | `drystack rollup`; `rollup:` |
#' | put one across the other | [crosstab()] | `drystack crosstab`; `crosstab:` |
#' | list order lines with subtotals | [listing()] | `drystack listing`; `listing:` |
#' | put few figures large at the top | [headlines()] | `drystack headlines`; `headlines:` |
#' | compare, run up, share, rank | [measure_language] | `--show`; `measures:` |
#' | keep the largest, or rows by a figure | [keep_top()], [keep_where()] | `--keep`; `keep:` |
#' | know how a figure came about | [explain()], [behind()], [tie_out()] | `--explain`, `--tie-out` |
#' | draw it | [figure()] | `drystack figure`; `figure:` |
#' | hand it on | [write_report()], [report()] | `--out`; `outputs:` |
#' | build it again next month | [as_standing()], [build_report()] | `--save`, `drystack build` |
#' | know what changed since | [changes()] | `drystack changes`; `changes:` |
#' | look round by hand | [explore()] | `drystack explore` |
#'
#' The demo orders are in [harrowgill()].
#'
#' @section Options: `drystack.threads`: how many threads a pass over the orders may use; default
#'   all the machine has, eight at most. Figures do not depend on it. `drystack.memory`: how
#'   many bytes a request may need (default: a quarter of the machine's); more is an error before
#'   any work is done. `drystack.patience`: how many seconds to wait for a database server to
#'   answer at first (default 10).
#'   `drystack.progress`: a function that receives the part done, from 0 to 1, of work that takes
#'   over two seconds; in an interactive session a progress bar.
#'
#' @seealso [daybook()], [rollup()], [measure_language].
#' @keywords internal
#' @useDynLib drystack, .registration = TRUE
#' @importFrom rlang .data
"_PACKAGE"
