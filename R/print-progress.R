# A bar on a terminal for work of more than two seconds (options(drystack.progress_after = )). The fold tells the option's
# function the part done; outside a terminal there is none.

.onLoad <- function(libname, pkgname) {
  if (interactive() && is.null(getOption("drystack.progress"))) options(drystack.progress = progress_bar())
}

progress_bar <- function() {
  id <- NULL
  function(part) {
    if (is.null(id)) {
      id <<- cli::cli_progress_bar("Reading orders", total = 100, .envir = globalenv(), .auto_close = FALSE)
    }
    cli::cli_progress_update(set = floor(100 * part), id = id)
    if (part > 0.97) {
      cli::cli_progress_done(id = id)
      id <<- NULL
    }
  }
}
