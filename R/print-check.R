#' @export
format.drystack_check <- function(x, width = cli::console_width(), ...) {
  own_setting()
  problems <- x[x$level == "problem", ]
  notes <- x[x$level == "note", ]
  lines <- function(found, mark) {
    unlist(lapply(seq_len(nrow(found)), function(i) {
      head <- paste0(
        mark, " ", found$check[i], if (nzchar(found$column[i]))
          paste0(" (", found$column[i], ")"), ": ", format_count(found$count[i])
      )
      c(
        strwrap(shown_text(paste0(head, ". ", sentence_case(found$examples[i]))),
          width, exdent = 4L),
        strwrap(shown_text(found$advice[i]), width, indent = 4L, exdent = 4L)
      )
    }))
  }
  n <- nrow(problems)
  c(
    if (n == 0L) "No problem found" else paste(n, if (n == 1L) "thing" else "things",
      "to look into"),
    lines(problems, "!"), if (nrow(notes) > 0L) c("", "Good to know"), lines(notes, "-")
  )
}

#' @export
print.drystack_check <- function(x, ...) {
  writeLines(styled_lines(format(x, ...)))
  invisible(x)
}
