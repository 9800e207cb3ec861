#' @export
format.drystack_build <- function(x, ...) {
  own_setting()
  c(
    if (x$changed) paste("wrote", setdiff(x$files, x$unchanged), recycle0 = TRUE)
    else c("nothing has changed; these files are up to date", paste(" ", x$files)),
    unchanged_words(length(x$unchanged)), x$told, paste("attention:", x$warnings, recycle0 = TRUE),
    vapply(x$failures, function(one) paste0("failed: ", recipient_words(one), ": ", one$why), "")
  )
}

#' @export
print.drystack_build <- function(x, ...) {
  writeLines(shown_text(format(x)))
  invisible(x)
}

unchanged_words <- function(n) {
  if (n > 0L) paste(count_words(n, "file"), if (n == 1L) "stands as it would be written again"
    else "are up to date")
}

recipient_words <- function(one) {
  if (identical(one$name, one$key)) one$name else paste0(one$name, " (", one$key, ")")
}
