# Names of columns: as the file has them where they can stay, renamed as was said, and made to
# differ where they do not.

with_names <- function(raw, reading, told) {
  names <- raw$names
  empty <- names == ""
  blank <- empty & vapply(raw$columns, function(column) all(is.na(column$codes)), NA)
  if (any(blank)) told$add(count_words(sum(blank), "empty column", "left out"))
  names[empty] <- paste0("column_", which(empty))
  if (any(empty & !blank)) told$add(paste0("columns without a name: ",
    words_of(names[empty & !blank])))
  names <- renamed(names, reading$rename)
  names <- numbered(names, told)
  names <- apart_from_periods(names, told)
  for (name in names(reading$types)) check_column(name, names)
  kept <- !blank & (if (is.null(reading$keep)) TRUE else names %in% kept_names(names, reading$keep))
  raw$columns <- raw$columns[kept]
  raw$names <- names[kept]
  raw$header <- raw$header[kept]
  raw$places <- which(kept)
  raw
}

# rename: the new name of each column that is named, by the one it has.
renamed <- function(names, rename) {
  for (new in names(rename)) {
    check_column(rename[[new]], names)
    names[match(rename[[new]], names)] <- new
  }
  names
}

kept_names <- function(names, keep) {
  for (name in keep) check_column(name, names)
  keep
}

numbered <- function(names, told) {
  again <- duplicated(names)
  for (i in which(again)) {
    n <- sum(names[seq_len(i)] == names[i] | startsWith(names[seq_len(i)], paste0(names[i], "_")))
    while (paste0(names[i], "_", n) %in% names) n <- n + 1L
    told$add(paste0("the name ", quoted(names[i]), " stands twice: ",
      quoted(paste0(names[i], "_", n))))
    names[i] <- paste0(names[i], "_", n)
  }
  names
}

apart_from_periods <- function(names, told) {
  taken <- names %in% c(period_units, cyclic_parts, names_of_tables)
  for (i in which(taken)) {
    new <- utils::tail(make.unique(c(names, paste0("order_", sub("^[.]", "", names[i]))),
      sep = "_"), 1L)
    told$add(paste0(quoted(names[i]), " is called ", quoted(new), " here"))
    names[i] <- new
  }
  names
}
