#' @export
format.drystack_build <- function(x, ...) {
  own_setting()
  c(
    if (x$changed) paste("wrote", x$files) else c("nothing has changed: these stand as they were built",
      paste(" ", x$files)),
    x$told, if (length(x$warnings) > 0L) paste("attention:", x$warnings)
  )
}

#' @export
print.drystack_build <- function(x, ...) {
  writeLines(shown_text(format(x)))
  invisible(x)
}
