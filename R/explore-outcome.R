# What an ask comes to: its daybook, its table or the error, and what the sentence tells
# beside its parts.
#
# ask, base, made: what it was worked out from
# columns_of: the daybook that says which columns there are
# book, table: NULL where the ask is wrong; error: what is wrong
# measures: those that can be read, also where the ask is wrong
# fixed: conditions of the daybook that are no part of the ask
# left: how many lines are left by each condition, one after the other
explored_seen <- function(ask, base, made) {
  seen <- list(ask = ask, columns_of = base$book,
    fixed = condition_said(base$book$scope), base = base,
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
  seen$measures <- if (is.null(seen$table)) readable_measures(ask,
    seen$columns_of) else seen$table$ask$known
  if (is.null(seen$error)) seen$left <- lines_left(seen$book, length(ask$only))
  seen
}

# One that cannot be read, or speaks of one that cannot, takes no words from the others.
readable_measures <- function(ask, book) {
  known <- list()
  read <- list()
  for (one in ask$measures) {
    added <- rlang::try_fetch({
      said <- c(read, stats::setNames(list(explored_said(one)), one$name))
      list(said = said, known = ask_measures(said, book, list()))
    }, drystack_error = function(e) NULL)
    if (!is.null(added)) {
      read <- added$said
      known <- added$known
    }
  }
  known
}

# How many of all lines meet each of the last n conditions and those before it.
lines_left <- function(book, n) {
  utils::tail(book$rows - cumsum(left_out(engine_of(book), book)), n)
}
