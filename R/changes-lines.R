# Order lines of two times side by side: those that are only in one, and those that differ, by a key
# of columns or, where none is said, by all they hold.

# before, after: data frames; key: names of columns, or NULL. Gives gone (rows of `before`), late
# (rows of `after`), changed (list(before, after): rows of each), and for the changed what differs:
# a logical matrix of pairs by columns.
compare_lines <- function(before, after, key = NULL) {
  columns <- intersect(names(before), names(after))
  codes <- lapply(stats::setNames(columns, columns),
    function(name) both_coded(before[[name]], after[[name]]))
  n <- nrow(before)
  m <- nrow(after)
  if (is.null(key)) {
    found <- match_counted(row_ids(codes, n + m), n)
    return(list(gone = which(!found$used), late = which(is.na(found$place)),
      changed = list(before = integer(), after = integer()), differs = NULL))
  }
  for (name in key) check_column(name, columns)
  ids <- row_ids(codes[key], n + m)
  check_key_once(ids[seq_len(n)], before, key, "before")
  check_key_once(ids[n + seq_len(m)], after, key, "after")
  place <- match(ids[n + seq_len(m)], ids[seq_len(n)])
  pairs <- list(before = place[!is.na(place)], after = which(!is.na(place)))
  differs <- vapply(codes[setdiff(columns, key)], function(code) {
    code[pairs$before] != code[n + pairs$after]
  }, logical(length(pairs$before)))
  dim(differs) <- c(length(pairs$before), length(setdiff(columns, key)))
  colnames(differs) <- setdiff(columns, key)
  here <- rowSums(differs) > 0
  list(
    gone = setdiff(seq_len(n), pairs$before), late = which(is.na(place)),
    changed = lapply(pairs, `[`, here), differs = differs[here, , drop = FALSE]
  )
}

# Equal values of both have equal codes; what is missing has one too.
both_coded <- function(a, b) {
  if (!identical(class(a), class(b)) || is.factor(a)) {
    if (!(is.numeric(a) && is.numeric(b)) || is.object(a) || is.object(b)) {
      a <- as.character(a)
      b <- as.character(b)
    }
  }
  codes_of_any(c(a, b))
}

# Of rows that are equal the first is met by the first, the second by the second.
match_counted <- function(ids, n) {
  turn <- integer(length(ids))
  for (half in list(seq_len(n), n + seq_len(length(ids) - n))) {
    sorted <- half[order(ids[half], method = "radix")]
    starts <- c(TRUE, ids[sorted][-1L] != ids[sorted][-length(sorted)])[seq_along(sorted)]
    place <- seq_along(sorted)
    turn[sorted] <- place - place[starts][cumsum(starts)]
  }
  whole <- row_ids(list(ids, turn), length(ids))
  place <- match(whole[n + seq_len(length(ids) - n)], whole[seq_len(n)])
  list(place = place, used = seq_len(n) %in% place)
}

# The key of a report is looked at when it is built; where lines stand in the order of their key
# one look is enough.
check_key_told <- function(columns, key) {
  codes <- lapply(columns[key], function(x) {
    if (is_coded(x)) x$codes else if (is.factor(x)) as.integer(x) else x
  })
  # What is missing is not greater than anything.
  if (all(vapply(codes, is.numeric, NA)) && rows_ascend(codes)) {
    return(invisible())
  }
  codes <- lapply(codes, function(x) {
    if (is.integer(x)) x else kernel_encode(x, thread_count())$codes
  })
  rows <- encoded_rows(lapply(codes, function(x) replace(x, is.na(x), 0L)), length(codes[[1L]]))
  if (length(rows$first) < length(codes[[1L]]))
    check_key_once(rows$codes, lapply(columns[key], expanded), key,
    "of the report")
}

check_key_once <- function(ids, lines, key, when) {
  twice <- ids[duplicated(ids)]
  if (length(twice) == 0L) {
    return(invisible())
  }
  rows <- which(ids == twice[1L])
  shown <- paste(key, vapply(lines[key], function(x) as.character(x[rows[1L]]), ""),
    collapse = ", ")
  raise("key", c(
    "The key {.val {key}} is not unique among the order lines {when}.",
    "x" = paste0("{format_count(length(unique(twice)))} of its values appear more than once: ",
      quoted(shown), " at {rows_of(rows)}."),
    ">" = "Name the columns that tell every order line apart."
  ))
}

# Whether each row is greater than the one before, by the first column in which they differ.
rows_ascend <- function(columns) {
  risen <- FALSE
  same <- TRUE
  for (x in columns) {
    step <- diff(x)
    risen <- risen | same & step > 0
    same <- same & step == 0
  }
  isTRUE(all(risen))
}
