#' @export
format.drystack_explained <- function(x, width = cli::console_width(), ...) {
  own_setting()
  steps <- x$steps
  indent <- strrep("  ", steps$depth + 1L)
  expression <- paste(steps$expression, "=", step_figures(steps))
  lines <- unlist(lapply(seq_len(nrow(steps)), function(i) {
    c(
      strwrap(shown_text(expression[i]), width, initial = indent[i],
        prefix = paste0(indent[i], "    ")),
      if (nzchar(steps$words[i])) {
        strwrap(shown_text(steps$words[i]), width, initial = paste0(indent[i], "  "),
          prefix = paste0(indent[i], "    "))
      }
    )
  }))
  c(strwrap(shown_text(paste0(x$title, " = ", figure_text(x))), width),
    lines, shown_text(as.character(x$note)))
}

# Amounts in full, so that they can be followed.
step_figures <- function(steps) {
  shown <- ifelse(steps$part, format_by(steps$value, percentage()),
    vapply(steps$value, format_by, "", format = NULL))
  ifelse(steps$text == "", shown, steps$text)
}

#' @export
print.drystack_explained <- function(x, ...) {
  writeLines(styled_lines(format(x, ...)))
  invisible(x)
}

figure_text <- function(x) {
  if (is.numeric(x$value)) format_by(x$value, x$format) else if (is.na(x$value))
    unknown_face else as.character(x$value)
}
