#' @export
format.drystack_explained <- function(x, width = cli::console_width(), ...) {
  steps <- x$steps
  indent <- strrep("  ", steps$depth + 1L)
  expression <- ifelse(steps$figure == "", steps$expression, paste(steps$expression, "=", steps$figure))
  lines <- unlist(lapply(seq_len(nrow(steps)), function(i) {
    c(
      strwrap(shown_text(expression[i]), width, initial = indent[i], prefix = paste0(indent[i], "    ")),
      if (nzchar(steps$words[i])) {
        strwrap(shown_text(steps$words[i]), width, initial = paste0(indent[i], "  "), prefix = paste0(indent[i], "    "))
      }
    )
  }))
  c(strwrap(paste0(x$title, " = ", x$shown), width), lines, x$figure)
}

#' @export
print.drystack_explained <- function(x, ...) {
  writeLines(styled_lines(format(x, ...)))
  invisible(x)
}
