# Members in an order that needs no figures: a given list, or the keys of another column.

given_order <- function(coded, axis, rule, book) {
  column <- if (is.null(rule)) book$sort_keys[[axis$name]] else rule$column
  if (!is.null(rule) && rule$kind == "given") {
    return(reordered(coded, listed_order(coded$members, rule$members, axis$name)))
  }
  if (is.null(column) || is_cyclic_axis(axis)) {
    return(coded)
  }
  key <- one_key_per_label(book, axis$column, column)
  reordered(coded, order(key[match(coded$members, names(key))], seq_along(coded$members), na.last = TRUE))
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
      paste0("{.fn in_order} names what is no member of ", quoted(dimension), ": {examples_of(unknown)}."),
      advise_word(unknown[1L], members, "members")
    ))
  }
  c(match(listed, members), which(!members %in% listed))
}

# The key of each label, by label. Two keys for one label are an error; a label without a key comes last.
one_key_per_label <- function(book, dimension, column) {
  labels <- dimension_codes(book$columns[[dimension]], dimension)
  keys <- dimension_codes(book$columns[[column]], column)
  pairs <- kernel_encode_pair(labels$codes, keys$codes, thread_count())$first
  label <- labels$members[labels$place[labels$codes[pairs]]]
  key <- keys$place[keys$codes[pairs]]
  known <- !is.na(label) & !is.na(key)
  label <- label[known]
  key <- key[known]
  repeated <- unique(label[duplicated(label)])
  if (length(repeated) > 0L) {
    some <- keys$members[key[label == repeated[1L]]]
    raise("sort", c(
      paste0("Labels of ", quoted(dimension), " have more than one key in ", quoted(column), ": {examples_of(repeated)}."),
      "x" = paste0(quoted(repeated[1L]), " has {examples_of(some)}."),
      ">" = "Mend the keys in the orders, or name a column with one key for each label."
    ))
  }
  stats::setNames(key, label)
}
