# Members in an order that needs no figures: a given list, or the keys of another column.

given_order <- function(coded, axis, rule, book) {
  column <- if (is.null(rule)) (if (axis$kind ==
    "dimension") book$sort_keys[[axis$name]]) else rule$column
  if (!is.null(rule) && rule$kind == "given") {
    return(reordered(coded, listed_order(coded$members, rule$members, axis$name)))
  }
  if (is.null(column) || axis$kind != "dimension") {
    return(coded)
  }
  key <- one_key_per_label(book, axis$name, column)
  reordered(coded, order(key[match(coded$members, names(key))], seq_along(coded$members),
    na.last = TRUE))
}

reordered <- function(coded, order) {
  coded$place <- match(coded$place, order)
  coded$members <- coded$members[order]
  coded
}

listed_order <- function(members, listed, dimension) {
  unknown <- setdiff(listed, members)
  if (length(unknown) > 0L) {
    raise("sort", c(
      paste0("{.fn in_order} names values that are not members of ", quoted(dimension),
        ": {examples_of(unknown)}."),
      advise_word(unknown[1L], members, "members")
    ))
  }
  c(match(listed, members), which(!members %in% listed))
}
