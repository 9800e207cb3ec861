# The columns a daybook takes in: each a vector with one value for each row. R lets objects through
# that are not what they say they are; what is worked out from them would be wrong.

check_taken_columns <- function(columns, rows, what) {
  for (i in seq_along(columns)) check_taken_column(columns[[i]], names(columns)[i], rows, what)
  invisible(columns)
}

check_taken_column <- function(x, name, rows, what) {
  problem <- if (is.data.frame(x)) {
    "It is a table of its own."
  } else if (length(dim(x)) > 1L) {
    paste0("It has ", ncol(x), " columns of its own.")
  } else if (length(x) != rows) {
    paste0("It has ", format_count(length(x)), " values for ",
      format_count(rows), if (rows == 1L) " row." else " rows.")
  } else if (is.factor(x) && !has_whole_codes(x)) {
    "It is a factor with codes that stand for no level."
  }
  if (!is.null(problem)) {
    raise("column", c(
      paste0("Column ", quoted(name), " of ", what,
        " does not hold one value for each row."), "x" = problem,
      ">" = "Make it again as one text, number or date for each row."
    ))
  }
}

has_whole_codes <- function(x) {
  codes <- unclass(x)
  if (!is.integer(codes) || !is.character(levels(x))) {
    return(FALSE)
  }
  # range() would copy them twice.
  known <- suppressWarnings(c(min(codes, na.rm = TRUE), max(codes, na.rm = TRUE)))
  known[1L] >= 1 && known[2L] <= nlevels(x) || all(is.na(codes))
}

# Columns as they are worked with: durations as doubles; 64-bit whole numbers that doubles hold to
# the last digit are doubles.
taken_columns <- function(table) {
  lapply(as.list(table), function(x) plain_whole_numbers(plain_duration(x)))
}

# R keeps durations as whole numbers or as doubles; here they are doubles.
plain_duration <- function(x) {
  if (inherits(x, "difftime") && is.integer(x)) storage.mode(x) <- "double"
  x
}

# 64-bit whole numbers as doubles where these hold them to the last digit.
plain_whole_numbers <- function(x) {
  if (!inherits(x, "integer64")) {
    return(x)
  }
  doubles <- kernel_int64_doubles(x)
  if (any(abs(doubles) >= 2^53, na.rm = TRUE)) x else doubles
}

# What each column is used for: "amount", "date", "condition" or "dimension".
column_facts <- function(book) {
  engine <- engine_of(book)
  kinds <- vapply(names(book$columns), function(name) {
    some <- column_kind(engine, column_node(name, book$columns[[name]]))
    if (inherits(some, c("Date", "POSIXct"))) "date"
    else if (is.logical(some)) "condition"
    else if (is.numeric(some) && !is.factor(some) && !looks_like_code(some, name)) "amount"
    else "dimension"
  }, "")
  data.frame(name = names(book$columns), kind = unname(kinds))
}
