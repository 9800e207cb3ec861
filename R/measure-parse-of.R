# of(targets, sum(amount)): a figure of a record that stands beside the orders, over its own
# columns; axes and calendars are those of the table.

parse_of <- function(fn, said, vocabulary, depth) {
  args <- match_arguments(as.list(said)[-1L], c("record", "m"), fn)
  name <- args$record
  known <- names(vocabulary$records)
  if (is.null(args$m) || !(rlang::is_symbol(name) || is.character(name))) {
    raise("expression", c("{.fn of} needs the name of a record and a measure.",
      ">" = "For example {.code of(targets, sum(amount))}."))
  }
  name <- as.character(name)
  if (!name %in% known) {
    raise("record", c(paste0("There is no record ", quoted(name), " beside the orders."),
      if (length(known) > 0L) advise_word(name, known, "records")
      else c(">" = "Put one there first: {.code alongside(book, {name} = ...)}.")))
  }
  node("of", fn = fn, record = name,
    child = parse_measure(args$m, record_vocabulary(name, vocabulary), depth + 1L),
    text = arguments_text(fn, c(name_text(name), code_text(args$m))))
}

record_vocabulary <- function(name, vocabulary) {
  own <- vocabulary$records[[name]](vocabulary$env, vocabulary$axes, vocabulary$cols)
  own$calendars <- vocabulary$calendars
  own
}
