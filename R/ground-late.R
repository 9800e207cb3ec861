# Columns of a file that are read when they are first needed: those that are wanted from the
# beginning at once, all others together.
#
# names, rows: of the columns; path: of the file; reading: what its reading has to tell (see
#   with_telling()); read: a function of places that gives these columns, each a vector or texts as
#   codes; held: those that were read, by place
new_late_columns <- function(names, rows, path, reading, read, held) {
  columns <- list(names = names, rows = rows, path = path, reading = reading, read = read,
    held = list2env(held, parent = emptyenv()))
  structure(list(columns), class = "drystack_late_columns")
}

is_late <- function(orders) inherits(orders, "drystack_late_columns")

late <- function(orders) unclass(orders)[[1L]]

#' @export
names.drystack_late_columns <- function(x) late(x)$names

#' @export
dim.drystack_late_columns <- function(x) c(late(x)$rows, length(late(x)$names))

#' @export
as.data.frame.drystack_late_columns <- function(x, ...) {
  columns <- late(x)
  values <- lapply(seq_along(columns$names), function(place) expanded(late_column(x, place)))
  orders <- structure(stats::setNames(values, columns$names), class = "data.frame",
    row.names = seq_len(columns$rows))
  attr(orders, "reading") <- columns$reading
  orders
}

# One column, as it was read.
late_column <- function(orders, place) {
  columns <- late(orders)
  key <- function(place) as.character(place)
  if (is.null(columns$held[[key(place)]])) {
    missing <- Filter(function(i) is.null(columns$held[[key(i)]]), seq_along(columns$names))
    read <- columns$read(missing)
    for (i in seq_along(missing)) assign(key(missing[i]), read[[i]], envir = columns$held)
  }
  columns$held[[key(place)]]
}

# Texts as codes of the different ones.
new_coded <- function(texts, codes) structure(list(texts = texts, codes = codes), class = "drystack_coded")

is_coded <- function(x) inherits(x, "drystack_coded")

# As columns of orders are everywhere else: texts, and days as doubles.
expanded <- function(x) {
  if (is_coded(x)) x$texts[x$codes] else if (inherits(x, "Date"))
    structure(as.double(x), class = "Date") else x
}

first_values <- function(x, n) {
  if (is_coded(x)) x$texts[x$codes[seq_len(n)]] else vctrs::vec_slice(x, seq_len(n))
}
