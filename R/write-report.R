#' Write a table or a figure to a file
#'
#' @param x A table such as [rollup()] gives, or a figure such as [figure()] gives.
#' @param path Where to write; its ending says what: `.csv` or `.html` for a table, `.png` or `.svg` for a figure. A
#'   file that
#'   stands there is replaced, whole or not at all: the output is written aside and moved into place.
#' @return `path`, invisibly.
#' @section What the files hold: The CSV file (UTF-8, comma, decimal point) has one row for each row of the table and
#'   the columns of
#'   [as.data.frame()][rollup()]: figures in full as raw numbers, periods as keys that sort as text in the order of
#'   time, unknown
#'   figures empty. The HTML file stands alone: title, standing facts, table and notes, without scripts or other files.
#'   Figures
#'   are 12.8 by 8 inches; PNG has 100 dots to the inch.
#' @section Errors: `drystack_error_output` for an ending that is not known, a folder that is not there, a path that
#'   cannot be
#'   written, or a figure whose device package (ragg, svglite) is not installed; nothing half-written is left.
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on)
#' sales <- rollup(book, by = month, sales = sum(amount))
#' file <- file.path(tempdir(), "sales.html")
#' write_report(sales, file)
#' @export
write_report <- function(x, path) {
  check_text(path, "path")
  if (inherits(x, "drystack_table")) {
    writer <- writer_for(path, table_writers(), "table")
    sheet <- as_sheet(x)
    write_whole(path, function(aside) writer(sheet, aside))
  } else if (inherits(x, "ggplot")) {
    writer <- writer_for(path, figure_writers(), "figure")
    write_whole(path, function(aside) writer(x, aside))
  } else {
    raise(
      "argument", c("{.arg x} must be a table or a figure of this package.", "x" = "It is {.obj_type_friendly {x}}.")
    )
  }
  invisible(path)
}

# The writers by file ending: a new one is a function of a sheet (or a plot) and a path, in a file of its own.
table_writers <- function() list(csv = write_csv_file, html = write_html_file)

figure_writers <- function() list(png = write_png_file, svg = write_svg_file)

writer_for <- function(path, writers, what) {
  ending <- tolower(tools::file_ext(path))
  if (!ending %in% names(writers)) {
    raise("output", c(
      paste0("A ", what, " cannot be written as ", quoted(basename(path)), "."),
      ">" = "End the name with one of {.val {paste0('.', names(writers))}}."
    ))
  }
  writers[[ending]]
}
