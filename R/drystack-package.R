#' drystack: period totals and comparisons for sales orders
#'
#' Begin with [daybook()] and [rollup()]; the words of figures are in [measure_language];
#' `drystack --help` in a terminal does the same from a file. The demo orders are in [harrowgill()].
#'
#' @section Options: `drystack.threads`: how many threads a pass over the orders may use; default
#'   all the machine has, eight at most. Figures do not depend on it. `drystack.memory`: how
#'   many bytes a request may need (default: a quarter of the machine's); more is an error before
#'   any work is done. `drystack.patience`: how many seconds a database server may take for its
#'   first word (default 10).
#'   `drystack.progress`: a function that is told the part done, from 0 to 1, of work over two
#'   seconds; in an interactive session a progress bar.
#'
#' @keywords internal
#' @useDynLib drystack, .registration = TRUE
#' @importFrom Rcpp evalCpp
#' @importFrom rlang .data
"_PACKAGE"
