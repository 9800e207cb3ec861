#' Run the command line
#'
#' What the `drystack` program calls. Results go to standard output, messages to standard error.
#'
#' @param args The words after the program's name.
#' @return The exit status, invisibly: 0 done, 1 the data or the request is wrong, 2 the command was
#'   mistyped, 130 it was interrupted.
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
  on_surface("shell")
  done <- function() {
    dispatch(args)
    0L
  }
  status <- tryCatch(
    rlang::try_fetch(
      withCallingHandlers(done(), warning = function(w) tryInvokeRestart("muffleWarning")),
      drystack_error_usage = function(e) say_failure(e, 2L), drystack_error = function(e) say_failure(e, 1L),
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
    look = command_look, check = command_check, rollup = command_rollup, crosstab = command_crosstab,
    listing = command_listing, headlines = command_headlines, figure = command_figure, build = command_build,
    changes = command_changes, calendar = command_calendar, keep = command_keep, explore = command_explore,
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

main_help <- function() {
  c(
    "drystack: period totals and comparisons from orders in files and databases",
    "",
    "  drystack look       what is in a file, and a first command to run on it",
    "  drystack check      what to know before trusting an export",
    "  drystack rollup     monthly, quarterly and year-to-date totals by any columns",
    "  drystack crosstab   dimensions and periods down the side and across the top",
    "  drystack listing    order lines under their groups, with totals at each break",
    "  drystack headlines  single figures with their comparison",
    "  drystack figure     draw a table",
    "  drystack build      build a standing report again",
    "  drystack changes    what changed between two exports, and what it moved",
    "  drystack calendar   the periods of a calendar, as a table or a picture",
    "  drystack keep       fold orders once, and ask what was kept instead",
    "  drystack explore    look at orders by hand in the browser, as a sentence that can be changed",
    "  drystack demo       run the example on made-up orders and write its files",
    "",
    "  drystack COMMAND --help    what a command takes, with an example",
    "  drystack --version         the version",
    "  drystack --completion bash|zsh    completion for a shell: eval \"$(drystack --completion bash)\"",
    "",
    "Results go to standard output, messages to standard error. Exit status: 0 done, 1 the data or the",
    "request is wrong, 2 the command was mistyped, 130 it was interrupted."
  )
}

# What no error of ours foresees.
say_fault <- function(e) {
  tell("drystack: this should not have happened.")
  tell("  ", gsub("\n", " ", conditionMessage(e)))
  tell("  Please report it with the command and its files.")
  1L
}

say_failure <- function(e, status) {
  writeLines(paste0("drystack: ", rlang::cnd_message(e)), stderr())
  status
}
