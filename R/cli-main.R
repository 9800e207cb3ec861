#' Run the command line
#'
#' What the `drystack` program calls. Results go to standard output, messages to standard error.
#'
#' @param args The words after the program's name.
#' @return The exit status, invisibly: 0 done, 1 the data or the request is wrong, 2 the command was
#'   mistyped, 3 some pages of a build failed and the others are written, 130 interrupted.
#' @seealso [install_command_line()] puts the program where the shell finds it.
#' @examples
#' run_command(c("rollup", "--help"))
#' run_command(c(
#'   "rollup", "--orders", harrowgill_path("orders.csv"), "--date", "ordered_on", "--by", "year",
#'   "--show", "sales = sum(amount)"
#' ))
#' @export
run_command <- function(args = commandArgs(trailingOnly = TRUE)) {
  own_setting()
  on_surface("shell", function() c(argument_names("shell"), out = "--out"))
  done <- function() {
    status <- dispatch(args)
    if (is.integer(status)) status else 0L
  }
  status <- tryCatch(
    rlang::try_fetch(
      withCallingHandlers(done(), warning = function(w) tryInvokeRestart("muffleWarning")),
      drystack_error_usage = function(e) say_failure(e, 2L),
      drystack_error = function(e) say_failure(e, 1L),
      error = say_fault
    ),
    interrupt = function(e) {
      writeLines("drystack: stopped", stderr())
      130L
    }
  )
  invisible(status)
}

# The commands: each a function of the words after its name.
commands <- function() {
  list(
    look = command_look, check = command_check, rollup = table_command("rollup"),
    crosstab = table_command("crosstab"), listing = table_command("listing"),
    headlines = table_command("headlines"), figure = command_figure, build = command_build,
    changes = command_changes, calendar = command_calendar, keep = command_keep,
    explore = command_explore,
      demo = command_demo
  )
}

dispatch <- function(args) {
  if (length(args) == 0L || args[1L] %in% c("--help", "-h", "help")) {
    return(writeLines(main_help()))
  }
  if (args[1L] == "--version") {
    return(writeLines(paste("drystack", utils::packageVersion("drystack"))))
  }
  if (args[1L] == "--completion") {
    return(writeLines(completion_lines(c(args[-1L], "bash")[1L])))
  }
  if (!args[1L] %in% names(commands())) {
    raise("usage", c(
      paste0("There is no command ", quoted(args[1L]), "."),
      advise_word(args[1L], names(commands()), "commands"),
      "i" = "{.code drystack --help} lists them."
    ))
  }
  commands()[[args[1L]]](args[-1L])
}
