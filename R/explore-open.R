#' Explore orders in a browser
#'
#' Opens a page in the browser of this machine, on which what is asked stands as a sentence of plain
#' words. Each of its parts can be changed where it stands; under it stands the table, beside it the
#' figure; a figure that is opened tells how it came about and which order lines are behind it. What was
#' found becomes R, a command or a standing report.
#'
#' @param book A daybook, or the path of a standing report; by default the orders of the made-up yard.
#' @param port The port to listen on; by default one that is free.
#' @param host The address to listen on. Beyond `"127.0.0.1"` others on the network reach the page too,
#'   if they know its first address.
#' @param folder The only folder that files are written to.
#' @param open `FALSE`: the browser is not opened; the address is told.
#' @return Nothing; it ends with Ctrl-C (in RStudio with the stop sign). Each window of the browser has a
#'   state of its own, and the address of the page holds what it asks.
#' @section Who can see it: The first address has a token, which is changed at once for a cookie and a key
#'   that only the page knows. Every request and every socket is held against them before anything else.
#'   Nothing that is typed is evaluated: it is read as on the command line.
#'   Begun again with the same orders and folder, and no port named, it takes the same address back, which
#'   is kept for you alone under `tools::R_user_dir("drystack", "data")`.
#' @section Errors: `drystack_error_explore` where the port is taken or the packages \pkg{httpuv} and
#'   \pkg{later} are missing; `drystack_error_standing` for a report that cannot be read.
#' @seealso [rollup()] and [crosstab()] make the same tables in R; [as_standing()] keeps them.
#' @examples
#' if (interactive()) {
#'   explore(daybook(harrowgill()$orders, date = ordered_on))
#' }
#' @export
explore <- function(book = NULL, port = NULL, host = "127.0.0.1", folder = ".", open = interactive()) {
  own_setting()
  on_surface("page", function() argument_names("page"))
  opened <- if (is.null(book)) opened_book(demo_book(), "orders.csv") else if (is.character(book)) {
    opened_report(check_text(book, "book"))
  } else {
    check_daybook(book)
    opened_book(book)
  }
  run_explorer(opened, port, host, folder, open)
}

run_explorer <- function(opened, port, host, folder, open) {
  on_surface("page", function() argument_names("page"))
  check_packages(explorer_packages, "The explorer", "explorer", "explore")
  check_text(host, "host")
  check_flag(open, "open")
  check_text(folder, "folder")
  if (!dir.exists(folder)) raise("output", paste0("There is no folder ", quoted(folder), "."))
  inner <- tempfile("explorer", fileext = ".socket")
  at <- opened_gate(opened, port, host, folder, inner)
  on.exit(kernel_close_gate(at$gate))
  guard <- at$guard
  app <- explore_app(opened, guard, normalizePath(folder))
  server <- httpuv::startPipeServer(inner, strtoi("077", 8L), socket_app(app))
  on.exit(server$stop(), add = TRUE)
  # What draws figures is loaded once, not by each process that draws one.
  later::later(function() lapply(c("ggplot2", "scales", "ragg"), requireNamespace, quietly = TRUE), 0.5)
  tell_address(guard)
  if (open) utils::browseURL(guard$address)
  repeat later::run_now(1)
}

explorer_packages <- c("httpuv", "later")

# The port asked for, else one that is free.
port_to_listen <- function(port, host) {
  if (!is.null(port)) {
    return(check_whole(port, "port", 1024L, 65535L))
  }
  rlang::try_fetch(kernel_free_port(host), error = function(e) raise_no_port("any port", host, e))
}

tell_address <- function(guard) {
  tell("exploring at ", guard$address)
  if (!is_loopback(guard$host)) tell("others on the network who know this address see it too")
  tell("Ctrl-C ends it")
}
