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
