#' @export
format.drystack_table <- function(x, width = NULL, rows = Inf, ..., notes = "full") {
  own_setting()
  check_choice(notes, notes_words, "notes")
  if (is.null(width)) width <- cli::console_width()
  bundle_lines(with_notes(as_bundle(x), notes), width, rows)
}

#' Print a table
#'
#' @param x A table such as [rollup()] gives.
#' @param width The width to fit in columns of text; default that of the console. A table too wide
#'   for it is cut into blocks, each with the columns of the axes.
#' @param rows The most rows to show; a line says how many are left out.
#' @param ... Not used.
#' @return `x`, invisibly.
#' @seealso [write_report()] writes files; [as.data.frame()] gives plain columns.
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on)
#' print(rollup(book, by = year, sales = sum(amount)), width = 60)
#' @export
print.drystack_table <- function(x, width = NULL, rows = 60L, ...) {
  writeLines(styled_lines(format(x, width = width, rows = rows)))
  invisible(x)
}

# The title stands out where the terminal has colours. format() has shown what would steer it.
styled_lines <- function(lines) {
  lines[1L] <- cli::style_bold(lines[1L])
  lines
}

#' @export
print.drystack_command <- function(x, ...) {
  writeLines(unclass(x))
  invisible(x)
}

#' @export
format.drystack_report <- function(x, width = cli::console_width(), rows = Inf, ...) {
  bundle_lines(as_bundle(x), width, rows)
}

#' @export
print.drystack_report <- function(x, rows = 60L, ...) {
  writeLines(styled_lines(format(x, rows = rows, ...)))
  invisible(x)
}

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
