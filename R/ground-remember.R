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
