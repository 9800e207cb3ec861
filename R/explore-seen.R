# What an ask comes to: its daybook, its table or the error, and what the sentence tells beside its parts.
#
# ask, base, made: what it was worked out from
# columns_of: the daybook that says which columns there are
# book, table: NULL where the ask is wrong; error: what is wrong
# fixed: conditions of the daybook that are no part of the ask
# left: how many lines are left by each condition, one after the other
explored_seen <- function(ask, base, made) {
  seen <- list(ask = ask, columns_of = base$book, fixed = condition_said(base$book$scope), base = base,
    made = made)
  seen$error <- rlang::try_fetch(
    {
      seen$book <- explored_book(ask, base, made)
      seen$columns_of <- seen$book
      seen$table <- explored_table(ask, seen$book)
      NULL
    },
    drystack_error = function(e) e
  )
  if (is.null(seen$error)) seen$left <- lines_left(seen$book, length(ask$only))
  seen
}

# How many of all lines meet each of the last n conditions and those before it.
lines_left <- function(book, n) {
  utils::tail(book$rows - cumsum(left_out(engine_of(book), book)), n)
}
