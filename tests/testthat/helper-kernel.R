# The kernel on its own: one span, one group.
kernel_total <- function(x, threads = 1L) {
  n <- length(x)
  states <- kernel_fold(
    rep(0L, n), 0L, 0L, 1L, list(), integer(), NULL, list(x), TRUE, FALSE, FALSE, FALSE, threads, NULL, 2
  )
  decimal_sum(states$columns[[1L]]$sum, states$decimals, states$per_unit)[1L]
}

# Another value for a constant of the package, until the calling test ends.
local_constant <- function(name, value, env = parent.frame()) {
  namespace <- asNamespace("drystack")
  set <- function(value) {
    unlockBinding(name, namespace)
    assign(name, value, envir = namespace)
    lockBinding(name, namespace)
  }
  old <- get(name, envir = namespace)
  set(value)
  withr::defer(set(old), envir = env)
}
