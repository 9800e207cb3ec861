#' A table as a command
#'
#' The command that gives the same table in a terminal. Orders and lookups must have come from
#' files, by their paths, or from [read_orders()].
#'
#' @param x A [rollup()], [crosstab()], [listing()] or [headlines()].
#' @param orders The file of the orders, where they were not read with [read_orders()].
#' @return The command, one text that prints as it is typed: an option a line. Paths in it are taken
#'   from the working directory.
#' @section Errors: `drystack_error_standing` for what a command cannot say: orders without a file,
#'   R functions in measures, calendars with settings of their own.
#' @seealso [as_standing()] for the same as a standing report.
#' @examples
#' orders <- read_orders(harrowgill_path("orders.csv"))
#' as_command(rollup(daybook(orders, date = ordered_on), by = year, sales = sum(amount)))
#' @export
as_command <- function(x, orders = NULL) {
  own_setting()
  check_table(x)
  check_text(orders, "orders", optional = TRUE)
  said <- document_of(x, getwd(), orders, NULL)
  structure(command_of_document(said, names(table_book(x)$columns)), class = "drystack_command")
}

# A document with one block as a command.

command_of_document <- function(said, columns) {
  check_calendar_names(said$calendars)
  kind <- names(said$page[[1L]])
  options <- options_of_document(spoken_out(with_names_of_axes(said, columns)), kind)
  words <- unlist(lapply(options, function(one) {
    if (length(one$texts) == 0L) paste0("--", one$option)
      else paste0("--", one$option, " ", shQuote(one$texts, "sh"))
  }))
  paste(c(paste("drystack", kind), words), collapse = " \\\n  ")
}

# On the command line a calendar has the name of its kind.
check_calendar_names <- function(calendars) {
  odd <- names(calendars)[names(calendars) != sub(":.*$", "", unlist(calendars))]
  if (length(odd) > 0L) raise("standing", c("A command names calendars by their kind.",
    "x" = paste0("Here {examples_of(odd)} {if (length(odd) == 1L) 'has a name' else 'have ",
      "names'} of its own.")))
}

# Axes that are columns as an expression names them.
with_names_of_axes <- function(said, columns) {
  block <- said$page[[1L]][[1L]]
  for (field in fields_of("block", names(said$page[[1L]]))) {
    if (field$type != "axes" || is.null(block[[field$name]])) next
    block[[field$name]] <- lapply(block[[field$name]], function(word) {
      if (word %in% columns) name_text(word) else word
    })
  }
  said$page[[1L]][[1L]] <- block
  said
}

# The block with its measures where it shows them, each as an expression; those that are only spoken
# of are put in where they are: R and commands show all they are given.
spoken_out <- function(said) {
  block <- said$page[[1L]][[1L]]
  shown <- unlist(block$show)
  meant <- list()
  expr_of <- function(name, text) {
    do.call(substitute, list(read_expression(text, name)$expr, meant))
  }
  for (name in setdiff(names(said$measures), shown)) {
    one <- said$measures[[name]]
    meant[[name]] <- expr_of(name, if (is.list(one)) one$show else one)
  }
  put_in <- function(text) if (length(meant) == 0L) text else deparse1(expr_of("show", text))
  block$show <- lapply(shown, function(name) {
    paste(name_text(name), "=", put_in(measure_call_text(said$measures[[name]])))
  })
  for (rule in c("sort", "keep")) block[[rule]] <- lapply(block[[rule]], put_in)
  said$page[[1L]][[1L]] <- Filter(function(value) length(value) > 0L, block)
  said$measures <- NULL
  said
}

# A measure as it would be written: measure(sum(net), label = "Net sales").
measure_call_text <- function(one) {
  if (!is.list(one)) {
    return(one)
  }
  text <- function(key) if (!is.null(one[[key]])) paste(key, "=", value_text(one[[key]]))
  code <- function(key, value = one[[key]]) if (!is.null(value)) paste(key, "=", value)
  marks <- if (!is.null(one$marks)) arguments_text("c", unlist(one$marks))
  arguments_text("measure", c(one$show, text("label"), code("format"), code("total"),
    text("description"), code("marks", marks), if (isTRUE(one$bar)) "bar = TRUE", code("history")))
}
