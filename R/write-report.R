#' Write a table to a file
#'
#' @param x A table such as [rollup()] gives.
#' @param path Where to write; its ending says what: `.csv` or `.html`. A file that stands there is replaced, whole or not at
#'   all: the output is written aside and moved into place.
#' @return `path`, invisibly.
#' @section What the files hold: The CSV file (UTF-8, comma, decimal point) has one row for each row of the table and the columns of
#'   [as.data.frame()][rollup()]: figures in full as raw numbers, periods as keys that sort as text in the order of time, unknown
#'   figures empty. The HTML file stands alone: title, standing facts, table and notes, without scripts or other files.
#' @section Errors: `drystack_error_output` for an ending that is not known, a folder that is not there, or a path that cannot be
#'   written; nothing half-written is left.
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on)
#' sales <- rollup(book, by = month, sales = sum(amount))
#' file <- file.path(tempdir(), "sales.html")
#' write_report(sales, file)
#' @export
write_report <- function(x, path) {
  if (!inherits(x, "drystack_table")) {
    raise("argument", c("{.arg x} must be a table of this package.", "x" = "It is {.obj_type_friendly {x}}."))
  }
  check_text(path, "path")
  writer <- writer_for(path)
  lines <- writer(as_sheet(x))
  write_whole(lines, path)
  invisible(path)
}

# The writers by file ending: a new one is a function of a sheet that gives lines, in a file of its own.
writers <- function() list(csv = csv_lines, html = html_lines)

writer_for <- function(path) {
  ending <- tolower(tools::file_ext(path))
  if (!ending %in% names(writers())) {
    raise("output", c(
      paste0("There is no writer for ", quoted(basename(path)), "."),
      ">" = "End the name with one of {.val {paste0('.', names(writers()))}}."
    ))
  }
  writers()[[ending]]
}
