# The key of each label of a dimension, by label. Two keys for one label are an error; a label
# without a key comes last.
one_key_per_label <- function(book, dimension, column) {
  engine <- engine_of(book)
  labels <- members(engine, dimension_axis(dimension, book$columns[[dimension]]))
  keys <- members(engine, dimension_axis(column, book$columns[[column]]))
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
      paste0("Labels of ", quoted(dimension), " have more than one key in ",
        quoted(column), ": {examples_of(repeated)}."),
      "x" = paste0(quoted(repeated[1L]), " has {examples_of(some)}."),
      ">" = "Mend the keys in the orders, or name a column with one key for each label."
    ))
  }
  stats::setNames(key, label)
}
