# What is told of figures like for like: who stands outside of them, and with how much.

# "Like for like by depot: 2 members (12,345) are there only in the rows' own days, 1 (2,000) only a
# year before; they are not counted."
like_for_like_notes <- function(table) {
  vapply(unname(table$noted$outside), function(one) {
    by <- paste0("Like for like by ", plain_words(one$column),
      if (length(one$days) > 0L) paste0(" (",
      joined_words(plain_words(vapply(one$days, code_text, ""))), ")"))
    sides <- c(outside_words(one$now, "only in the days of a row"),
      outside_words(one$before, paste("only", before_in_words(one$unit$options))))
    if (length(sides) == 0L) {
      return(paste0(by, ": all members are there on both sides."))
    }
    several <- one$now$members + one$before$members > 1L
    paste0(by, ": ", joined_words(sides),
      if (several) "; they are not counted." else "; not counted.")
  }, "")
}

outside_words <- function(side, where) {
  if (side$members == 0L) {
    return(NULL)
  }
  paste0(count_words(side$members, "member"), " (", plain_amount(side$amount),
    ") ",
    if (side$members == 1L) "is" else "are", " there ", where)
}
