#' @export
format.drystack_look <- function(x, width = cli::console_width(), ...) {
  own_setting()
  plain <- as.data.frame(x)
  class(plain) <- "data.frame"
  for (edge in c("from", "to")) plain[[edge]] <- cli::ansi_strtrim(plain[[edge]], 19L,
    ellipsis = "\u2026")
  values <- ifelse(plain$from == "", ifelse(plain$commonest == "", "",
    paste("mostly", plain$commonest)), paste(plain$from, "to", plain$to))
  plain <- data.frame(column = plain$column, holds = plain$holds, known = plain$known,
    unique = plain$different, values = values, "could be" = plain$could_be, check.names = FALSE)
  others <- vapply(plain[-5L], function(x) {
    max(nchar(if (is.numeric(x)) format_count(x) else x), 0L)
  }, 1L)
  room <- max(18L, width - sum(pmax(others, nchar(names(others)))) - 10L)
  plain$values <- cli::ansi_strtrim(values, room, ellipsis = "\u2026")
  files <- attr(x, "files")
  sheet <- data_sheet(
    paste0(
      if (is.null(files)) "Orders" else basename(files[1L]),
      if (length(files) > 1L) paste0(", one of ", format_count(length(files)), " files"),
      ": ", counted_lines(attr(x, "rows")), ", ", count_words(nrow(plain), "column")
    ),
    character(), character(), plain
  )
  command <- first_command(x)
  c(
    bundle_lines(sheet_bundle(sheet), width), "", reading_lines(attr(x, "reading"), width),
    if (is.null(command)) "No column could be the date: a daybook needs one."
    else c(strwrap(shown_text(likely_first_ask(x)$why), width, exdent = 2L), "",
      "To begin with:", paste0("  ", shown_text(command)))
  )
}

# How the file was read, and what could not be settled.
reading_lines <- function(reading, width) {
  told <- c(
    if (length(reading$told) > 0L) paste0("Reading it: ",
      paste(reading$told, collapse = "; "), "."),
    vapply(reading$findings, finding_words, "")
  )
  if (length(told) > 0L) c(strwrap(shown_text(told), width, exdent = 2L), "")
}

#' @export
print.drystack_look <- function(x, ...) {
  writeLines(styled_lines(format(x, ...)))
  invisible(x)
}
