#' drystack: period totals and comparisons for sales orders
#'
#' Begin with [daybook()] and [rollup()]; the words of figures are in [measure_language]; `drystack --help` in a
#' terminal
#' does the same from a file. The demo orders are in [harrowgill()].
#'
#' @section Options: `drystack.threads`: how many threads a pass over the orders may use; default all the machine has,
#'   eight at most. Figures do not depend on it.
#'
#' @keywords internal
#' @useDynLib drystack, .registration = TRUE
#' @importFrom Rcpp evalCpp
#' @importFrom rlang .data
"_PACKAGE"
