#' From exploring to a standing report
#'
#' Writes the YAML of a standing report that builds the same table or page again. Orders and lookups
#' must have come from files read with [read_orders()], or their files be named. Files of this
#' package, such as those of [harrowgill()], are copied beside the report, as it may not lead out of
#' its folder.
#'
#' @param x A [rollup()], [crosstab()], [listing()], [headlines()], [report()], or a figure that
#'   [figure()] drew; of the figures on a page those too.
#' @param file Where to write it. Paths in it are taken from its folder.
#' @param orders The file of the orders, where they were not read with [read_orders()].
#' @param title The title of the report.
#' @param ask Parts that are asked for when it is built, with what they are now as their defaults:
#'   `"as_of"`, `"from"` and `"to"` (of the dates shown), and columns whose members
#'   a condition names.
#' @return `file`, invisibly. Building it gives the same figures.
#' @section Errors: `drystack_error_standing` for what a report cannot hold: orders without a
#'   file, R functions in measures, calendars with settings of their own, plots of other making,
#'   tables of different daybooks, a part to ask for that nothing limits.
#' @seealso [as_command()] for the same as a command; [build_report()] builds it; `drystack build
#'   --help` in a terminal.
#' @examples
#' orders <- read_orders(harrowgill_path("orders.csv"))
#' x <- rollup(daybook(orders, date = ordered_on), by = year, sales = sum(amount))
#' file <- tempfile(fileext = ".yml")
#' as_standing(x, file)
#' writeLines(readLines(file))
#' @export
as_standing <- function(x, file, orders = NULL, title = NULL, ask = character()) {
  own_setting()
  check_text(file, "file")
  check_text(orders, "orders", optional = TRUE)
  check_text(title, "title", optional = TRUE)
  if (!is.character(ask) || anyNA(ask)) raise("argument",
    "{.arg ask} must be names of parts, as text.")
  copy_package_files(book_of_page(x), dirname(file))
  lines <- standing_lines(x, dirname(file), orders, title, ask)
  write_whole(file, function(aside) write_text_lines(lines, aside))
}

# The report as its file: what is asked for, and how to ask for more, where anything is. braced:
# texts with braces, by what they became.
standing_lines <- function(x, folder, orders = NULL, title = NULL, ask = character(),
  braced = list()) {
  said <- document_of(x, folder, orders, title)
  check_no_braces(said)
  said <- with_braces(with_parameters(said, ask), braced)
  c(schema_line(), if (length(ask) > 0L) parameter_hint(), yaml_text(said))
}

parts_to_save <- function(x) if (inherits(x, "drystack_report")) unname(x$parts) else list(x)

tables_to_save <- function(x) {
  tables <- Filter(Negate(is.null), lapply(flat_parts(parts_to_save(x)), saved_table))
  if (length(tables) == 0L) raise(
    "standing", c("There is no table to save.",
      ">" = "Give a table of this package, or a report that has one.")
  )
  tables
}

book_of_page <- function(x) table_book(tables_to_save(x)[[1L]])

document_of <- function(x, folder, orders, title) {
  page <- inherits(x, "drystack_report")
  parts <- parts_to_save(x)
  labels <- if (page) x$labels else ""
  tables <- lapply(flat_parts(parts), saved_table)
  first <- tables_to_save(x)
  book <- table_book(first[[1L]])
  measures <- saved_measures(tables)
  blocks <- Map(saved_part, parts, labels, MoreArgs = list(book = book))
  c(
    list(drystack = 1L, title = title %||% (if (page) x$title) %||%
      sentence_case(table_title(first[[1L]]))),
    if (page) saved_page(x),
    saved_book(book, folder, orders),
    if (length(measures) > 0L) list(measures = measures),
    list(page = unname(blocks))
  )
}

saved_part <- function(part, label, book) {
  if (!inherits(part, "drystack_beside")) {
    return(saved_block(part, label, saved_table(part), book))
  }
  if (nzchar(label)) part$labels[1L] <- if (nzchar(part$labels[1L])) part$labels[1L] else label
  list(beside = unname(Map(saved_part, part$parts, part$labels, MoreArgs = list(book = book))))
}

saved_page <- function(x) {
  usual <- page_look()
  look <- x$look[c("notes", "paper", "orientation")]
  Filter(
    function(v) length(v) > 0L && !identical(v, FALSE),
    c(list(subtitle = x$subtitle, footnotes = as.list(x$footnotes), contents = x$contents),
      look[!mapply(identical, look, usual[names(look)])])
  )
}

# The table a part of a page was made from; a text has none.
saved_table <- function(part) {
  if (is.character(part)) {
    return(NULL)
  }
  table <- if (inherits(part, "ggplot")) attr(part, "drystack")$table else part
  if (!inherits(table, "drystack_table")) {
    raise(
      "standing",
      c(
        "A standing report holds tables, texts, and the figures that {.fn figure} draws.",
        "x" = "This is {type_words(part)}."
      )
    )
  }
  table
}

# In a report braces stand for parameters.
check_no_braces <- function(said) {
  texts <- c(names(unlist(said)), unlist(said))
  odd <- grep("[{}]", texts, value = TRUE)
  if (length(odd) > 0L) {
    raise("standing", c(
      "A standing report has no braces other than those of its parameters.",
      "x" = "Here are some: {examples_of(unique(odd), 3L)}.",
      ">" = "Rename the columns and measures, or give the report a title without braces."
    ))
  }
}

# Titles and texts as they were written, where the report knows all that they speak of.
with_braces <- function(said, braced) {
  known <- c("as_of", names(said$parameters), names(said$measures))
  again <- function(text) {
    written <- if (length(text) == 1L) braced[[as.character(text)]]
    if (!is.null(written) && all(braced_names(written) %in% known)) written else text
  }
  blocks <- function(page) {
    lapply(page, function(block) {
      if (!is.null(block$text)) block$text <- again(block$text)
      if (!is.null(block$beside)) block$beside <- blocks(block$beside)
      block
    })
  }
  for (key in intersect(c("title", "subtitle"), names(said))) said[[key]] <- again(said[[key]])
  said$page <- blocks(said$page)
  said
}

check_saved_texts <- function(texts) {
  for (name in names(texts)) {
    if (grepl("\\bcustom\\(", texts[[name]])) raise_custom(name)
  }
}
