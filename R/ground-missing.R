# What stands in for what was not given or is not known.

`%||%` <- function(x, default) if (is.null(x)) default else x

finite <- function(x) {
  x[!is.finite(x)] <- NA
  x
}

or_else <- function(x, other) {
  unknown <- is.na(x)
  x[unknown] <- if (length(other) == 1L) other else other[unknown]
  x
}

is_known <- function(x) {
  if (is.numeric(x) && !is.object(x)) is.finite(x) else !is.na(without_int64(x))
}

without_int64 <- function(x) if (inherits(x, "integer64")) kernel_int64_doubles(x) else x
