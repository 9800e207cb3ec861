# Lookups by several keys, and of rows that are valid from a day on. Each line gets one number that
# tells its row: of each key its place among the keys of the lookup, of its day the place among the
# days from which something is valid. A table says for each such number which row stands there, so
# that a lookup of this kind is one by a number, for every engine.

# `by`: of the orders by the columns of the lookup; from: the column of the lookup that holds days,
# or NULL. list(tree: of that number, keys: those that have a row, rows: which, decode: what a
# number stands for).
lookup_number <- function(book, lookup, by, from, name) {
  keys <- lapply(unname(by), function(theirs) member_text(plain_values(lookup[[theirs]])))
  levels <- lapply(keys, unique)
  days <- if (!is.null(from)) valid_days(lookup[[from]], from, name)
  cuts <- sort(unique(days))
  check_one_row(keys, days, by, name)
  # One place more for keys that the lookup does not have, and for days before the first.
  sizes <- c(lengths(levels) + 1, if (!is.null(from)) length(cuts) + 1)
  if (prod(sizes) > 2^53) raise("lookup", c(
    paste0("The lookup ", quoted(name), " has too many different keys to be combined."),
    ">" = "Look some of them up one after the other."))
  codes <- Map(function(ours, levels) {
    node("call", fn = "place_among", args = list(column_node(ours, book$columns[[ours]])),
      constants = list(levels = levels), text = paste0("place_among(", name_text(ours), ")"))
  }, names(by), levels)
  date <- column_node(book$date, book$columns[[book$date]])
  codes <- c(codes, if (!is.null(from)) list(node("call", fn = "days_reached", args = list(date),
    constants = list(cuts = cuts), text = paste0("days_reached(", name_text(book$date), ")"))))
  tree <- Reduce(function(number, i) {
    call_node("+", list(call_node("*", list(number, value_node(sizes[i]))), codes[[i]]))
  }, seq_along(codes)[-1L], codes[[1L]])
  own <- Map(function(key, levels) match(key, levels) - 1, keys, levels)
  own <- c(own, if (!is.null(from)) list(findInterval(days, cuts)))
  number <- Reduce(function(number, i) number * sizes[i] + own[[i]], seq_along(own)[-1L], own[[1L]])
  valid <- if (is.null(from)) list(keys = number, rows = seq_along(number))
    else valid_numbers(number, sizes[length(sizes)])
  c(list(tree = tree, decode = number_decoder(levels, sizes, by, from)), valid)
}

valid_days <- function(values, from, name) {
  days <- if (inherits(values, "Date")) floor(as.numeric(values)) else if (
    inherits(values, "POSIXct"))
      local_days(values) else iso_days(as.character(values))
  bad <- which(is.na(days))
  if (length(bad) > 0L) raise("lookup", c(
    paste0(quoted(from), " of the lookup ", quoted(name),
      " must hold the day from which each row is valid."),
    "x" = "It is not a date at {rows_of(bad)}.", ">" = "Write days as year-month-day."))
  as.integer(days)
}

# A row for each key, or for each key and day.
check_one_row <- function(keys, days, by, name) {
  id <- row_ids(c(unname(lapply(keys, function(key) match(key, unique(key)))),
    if (!is.null(days)) list(days)), length(keys[[1L]]))
  twice <- which(duplicated(id))
  if (anyNA(unlist(keys))) raise("lookup", c(
    paste0("The lookup ", quoted(name), " has no key in ", words_of(unname(by)), " at ",
      "{rows_of(which(Reduce(`|`, lapply(keys, is.na))))}."), ">" = "Leave these rows out."))
  if (length(twice) == 0L) {
    return(invisible())
  }
  words <- do.call(paste, c(lapply(keys, `[`, twice), if (!is.null(days)) list(paste("from",
    day_words(days[twice]))),
    list(sep = ", ")))
  raise("lookup", c(
    paste0("The lookup ", quoted(name), " has more than one row for a key of ",
      words_of(unname(by)), if (!is.null(days)) " and a day", "."),
    "x" = paste0("{length(unique(words))} key{?s}: {examples_of(unique(words))}, at ",
      "{rows_of(which(id %in% id[twice]))}."),
    ">" = "Order lines would be doubled. Keep one row for each."))
}

# A row is valid from its day until the next of the same key.
valid_numbers <- function(number, days) {
  order <- order(number)
  first <- number[order]
  group <- first %/% days
  following <- c(first[-1L], Inf)
  last <- ifelse(c(group[-1L], NA) %in% group & c(group[-1L], -1) == group,
    following - 1, group * days + days - 1)
  lengths <- last - first + 1
  if (16 * sum(lengths) > allowed_memory()) raise("lookup",
    c("The lookup has too many keys and days to be combined.",
    ">" = "Leave out the keys or the days that are not needed."))
  list(keys = rep(first, lengths) + sequence(lengths) - 1, rows = rep(order, lengths))
}

# A function that holds no more than it needs: it is saved with its daybook.
number_decoder <- function(levels, sizes, by, from) {
  force(levels)
  force(sizes)
  force(by)
  force(from)
  function(number) number_words(number, levels, sizes, by, from)
}

# What a number without a row stands for.
number_words <- function(number, levels, sizes, by, from) {
  parts <- vector("list", length(sizes))
  for (i in rev(seq_along(sizes))) {
    parts[[i]] <- number %% sizes[i]
    number <- number %/% sizes[i]
  }
  word <- function(code, levels, ours) {
    ifelse(code < length(levels), levels[code + 1], paste("another", plain_words(ours)))
  }
  words <- Map(word, parts[seq_along(levels)], levels, names(by))
  known <- Reduce(`&`, Map(function(code, levels) code < length(levels),
    parts[seq_along(levels)], levels))
  text <- do.call(paste, c(unname(words), list(sep = ", ")))
  if (is.null(from)) text else ifelse(known, paste(text, "before it is valid"), text)
}
