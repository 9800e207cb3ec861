#' @export
format.drystack_calendar <- function(x, ...) {
  year <- as_period(Sys.Date(), "year", x)
  paste0(x$words$long, "; ", format(year), " began on ", day_words(as.integer(start_of(year))))
}

#' @export
print.drystack_calendar <- function(x, ...) {
  writeLines(format(x))
  invisible(x)
}
