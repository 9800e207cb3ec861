# What is worked out once is kept: in an environment under a key, or in a function of no arguments.

remembered_in <- function(env, key, make) {
  if (is.null(env[[key]])) assign(key, make(), envir = env)
  env[[key]]
}

made_once <- function(make) {
  made <- NULL
  function() {
    if (is.null(made)) made <<- make()
    made
  }
}

# A function of each of some values, called once for those that are identical.
once_each <- function(values, work, ...) {
  made <- values
  for (i in seq_along(values)) {
    same <- Position(function(j) identical(values[[j]], values[[i]]), seq_len(i - 1L))
    made[[i]] <- if (is.na(same)) work(values[[i]], ...) else made[[same]]
  }
  made
}
