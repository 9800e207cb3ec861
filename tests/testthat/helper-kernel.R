# The kernel on its own: states of the amounts of some rows by group (codes of members) and span.
folded <- function(amounts, codes = list(), levels = integer(), days = NULL, spans = 1L,
  keep = NULL, states = "sum", threads = 1L) {
  n <- max(length(days), length(amounts[[1L]]), lengths(codes))
  wanted <- rep(list(states), length(amounts))
  kernel_fold(
    days %||% rep(0L, n), 0L, seq_len(spans) - 1L, spans, codes,
    levels, keep, amounts, wanted, FALSE, threads, NULL, 2
  )
}

# One span, one group.
kernel_total <- function(x, threads = 1L) {
  as.vector(kernel_finish(folded(list(x), threads = threads)$columns[[1L]]$sum, "sum"))
}

# The values of a column of a daybook.
values_of <- function(book, name) line_values(engine_of(book), column_node(name, book$columns[[name]]))

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
