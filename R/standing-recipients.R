# Who gets a page of their own: the values of a column, or of a key beside what they are called.
#
# A data frame of recipients: key, name, lines and amount (of the first measure that adds up, NA
# where there is none); with what is told of order lines that are nobody's, of those who have no
# orders, and of keys with several names.

recipients_of <- function(document, whole, delivery) {
  book <- whole$book
  for (part in c("each", "key")) {
    where_delivered(document, delivery, part, check_column(delivery[[part]], names(book$columns)))
  }
  counts <- counted_recipients(document, whole, delivery)
  own <- counts[!is.na(counts$key), , drop = FALSE]
  own <- own[order(own$key, -own$lines, own$name, method = "radix"), , drop = FALSE]
  if (nrow(own) == 0L) raise("standing", c("There is nobody to build a page for.",
    "x" = paste0("No order line in scope has a value in ", quoted(delivery$key), ".")))
  first <- own[!duplicated(own$key), , drop = FALSE]
  found <- data.frame(key = first$key, name = ifelse(is.na(first$name), first$key, first$name),
    lines = as.numeric(rowsum(own$lines, own$key, reorder = FALSE)),
    amount = as.numeric(rowsum(own$amount, own$key, reorder = FALSE)))
  several <- unique(own$key[duplicated(own$key)])
  told <- c(nobodys_words(counts[is.na(counts$key), , drop = FALSE], delivery$key),
    names_words(own, several), without_orders_words(found$key, book, delivery$key))
  list(all = found$key, rows = where_delivered(document, delivery, "recipients",
    chosen_recipients(found, delivery$recipients, delivery$key)), told = told,
    nobody = list(lines = sum(counts$lines[is.na(counts$key)]),
      amount = sum(counts$amount[is.na(counts$key)])))
}

# The order lines of each key and name, whatever dates the report shows.
counted_recipients <- function(document, whole, delivery) {
  book <- whole$book
  book["shown"] <- list(NULL)
  axes <- unique(c(delivery$key, delivery$each))
  amount <- adding_measure(document, whole)
  measures <- c(list(.lines = said(quote(count()))), amount$measures)
  request <- new_request("rollup", rows = lapply(axes, function(axis) said(as.name(axis))),
    measures = measures,
    show = c(".lines", amount$name))
  x <- make_table(request, book)
  text <- function(axis) {
    values <- x$axes[[axis]]
    values <- if (is.numeric(values)) member_text(values) else as.character(values)
    replace(values, is.na(values) | x$rows$ranks[[axis]] == missing_place(axis, x), NA)
  }
  data.frame(key = text(delivery$key), name = text(delivery$each), lines = x$figures$.lines,
    amount = if (is.null(amount)) NA_real_ else x$figures[[amount$name]])
}

# The place of the lines without a value among the members.
missing_place <- function(axis, x) {
  length(ask_dimensions(x$ask, x$book)[[axis]]$members) + 1L
}

# The first measure of the report whose figures add up; NULL where it has none.
adding_measure <- function(document, whole) {
  for (name in names(document$said$measures)) {
    measures <- block_measures(list(show = name), document, whole$values, list("measures", name))
    read <- ask_measures(measures, whole$book, list())
    if (is_additive(read[[name]]$tree)) {
      return(list(name = name, measures = measures))
    }
  }
}

nobodys_words <- function(counts, key) {
  lines <- sum(counts$lines)
  if (lines == 0) {
    return(NULL)
  }
  amount <- sum(counts$amount)
  paste0(counted_lines(lines), if (lines == 1) " has" else " have", " no ", plain_words(key),
    if (!is.na(amount)) paste0(" (", plain_amount(amount), ")"),
    if (lines == 1) ": it is on no page" else ": they are on no page")
}

names_words <- function(own, several) {
  vapply(several, function(key) {
    names <- own$name[own$key == key]
    paste0(quoted(key), " is called ", joined_words(quoted(names)), ": the page says ",
      quoted(names[1L]))
  }, "", USE.NAMES = FALSE)
}

# Those that a lookup lists and no order line has.
without_orders_words <- function(keys, book, key) {
  listed <- Filter(function(lookup) identical(unname(lookup$by), key), unname(book$lookups))
  gone <- unique(unlist(lapply(listed, function(lookup) {
    setdiff(member_text(plain_values(lookup_table(lookup, book)[[1L]])), keys)
  })))
  gone <- gone[!is.na(gone)]
  if (length(gone) > 0L) paste0("no page for ", words_of(sort(gone, method = "radix"), 5L),
    ", without orders")
}

# Those that are asked for, by key or by name.
chosen_recipients <- function(rows, wanted, key) {
  if (is.null(wanted)) {
    return(rows)
  }
  if (length(wanted) == 0L) raise("argument", c(
    paste0(argument_said("recipients"), " names nobody."),
    ">" = "Leave it out to build the pages of all."))
  unknown <- setdiff(wanted, c(rows$key, rows$name))
  if (length(unknown) > 0L) raise("argument", c(
    paste0("There is no recipient ", quoted(unknown[1L]), "."),
    advise_word(unknown[1L], unique(c(rows$key, rows$name)), plain_words(key)),
    "i" = "Recipients are those with orders."))
  rows[rows$key %in% wanted | rows$name %in% wanted, , drop = FALSE]
}
