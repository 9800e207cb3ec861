# A bar on a terminal for work of more than two seconds (options(drystack.progress_after = )). The
# fold tells the option's function the part done; outside a terminal there is none.

.onLoad <- function(libname, pkgname) {
  watched <- interactive() || isatty(stderr())
  if (watched && is.null(getOption("drystack.progress")))
    options(drystack.progress = progress_bar())
}

# A bar over the pages of a build, on a terminal; gives a function that is called with each step
# done. It goes with the function that calls this.
build_progress <- function(steps) {
  if (!interactive() && !isatty(stderr())) {
    return(function() NULL)
  }
  id <- cli::cli_progress_bar("Building reports", total = steps, .envir = rlang::caller_env())
  function() cli::cli_progress_update(id = id)
}

progress_bar <- function() {
  id <- NULL
  function(part) {
    if (is.null(id)) {
      id <<- cli::cli_progress_bar("Reading orders", total = 100, .envir = globalenv(),
        .auto_close = FALSE)
    }
    cli::cli_progress_update(set = floor(100 * part), id = id)
    if (part > 0.97) {
      cli::cli_progress_done(id = id)
      id <<- NULL
    }
  }
}

# A word to the person at the terminal.
tell <- function(...) writeLines(shown_text(paste0(...)), stderr())
