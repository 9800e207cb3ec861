# Where a table comes from: how many order lines were read, left out and why, and used. Each line left out counts
# under the first reason that fits it.

order_facts <- function(book) {
  counts <- left_out_counts(book)
  reasons <- c(
    "without a date",
    paste("after", day_words(book$as_of)),
    vapply(book$scope, function(condition) paste("that do not meet", condition$text), "")
  )
  left <- counts > 0
  list(
    read = book$rows, used = book$rows - sum(counts),
    left_out = data.frame(reason = reasons[left], lines = counts[left])
  )
}

# Without a scope and up to the last order only the undated lines are left out, and these are counted already.
left_out_counts <- function(book) {
  if (length(book$scope) == 0L && book$as_of >= book$last) {
    return(c(book$undated, 0))
  }
  kernel_left_out(book$days, book$as_of, lapply(book$scope, `[[`, "met"), thread_count())
}
