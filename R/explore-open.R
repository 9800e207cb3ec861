#' Explore orders in a browser
#'
#' Opens a page in the browser of this machine that shows your request as a sentence in plain words.
#' Click a part of the sentence to change it; the table is below it, the figure beside it. Open a
#' figure of the table to see how it was worked out and which order lines are behind it. The page
#' gives you the same request as R, a command or a standing report.
#'
#' @param book A daybook, or the path of a standing report; by default the orders of
#'   the made-up yard.
#' @param port The port to listen on; by default one that is free.
#' @param host The address to listen on. Beyond `"127.0.0.1"` others on the network reach the page
#'   too, if they know its first address.
#' @param folder The only folder that files are written to.
#' @param open `FALSE`: print the address instead of opening the browser.
#' @return Nothing; it ends with Ctrl-C (in RStudio with the stop sign). Each window of the browser
#'   has a state of its own, and the address of the page holds its request.
#' @section Who can see it: The first address has a token, which is exchanged at once for a cookie
#'   and a key that only the page knows. Every request and every socket is checked against them
#'   first. Nothing that you type is evaluated as R code: it is read as on the command line.
#'   Started again with the same orders and folder, and no port named, the explorer uses the same
#'   address, which is kept for you alone under `tools::R_user_dir("drystack", "data")`.
#' @section Errors: `drystack_error_explore` where the port is taken or the packages \pkg{httpuv}
#'   and \pkg{later} are missing; `drystack_error_standing` for a report that cannot be read.
#' @seealso [rollup()] and [crosstab()] make the same tables in R; [as_standing()] keeps them.
#' @examples
#' if (interactive()) {
#'   explore(daybook(harrowgill()$orders, date = ordered_on))
#' }
#' @export
explore <- function(book = NULL, port = NULL, host = "127.0.0.1", folder = ".",
  open = interactive()) {
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
  later::later(function() {
    lapply(c("ggplot2", "scales", "ragg"), requireNamespace, quietly = TRUE)
  }, 0.5)
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
