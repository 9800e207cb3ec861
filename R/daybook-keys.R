# The key of each label of a dimension, by label. Two keys for one label are an error; a label
# without a key comes last.
one_key_per_label <- function(book, dimension, column) {
  engine <- engine_of(book)
  label_axis <- dimension_axis(dimension, book$columns[[dimension]])
  key_axis <- dimension_axis(column, book$columns[[column]])
  keys <- members(engine, key_axis)
  pairs <- member_pairs(engine, label_axis, key_axis)
  label <- members(engine, label_axis)$members[pairs[[1L]]]
  key <- pairs[[2L]]
  known <- !is.na(label) & !is.na(key)
  label <- label[known]
  key <- key[known]
  repeated <- unique(label[duplicated(label)])
  if (length(repeated) > 0L) {
    some <- keys$members[key[label == repeated[1L]]]
    raise("sort", c(
      paste0("Labels of ", quoted(dimension), " have more than one key in ",
        quoted(column), ": {examples_of(repeated)}."),
      "x" = paste0(quoted(repeated[1L]), " has {examples_of(some)}."),
      ">" = "Mend the keys in the orders, or name a column with one key for each label."
    ))
  }
  stats::setNames(key, label)
}
