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
