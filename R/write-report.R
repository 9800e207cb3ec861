#' Write a table, a report or a figure to a file
#'
#' @param x A table such as [rollup()] gives, a [report()], or a figure such as [figure()] gives.
#' @param path The file to write; its ending chooses the format. An existing file is replaced
#'   completely or not at all: the output is written beside it and then moved into place.
#' @param guard `TRUE`: in CSV, text that begins with `=`, `+`, `-` or `@` gets an apostrophe before
#'   it, so that spreadsheets do not take it for a formula (in xlsx it is always text).
#' @param notes How many notes to show: `"full"`, `"brief"` or `"none"`, as in [report()].
#' @return `path`, invisibly.
#' @section What the files hold:
#'   | ending | holds |
#'   |---|---|
#'   | `.html` | one self-contained page: title, facts, tables, figures, notes; no scripts or other files |
#'   | `.pdf` | the same, printed by Chromium, with page numbers |
#'   | `.xlsx` | a worksheet for each table: real numbers with formats, frozen heads, outline levels |
#'   | `.md`, `.txt` | Markdown (figures inside it as data), plain text at 100 columns |
#'   | `.json` | title, facts, notes, restated periods, raw values of each table, `null` where unknown |
#'   | `.csv` | one table: UTF-8, comma, decimal point; as `as.data.frame(x)` has it, figures in full |
#'   | `.parquet` | one table in the same form, with its types |
#'   | `.png`, `.svg` | a figure, 12.8 by 8 inches; PNG at 100 dots to the inch |
#'
#'   Periods are keys that sort as text in the order of time.
#' @section Errors: `drystack_error_output` for an unknown ending, a missing folder,
#'   a path that cannot be written, a report of several tables as `.csv` or `.parquet`,
#'   PDF without Chromium, or a figure whose device package (ragg, svglite) is not installed;
#'   nothing half-written is left.
#' @seealso [report()] puts several tables on a page; [build_report()] writes pages
#'   again each month.
#' @examples
#' book <- daybook(harrowgill()$orders, date = ordered_on)
#' sales <- rollup(book, by = month, sales = sum(amount))
#' file <- file.path(tempdir(), "sales.html")
#' write_report(sales, file)
#' @export
write_report <- function(x, path, guard = FALSE, notes = "full") {
  own_setting()
  check_text(path, "path")
  check_choice(notes, notes_words, "notes")
  check_flag(guard, "guard")
  if (inherits(x, "ggplot")) {
    writer <- writer_for(path, figure_writers(), "figure")
    write_whole(path, function(aside) writer(function() ggplot2::ggplotGrob(x), aside))
  } else {
    bare <- inherits(x, "drystack_table") && tolower(file_ending(path)) %in% table_formats
    bundle <- if (bare) sheet_bundle(sheet_for_files(x)) else with_notes(as_bundle(x), notes)
    bundle$guard <- guard
    write_bundle(bundle, path)
  }
  invisible(path)
}

write_bundle <- function(bundle, path, what = "table", writers = bundle_writers()) {
  writer <- writer_for(path, writers, what)
  write_whole(path, function(aside) finish_file(writer(bundle, aside)))
}

# The writers by file ending: a new one is a function of a bundle and a path, in a file of
# its own. One that can do a part of its work while others do theirs gives a function that does
# the rest. Several are begun in this order: xlsx has work that needs no drawing yet, PDF is
# printed by another program.
bundle_writers <- function() {
  list(
    xlsx = write_xlsx_file, pdf = write_pdf_file, html = write_html_file,
    md = write_markdown_file, txt = write_text_file, csv = write_csv_file,
    json = write_json_file, parquet = write_parquet_file
  )
}

# These hold one table each.
table_formats <- c("csv", "parquet")

finish_file <- function(begun) if (is.function(begun)) begun()

figure_writers <- function() list(png = write_png_file, svg = write_svg_file)

writer_for <- function(path, writers, what) {
  ending <- tolower(file_ending(path))
  if (!ending %in% names(writers)) {
    raise("output", c(
      paste0("A ", what, " cannot be written as ", quoted(basename(path)), "."),
      ">" = "End the name with one of {.val {paste0('.', names(writers))}}."
    ))
  }
  writers[[ending]]
}
