# Columns of the orders that are new, gone or renamed: against what the report says it was made
# with, which is an expectation, else against those of the build before, which is news.

column_changes <- function(now, expected, before) {
  list(
    expected = changed_columns(now, expected),
    news = if (is.null(expected)) paste(changed_columns(now, before),
      recycle0 = TRUE, "since the build before") else character()
  )
}

changed_columns <- function(now, then) {
  if (is.null(then)) {
    return(character())
  }
  gone <- setdiff(then, now)
  new <- setdiff(now, then)
  renamed <- renamed_to(gone, new, now, then)
  listed <- function(words, columns) {
    if (length(columns) > 0L) paste0("columns ", words, ": ", joined_words(columns))
  }
  c(
    listed("renamed", paste(gone[renamed != ""], "to", renamed[renamed != ""], recycle0 = TRUE)),
    listed("gone", gone[renamed == ""]), listed("new", setdiff(new, renamed))
  )
}

# For each column that is gone the new one with a like name, else the one that stands in its
# place; "" where there is none.
renamed_to <- function(gone, new, now, then) {
  near <- vapply(gone, function(name) nearest_word(name, new) %||% "", "")
  there <- now[match(gone, then)]
  placed <- near == "" & length(now) == length(then) & there %in% setdiff(new, near)
  ifelse(placed, there, near)
}

# What goes wrong with other columns than before is told with what has changed about them.
telling_changes <- function(changed, code) {
  rlang::try_fetch(code, drystack_error = function(e) {
    told <- unlist(changed)
    if (length(told) == 0L) {
      return(rlang::zap())
    }
    e$body <- c(e$body, stats::setNames(told, rep("i", length(told))))
    rlang::cnd_signal(e)
  })
}
