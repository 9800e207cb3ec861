# Columns of a file that are read when they are first needed: those that are wanted from the
# beginning at once.
#
# names, rows: of the columns; path: of the file; reading: what its reading has to tell (see
#   with_telling()); read: a function of the places that are needed and of those that may be read
#   with them where it costs little; it gives columns by place, each a vector or texts as codes,
#   with what there is to tell of them as its attribute "told"; held: those that were
#   read, by place;
#   later: what was told of columns since
new_late_columns <- function(names, rows, path, reading, read, held) {
  columns <- list(names = names, rows = rows, path = path, reading = reading, read = read,
    held = list2env(held, parent = emptyenv()), later = new.env(parent = emptyenv()))
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
  hold_columns(x, seq_along(columns$names))
  values <- lapply(seq_along(columns$names), function(place) expanded(late_column(x, place)))
  orders <- structure(stats::setNames(values, columns$names), class = "data.frame",
    row.names = seq_len(columns$rows))
  reading <- columns$reading
  if (length(columns$later$told) > 0L) reading$told <- unique(c(reading$told, columns$later$told))
  attr(orders, "reading") <- reading
  orders
}

# One column, as it was read.
late_column <- function(orders, place) {
  hold_columns(orders, place)
  late(orders)$held[[as.character(place)]]
}

hold_columns <- function(orders, places) {
  columns <- late(orders)
  missing <- setdiff(seq_along(columns$names), as.integer(names(columns$held)))
  needed <- intersect(places, missing)
  if (length(needed) > 0L) {
    read <- columns$read(needed, setdiff(missing, needed))
    columns$later$told <- c(columns$later$told, attr(read, "told"))
    list2env(read, envir = columns$held)
  }
}

# Texts as codes of the different ones.
new_coded <- function(texts, codes) {
  structure(list(texts = texts, codes = codes), class = "drystack_coded")
}

is_coded <- function(x) inherits(x, "drystack_coded")

# As columns of orders are everywhere else: texts, and days as doubles.
expanded <- function(x) {
  if (is_coded(x)) x$texts[x$codes] else if (inherits(x, "Date"))
    structure(as.double(x), class = "Date") else x
}

first_values <- function(x, n) {
  if (is_coded(x)) x$texts[x$codes[seq_len(n)]] else vctrs::vec_slice(x, seq_len(n))
}
