# How several figures become one: the values of a window's periods, of each day, of each order. `x`
# is a matrix whose rows are combined; unknown values are left out.

combiners <- function() {
  list(
    mean = function(x, options) unless_none(x, rowMeans(x, na.rm = TRUE)),
    sum = function(x, options) rowSums(x, na.rm = TRUE),
    min = function(x, options) finite(by_row(x, min, Inf)),
    max = function(x, options) finite(by_row(x, max, -Inf)),
    median = function(x, options) by_row(x, stats::median, NA_real_),
    quantile = function(x, options) {
      by_row(x, function(v) stats::quantile(v, options$p, names = FALSE), NA_real_)
    },
    sd = function(x, options) by_row(x, stats::sd, NA_real_),
    var = function(x, options) by_row(x, stats::var, NA_real_),
    count = function(x, options) rowSums(!is.na(x)) + 0,
    longest = function(x, options) {
      vapply(seq_len(nrow(x)), function(i) longest_run(x[i, ] %in% 1), 0)
    }
  )
}

unless_none <- function(x, value) {
  value[rowSums(!is.na(x)) == 0L] <- NA
  value
}

by_row <- function(x, fn, none) {
  vapply(seq_len(nrow(x)), function(i) {
    known <- x[i, !is.na(x[i, ])]
    if (length(known) == 0L) none else as.numeric(fn(known))
  }, 0)
}

longest_run <- function(holds) {
  runs <- rle(holds)
  max(0, runs$lengths[runs$values])
}
