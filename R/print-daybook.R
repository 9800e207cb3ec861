#' @export
format.drystack_daybook <- function(x, ...) {
  own_setting()
  plural <- function(n, word) paste(format_count(n), if (n == 1) word else paste0(word, "s"))
  shown_text(c(
    paste0("Daybook of ", plural(x$rows, "order line"), ", dated by ", x$date),
    paste0(
      "  orders    ", day_words(x$first), " to ", day_words(x$last), if (x$undated > 0) paste0(
        ", ", plural(x$undated, "line"), " without a date"
      )
    ),
    paste0("  as of     ", day_words(x$as_of)),
    paste0("  calendar  ", names(x$calendars), ": ",
      vapply(x$calendars, function(calendar) calendar$words$long, "")),
    if (length(x$scope) > 0L) paste0("  scope     ", condition_texts(x$scope)),
    if (length(x$lookups) > 0L) paste0("  lookup    ", vapply(
      x$lookups, function(lookup) {
        lookup_words(c(lookup[c("name", "by")], unmatched_keys(x, lookup)))
      }, ""
    )),
    if (length(x$records) > 0L) paste0("  record    ", vapply(x$records, record_in_words, "")),
    strwrap(paste(names(x$columns), collapse = ", "), width = 100L,
      initial = "  columns   ", prefix = strrep(" ", 12L))
  ))
}

#' @export
print.drystack_daybook <- function(x, ...) {
  writeLines(styled_lines(format(x)))
  invisible(x)
}

# "targets by month, 1 July 2024 to 30 June 2027"
record_in_words <- function(record) {
  paste0(record$name, " by ", record$per$unit %||% "day", ", ", day_words(record$first), " to ",
    day_words(record$last))
}

#' @export
format.drystack_calendar <- function(x, ...) {
  own_setting()
  today <- as.integer(Sys.Date())
  start <- if ("year" %in% x$units) period_start(today, "year", x) else NA
  if (is.na(start)) {
    return(x$words$long)
  }
  paste0(x$words$long, "; ", period_labels(start, "year", x), " began on ", day_words(start))
}

#' @export
print.drystack_calendar <- function(x, ...) {
  writeLines(shown_text(format(x)))
  invisible(x)
}

#' @export
format.drystack_measures <- function(x, ...) {
  own_setting()
  text <- vapply(x$said, said_label, "")
  names <- rlang::names2(x$said)
  width <- max(nchar(names), 0L)
  paste0(formatC(names, width = -width), ifelse(names == "", "", " = "), text)
}

#' @export
print.drystack_measures <- function(x, ...) {
  writeLines(shown_text(format(x)))
  invisible(x)
}
