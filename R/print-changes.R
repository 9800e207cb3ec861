#' @export
format.drystack_changes <- function(x, width = cli::console_width(), rows = Inf, ...) {
  own_setting()
  bundle_lines(as_bundle(x), width, rows)
}

#' @export
print.drystack_changes <- function(x, rows = 40L, ...) {
  writeLines(styled_lines(format(x, rows = rows, ...)))
  invisible(x)
}
