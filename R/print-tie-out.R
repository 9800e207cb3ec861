#' @export
format.drystack_tie_out <- function(x, ...) {
  own_setting()
  done <- x[!is.na(x$ok), ]
  not <- x[is.na(x$ok), ]
  what <- ifelse(done$measure == "", done$check, paste0(done$measure, ": ", done$check))
  shown_text(c(
    paste("Ties out:", nrow(done), if (nrow(done) == 1L) "check" else "checks"),
    paste0(
      "  ", pad(what, max(nchar(what)), "left"), "  ",
      pad(format_figures(done$found), max(nchar(format_figures(done$found))), "right")
    ),
    if (nrow(not) > 0L) paste0("  ", not$measure, " is not checked: ", not$why)
  ))
}

#' @export
print.drystack_tie_out <- function(x, ...) {
  writeLines(styled_lines(format(x)))
  invisible(x)
}
