# The date column as whole days. Date columns are used as they are;
# date-times and text are read once.

read_days <- function(x, column, date_order = NULL, undated = character()) {
  if (!is.null(date_order)) check_choice(date_order, c("dmy", "mdy", "ymd"), "date_order")
  if (is.factor(x)) x <- as.character(x)
  if (inherits(x, "Date")) {
    days <- x
  } else if (inherits(x, "POSIXct")) {
    days <- local_days(x)
  } else if (is.character(x)) {
    days <- text_days(x, column, date_order, undated)
  } else if (all(is.na(x))) {
    days <- rep(NA_integer_, length(x))
  } else {
    raise("date", c(
      paste0("Column ", quoted(column), " holds no dates."),
      "x" = "It is {.obj_type_friendly {x}}: {examples_of(unique(x))}.",
      ">" = "Name another column, or turn it into dates first."
    ))
  }
  days
}

# Text dates, each distinct text read once.
text_days <- function(x, column, date_order, undated) {
  coded <- kernel_encode(x, thread_count())
  distinct <- kernel_trimmed(x[coded$first])
  blank <- distinct == "" | distinct %in% undated
  days <- if (is.null(date_order)) iso_days(distinct) else ordered_days(distinct, date_order)
  bad <- which(is.na(days) & !blank)
  if (length(bad) > 0L) raise_bad_dates(column, coded, distinct, bad, date_order, none = all(is.na(days)))
  days[coded$codes]
}

raise_bad_dates <- function(column, coded, distinct, bad, date_order, none) {
  rows <- which(coded$codes %in% bad)
  where <- "{examples_of(distinct[bad])} at {rows_of(rows)}."
  slashed <- grepl("^[0-9]{1,4}[/.-][0-9]{1,2}[/.-][0-9]{1,4}", distinct[bad])
  if (is.null(date_order) && any(slashed)) {
    fits <- vapply(c("dmy", "mdy", "ymd"), function(order) {
      !anyNA(ordered_days(distinct[bad][slashed], order))
    }, logical(1L))
    orders <- if (any(fits)) names(fits)[fits] else names(fits)
    choice <- paste0("date_order = \"", orders, "\"", collapse = " or ")
    raise("date", c(
      paste0("The order of day and month in column ", quoted(column), " is not guessed."),
      "x" = where,
      ">" = if (sum(fits) > 1L) paste0("Both ways can be read: say ", choice, ".")
        else paste0("Say ", choice, ".")
    ))
  }
  raise("date", c(
    paste0("Column ", quoted(column), if (none) " holds no dates." else " holds text that is no date."),
    "x" = where,
    ">" = paste(
      "Write dates as year-month-day (\"2026-08-31\"), name another column, or list such texts",
      "in {.arg undated}."
    )
  ))
}

# Dates of digits in a stated order, with four-digit years and any of / . - between the parts.
ordered_days <- function(x, date_order) {
  year <- "([0-9]{4})"
  two <- "([0-9]{1,2})"
  parts <- list(dmy = c(two, two, year), mdy = c(two, two, year), ymd = c(year, two, two))[[date_order]]
  pattern <- paste0("^", paste(parts, collapse = "[/.-]"), "([T ][0-9:.,]+ ?(Z|[+-][0-9:]+)?)?$")
  days <- rep(NA_integer_, length(x))
  fits <- grepl(pattern, x)
  part <- function(letter) {
    as.integer(sub(pattern, paste0("\\", regexpr(letter, date_order)), x[fits]))
  }
  days[fits] <- checked_days(part("y"), part("m"), part("d"))
  days
}
